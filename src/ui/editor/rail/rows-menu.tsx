import { Rows3 } from 'lucide-react'
import { DropdownMenu } from 'radix-ui'
import type { ReactNode } from 'react'
import { COMMANDS, keysOf, type CommandId, type CommandInfo } from '../../parts/commands/commands'
import { useAppFields } from '../../parts/hooks'
import { keyWords } from '../../parts/commands/key-words'
import { MENU, MENU_ITEM } from '../../parts/menu-look'
import { useCommands } from '../parts/command-context'
import { factorWords } from '../drawing/sound-scale'
import { unlessInDialog } from '../../parts/focus-return'

/** The menu of how high rows are and how large sound is drawn in them. */
export function RowsMenu() {
  const { keymap, singleKeys, soundScale, several } = useAppFields(
    ({ preferences: { keymap, singleKeys, soundScale }, selection: { trackIds } }) => ({
      keymap,
      singleKeys,
      soundScale,
      several: trackIds.length,
    }),
  )
  const runs = useCommands()
  const item = (id: CommandId, text: ReactNode, again = false) => {
    const info = COMMANDS.find((c) => c.id === id) as CommandInfo
    const [keys] = keysOf(info, keymap, singleKeys)
    return (
      <DropdownMenu.Item
        className={MENU_ITEM}
        onSelect={(event) => {
          // What is pressed several times leaves the menu open.
          if (again) event.preventDefault()
          runs[id]()
        }}
      >
        {text}
        {keys && <span className="font-mono text-2xs text-soft">{keyWords(keys)}</span>}
      </DropdownMenu.Item>
    )
  }
  const whose = several ? (several === 1 ? 'the selected track' : `${several} selected tracks`) : 'all tracks'
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger
        aria-label="Heights of rows and of sound"
        title="How high rows are, and how large sound is drawn"
        className="flex h-6 w-6 items-center justify-center rounded-md hover:bg-fold"
      >
        <Rows3 size={14} />
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content onCloseAutoFocus={unlessInDialog} align="start" sideOffset={4} className={MENU}>
          <DropdownMenu.Label className="px-3 py-1 text-xs text-soft">Rows of {whose}</DropdownMenu.Label>
          {item('rows-taller', 'Taller', true)}
          {item('rows-shorter', 'Shorter', true)}
          {item('fit-tracks', 'Fit all tracks')}
          {item('rows-usual', 'All of the usual height')}
          <DropdownMenu.Separator className="my-1 h-px bg-fold" />
          <DropdownMenu.Label className="px-3 py-1 text-xs text-soft">
            How sound is drawn, {factorWords(soundScale.factor)}; what is heard stays
          </DropdownMenu.Label>
          {item('sound-larger', 'Larger', true)}
          {item('sound-smaller', 'Smaller', true)}
          {item('fit-sound', 'As large as the loudest fits')}
          {item('sound-plain', 'Plain size')}
          {item('sound-decibels', soundScale.decibels ? 'Linear instead of decibels' : 'In decibels')}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  )
}
