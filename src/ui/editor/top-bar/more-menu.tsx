import { Ellipsis } from 'lucide-react'
import { DropdownMenu } from 'radix-ui'
import { COMMANDS, type CommandId, type CommandInfo } from '../../parts/commands/commands'
import { MENU, MENU_LINE } from '../../parts/menu-look'
import { useKeyWords } from '../../parts/commands/use-key-words'
import { useCommands } from '../parts/command-context'
import { unlessInDialog } from '../../parts/focus-return'

/** What the bar leaves out in a narrow window: always, and where it is very narrow. */
const NARROW: CommandId[] = ['equal-loudness', 'tempo', 'stop-returns', 'save-copy']
const VERY_NARROW: CommandId[] = [
  'to-start',
  'loop',
  'unshaped',
  'redo',
  'versions',
  'commands',
  'ground',
  'help',
]

/** The menu of all that a narrow window has no room for. */
export function MoreMenu() {
  const runs = useCommands()
  const keys = useKeyWords()
  const item = (id: CommandId, className: string) => {
    const command: CommandInfo = COMMANDS.find((c) => c.id === id)!
    return (
      <DropdownMenu.Item
        key={id}
        // Once the menu is gone: what is run may open a dialog.
        onSelect={() => void requestAnimationFrame(() => runs[id]())}
        className={`${MENU_LINE} ${className}`}
      >
        {command.title}
        <span className="font-mono text-2xs text-soft">{keys.of(id)}</span>
      </DropdownMenu.Item>
    )
  }
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger
        aria-label="More"
        title="More"
        className="hidden h-8 w-9 items-center justify-center rounded-lg border border-seam bg-linen hover:bg-white max-[1100px]:inline-flex"
      >
        <Ellipsis size={17} />
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content onCloseAutoFocus={unlessInDialog} align="end" sideOffset={6} className={MENU}>
          {NARROW.map((id) => item(id, 'flex'))}
          {VERY_NARROW.map((id) => item(id, 'hidden max-[900px]:flex'))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  )
}
