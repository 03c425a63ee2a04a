import { createContext, useContext } from 'react'
import type { CommandId } from '../../parts/commands/commands'

/** What each command does; the event is there when a key runs it. */
export type CommandRuns = Record<CommandId, (event?: KeyboardEvent) => void>

const Runs = createContext<CommandRuns | null>(null)

/** Gives the parts of the editor its commands. */
export const CommandsProvider = Runs.Provider

/** What the editor's commands do, for buttons and menus. */
export function useCommands(): CommandRuns {
  const runs = useContext(Runs)
  if (!runs) throw new Error('there are no commands outside of the editor')
  return runs
}
