import { Command } from 'cmdk'
import { Dialog } from 'radix-ui'
import { commandScore } from '../../parts/commands/command-score'
import { COMMAND_GROUPS, COMMANDS, keysOf, type CommandInfo } from '../../parts/commands/commands'
import { useAppFields } from '../../parts/hooks'
import { keyWords } from '../../parts/commands/key-words'
import type { CommandRuns } from '../parts/command-context'
import { returnFocus } from '../../parts/focus-return'

/** Finds every command by the trade's words as well as ours, shows its keys, and runs it. */
export function CommandSearch({ runs, onClose }: { runs: CommandRuns; onClose(): void }) {
  const { keymap, singleKeys } = useAppFields(({ preferences: { keymap, singleKeys } }) => ({
    keymap,
    singleKeys,
  }))
  return (
    <Dialog.Root open onOpenChange={(open) => !open && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/30" />
        <Dialog.Content
          aria-describedby={undefined}
          // The keys are those of the list; the editor hears none of them.
          onKeyDown={(event) => event.stopPropagation()}
          onCloseAutoFocus={returnFocus}
          className="fixed top-[12vh] left-1/2 z-50 flex max-h-[70vh] w-[36rem] max-w-[calc(100vw-2rem)] -translate-x-1/2 flex-col overflow-hidden rounded-2xl border border-seam bg-linen shadow-2xl"
        >
          <Dialog.Title className="sr-only">Find a command</Dialog.Title>
          <Command
            loop
            className="flex min-h-0 flex-col"
            label="Commands"
            filter={(value, search) => {
              const info: CommandInfo | undefined = COMMANDS.find((c) => c.id === value)
              return info ? commandScore(info.title, `${info.words ?? ''} ${info.group}`, search) : 0
            }}
          >
            <Command.Input
              // In the same moment: what is typed at once belongs to it.
              autoFocus
              placeholder="What do you want to do? Fade, gain, duck, split…"
              className="h-12 w-full shrink-0 border-b border-seam bg-transparent px-5 text-base outline-none placeholder:text-soft"
            />
            <Command.List className="min-h-0 overflow-auto p-2">
              <Command.Empty className="px-3 py-6 text-center text-soft">
                Nothing is called so. Try another word for it, such as “level” or “join”.
              </Command.Empty>
              {COMMAND_GROUPS.map((group) => (
                <Command.Group
                  key={group}
                  heading={group}
                  className="[&_[cmdk-group-heading]]:px-3 [&_[cmdk-group-heading]]:pt-2 [&_[cmdk-group-heading]]:pb-1 [&_[cmdk-group-heading]]:text-xs [&_[cmdk-group-heading]]:text-soft"
                >
                  {COMMANDS.filter(
                    (c: CommandInfo) => c.group === group && !c.onlyByKey && c.id !== 'commands',
                  ).map((command) => {
                    const info: CommandInfo = command
                    return (
                      <Command.Item
                        key={command.id}
                        value={command.id}
                        onSelect={() => {
                          onClose()
                          // Once the dialog is gone: what is run may open another one.
                          requestAnimationFrame(() => runs[command.id]())
                        }}
                        className="flex cursor-pointer items-center justify-between gap-4 rounded-lg px-3 py-1.5 data-[selected=true]:bg-fold"
                      >
                        <span>{info.title.replace(/: (hold|the same|while).*/, '')}</span>
                        <span className="flex shrink-0 gap-1.5 font-mono text-xs text-soft">
                          {keysOf(info, keymap, singleKeys)
                            .slice(0, 1)
                            .map((keys) => (
                              <kbd key={keys}>{keyWords(keys)}</kbd>
                            ))}
                        </span>
                      </Command.Item>
                    )
                  })}
                </Command.Group>
              ))}
            </Command.List>
          </Command>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  )
}
