import { useMemo } from 'react'
import { COMMANDS, keysOf, type CommandId, type CommandInfo } from './commands'
import { useAppFields } from './hooks'
import { keyWords } from './key-words'

/**
 * The first key of a command as it stands on this machine's keys: "Ctrl Z", or "" where it has none; `inBrackets` is for
 * titles: " (Ctrl Z)".
 */
export function useKeyWords(): { of(id: CommandId): string; inBrackets(id: CommandId): string } {
  const { keymap, singleKeys } = useAppFields(({ view: { keymap, singleKeys } }) => ({ keymap, singleKeys }))
  return useMemo(() => {
    const of = (id: CommandId) => {
      const command: CommandInfo = COMMANDS.find((c) => c.id === id)!
      const [first] = keysOf(command, keymap, singleKeys)
      return first === undefined ? '' : keyWords(first)
    }
    return { of, inBrackets: (id) => (of(id) ? ` (${of(id)})` : '') }
  }, [keymap, singleKeys])
}
