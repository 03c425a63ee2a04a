import { useMemo } from 'react'
import { COMMANDS, keysOf, type CommandId, type CommandInfo } from './commands'
import { useAppFields } from '../hooks'
import { keyWords } from './key-words'

/**
 * The first key of a command as it stands on this machine's keys: "Ctrl Z", or "" where it has none; `inBrackets` is for
 * titles: " (Ctrl Z)".
 */
export function useKeyWords(): KeyWords {
  const { keymap, singleKeys } = useAppFields(({ preferences: { keymap, singleKeys } }) => ({
    keymap,
    singleKeys,
  }))
  return useMemo(() => keyWordsOf({ keymap, singleKeys }), [keymap, singleKeys])
}

/** How keys are written: see `useKeyWords`. */
export interface KeyWords {
  of(id: CommandId): string
  inBrackets(id: CommandId): string
  /** A text with the keys of commands that stand in it as `[command]`; where one has none, the name of the command. */
  in(text: string): string
}

/** The same for chosen keys that are given. */
export function keyWordsOf({
  keymap,
  singleKeys,
}: {
  keymap: Parameters<typeof keysOf>[1]
  singleKeys: boolean
}): KeyWords {
  const commandOf = (id: CommandId): CommandInfo => COMMANDS.find((c) => c.id === id)!
  const of = (id: CommandId) => {
    const [first] = keysOf(commandOf(id), keymap, singleKeys)
    return first === undefined ? '' : keyWords(first)
  }
  return {
    of,
    inBrackets: (id) => (of(id) ? ` (${of(id)})` : ''),
    in: (text) =>
      text.replace(/\[([a-z-]+)\]/g, (_, id: CommandId) => of(id) || `the key of “${commandOf(id).title}”`),
  }
}
