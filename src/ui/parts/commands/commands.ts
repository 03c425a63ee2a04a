import type { CommandEntry } from './command-entry'
import { ARRANGING } from './groups/arranging'
import { AUTOMATION } from './groups/automation'
import { EDGES } from './groups/edges'
import { FINDING } from './groups/finding'
import { HANDS } from './groups/hands'
import { LEVELS } from './groups/levels'
import { PLAYING } from './groups/playing'
import { SELECTING } from './groups/selecting'
import { SESSION } from './groups/session'
import { TRACKS } from './groups/tracks'
import { VIEW } from './groups/view'

/** The commands of the editor by what they are about, in the order of the help and of the command search. What they do is in `editor/commands`. */
const COMMAND_LISTS = {
  'Playing and listening': PLAYING,
  'Finding the place': FINDING,
  Selecting: SELECTING,
  Levels: LEVELS,
  'Edges and joins': EDGES,
  Arranging: ARRANGING,
  Automation: AUTOMATION,
  Tracks: TRACKS,
  View: VIEW,
  Hands: HANDS,
  Session: SESSION,
} as const satisfies Record<string, readonly CommandEntry[]>

export type CommandGroup = keyof typeof COMMAND_LISTS

export const COMMAND_GROUPS = Object.keys(COMMAND_LISTS) as CommandGroup[]

/** Something that the editor can do, as it is listed in the help, found by the command search and bound to keys. */
export interface CommandInfo extends CommandEntry {
  group: CommandGroup
}

/** All commands of the editor. */
export const COMMANDS: readonly (CommandInfo & { id: CommandId })[] = COMMAND_GROUPS.flatMap((group) =>
  COMMAND_LISTS[group].map((entry) => ({ ...(entry as CommandEntry & { id: CommandId }), group })),
)

/** The commands of a group by their ids, as `COMMAND_LISTS` has them. */
export type CommandIdOf<Group extends CommandGroup> = (typeof COMMAND_LISTS)[Group][number]['id']

export type CommandId = CommandIdOf<CommandGroup>

/** The keys of each command, where the person chose other ones than the usual: none switches it off. */
export type Keymap = Readonly<Record<string, readonly string[]>>

/** Whether a combination is a letter or a sign by itself, which can be switched off altogether (WCAG 2.1.4). */
export const isSingleCharacter = (combination: string) =>
  /^(shift\+)?([a-z]|bracketleft|bracketright|slash)$/.test(combination)

/** The keys of a command. */
export function keysOf(command: CommandInfo, keymap: Keymap, singleKeys: boolean): readonly string[] {
  const keys = keymap[command.id] ?? command.keys ?? []
  return singleKeys ? keys : keys.filter((k) => !isSingleCharacter(k))
}

/** The command that has a combination, other than the given one. */
export const commandWith = (combination: string, keymap: Keymap, except: string): CommandInfo | undefined =>
  COMMANDS.find((c: CommandInfo) => c.id !== except && keysOf(c, keymap, true).includes(combination))
