import { breach, type Breach } from './breach'
import { LIMITS } from '../session'
import { shownText } from './shown'

/**
 * Bounds of plain JSON that may be a session, far above what sessions have: they are asked before anything else, so that what is
 * made to be huge costs next to nothing.
 */
export const JSON_BOUNDS = {
  /** Bytes of a session file. */
  bytes: 256 * 1024 ** 2,
  /** Objects and lists inside each other. */
  depth: 40,
  /** Characters of a text. */
  text: 10_000,
  /** Entries of a list or an object, but for those that are named below. */
  entries: 10_000,
} as const

const MOST_ENTRIES: Readonly<Record<string, number>> = {
  tracks: LIMITS.tracks,
  buses: LIMITS.buses,
  regions: LIMITS.regions,
  sources: LIMITS.sources,
  gainThreads: LIMITS.regions,
  crossfades: LIMITS.regions,
  knots: LIMITS.knots,
  // Of a lane that gives way: its knots of before.
  base: LIMITS.knots,
}

/** The most entries of what is filed under a key. */
export const mostEntries = (key: string): number =>
  Object.hasOwn(MOST_ENTRIES, key) ? MOST_ENTRIES[key]! : JSON_BOUNDS.entries

/** The first bound that plain JSON exceeds; null where it keeps them all. Goes through it without a stack. */
export function boundsBreach(input: unknown): Breach | null {
  if (typeof input !== 'object' || input === null) return null
  const ahead: { value: object; key: string; depth: number }[] = [{ value: input, key: '', depth: 1 }]
  for (let next = ahead.pop(); next; next = ahead.pop()) {
    const { value, key, depth } = next
    const entity = key === '' ? 'session' : shownText(key, 40)
    if (depth > JSON_BOUNDS.depth)
      return breach(
        'limits',
        entity,
        depth,
        `objects inside each other; at most ${JSON_BOUNDS.depth} are taken`,
      )
    const keys = Array.isArray(value) ? null : Object.keys(value)
    const count = keys ? keys.length : (value as unknown[]).length
    const most = mostEntries(key)
    if (count > most) return breach('limits', entity, count, `must have at most ${most} entries`)
    for (let i = 0; i < count; i++) {
      const name = keys ? keys[i]! : key
      const part = (value as Record<string, unknown>)[keys ? name : i]
      if (typeof part === 'object' && part !== null) ahead.push({ value: part, key: name, depth: depth + 1 })
      else if (typeof part === 'string' && part.length > JSON_BOUNDS.text)
        return breach(
          'limits',
          shownText(name, 40),
          shownText(part, 40),
          `must have at most ${JSON_BOUNDS.text} characters`,
        )
    }
  }
  return null
}

/** How many bytes a table of automation may have. */
export const MOST_TABLE_BYTES = 20_000_000
