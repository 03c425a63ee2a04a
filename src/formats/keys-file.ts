import * as z from 'zod/mini'
import { list, text } from '../core/model/schema-fields'
import { boundsBreach } from '../core/model/check/bounds'

/** The keys of commands, by their ids, as they are kept and exported. */
export const keymapSchema = z.record(text(40), list(z.string().check(z.regex(/^[a-z0-9+]{1,40}$/)), 4))

/** Keys that a person chose, as they are taken to another browser. */
export interface ChosenKeys {
  /** Whether letters and signs by themselves are keys. */
  singleKeys: boolean
  /** The keys of commands, by their ids. */
  keymap: Record<string, string[]>
}

const KIND = 'oaken-thread/keys'
const schema = z.object({ kind: z.literal(KIND), singleKeys: z.boolean(), keymap: keymapSchema })

/** Characters of a file with keys, at most. */
export const MOST_KEYS_TEXT = 1_000_000

/** The keys as the text of a file. */
export const keysFile = ({ singleKeys, keymap }: ChosenKeys): string =>
  JSON.stringify({ kind: KIND, singleKeys, keymap }, null, 2)

/** The keys in the text of a file, for commands that there are; null where it holds none that were saved here. */
export function readKeysFile(text: string, commands: ReadonlySet<string>): ChosenKeys | null {
  if (text.length > MOST_KEYS_TEXT) return null
  let data: unknown
  try {
    data = JSON.parse(text)
  } catch {
    return null
  }
  if (boundsBreach(data)) return null
  const read = schema.safeParse(data)
  if (!read.success) return null
  const { singleKeys, keymap } = read.data
  return {
    singleKeys,
    keymap: Object.fromEntries(Object.entries(keymap).filter(([id]) => commands.has(id))),
  }
}
