import { z } from 'zod'
import { weaveShapes } from '../core/curve/weave'
import type { Store } from './store'
import { MIX_HEIGHT, preferenceKeys, preferencesTaken, type Preferences } from './view-slice'

const KEY = 'oaken-thread/preferences'

const unit = z.number().min(0).max(1)
const value = z.number().min(-1).max(1)

/**
 * How a person works, whatever session is open. What does not fit, from a version of before for instance, is
 * left at its first value.
 */
const schema = z
  .object({
    follow: z.boolean(),
    bench: z.boolean(),
    timeScale: z.enum(['bars', 'seconds']),
    travels: z.boolean(),
    shoulderMs: z.number().min(0).max(1000),
    thinning: z.number().min(0).max(12).nullable(),
    mixHeight: z.number().min(MIX_HEIGHT.min).max(MIX_HEIGHT.max),
    weave: z.object({
      shape: z.enum(weaveShapes),
      period: z.union([z.object({ beats: z.number().positive() }), z.object({ ms: z.number().positive() })]),
      low: value,
      high: value,
      phase: unit,
      duty: unit,
      seed: z.int(),
    }),
  } satisfies Record<keyof Preferences, z.ZodType>)
  .partial()

/** What was kept of a person's ways; nothing where there is nothing, or nothing that can be read. */
export function readPreferences(text: string | null): Partial<Preferences> {
  try {
    const kept = JSON.parse(text ?? '{}') as Record<string, unknown>
    const good = Object.entries(schema.shape).flatMap(([key, field]) => {
      const read = field.safeParse(kept[key])
      return read.success && read.data !== undefined ? [[key, read.data]] : []
    })
    return Object.fromEntries(good) as Partial<Preferences>
  } catch {
    return {}
  }
}

/**
 * Takes up a person's ways, and keeps them in this browser whenever they change. A browser that keeps nothing
 * has the first values each time.
 */
export function keepPreferences(store: Store): void {
  try {
    store.dispatch(preferencesTaken(readPreferences(localStorage.getItem(KEY))))
  } catch {
    return
  }
  let last = store.getState().view
  store.subscribe(() => {
    const { view } = store.getState()
    if (view === last) return
    const changed = preferenceKeys.some((key) => view[key] !== last[key])
    last = view
    if (!changed) return
    try {
      localStorage.setItem(
        KEY,
        JSON.stringify(Object.fromEntries(preferenceKeys.map((key) => [key, view[key]]))),
      )
    } catch {
      // Storage is full or denied: the ways last as long as the page.
    }
  })
}
