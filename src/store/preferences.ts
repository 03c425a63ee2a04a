import { z } from 'zod'
import { weaveShapes } from '../core/curve/weave'
import { keymapSchema } from '../formats/keys-file'
import type { Store } from './store'
import {
  MIX_HEIGHT,
  preferenceKeys,
  preferencesTaken,
  ROW_HEIGHT,
  SOUND_FACTOR,
  type Preferences,
} from './view-slice'

const KEY = 'oaken-thread/preferences'

const unit = z.number().min(0).max(1)
const value = z.number().min(-1).max(1)

/**
 * Preferences of a person, independent of the session. Invalid values, for instance from an earlier version,
 * fall back to their defaults.
 */
const schema = z
  .object({
    follow: z.boolean(),
    bench: z.boolean(),
    pathFolded: z.boolean(),
    meters: z.boolean(),
    metersOf: z.enum(['mix', 'strip', 'here']),
    timeScale: z.enum(['bars', 'seconds']),
    travels: z.boolean(),
    shoulderMs: z.number().min(0).max(1000),
    thinning: z.number().min(0).max(12).nullable(),
    rowHeight: z.number().min(ROW_HEIGHT.min).max(ROW_HEIGHT.max),
    soundScale: z.object({
      factor: z.number().min(SOUND_FACTOR.min).max(SOUND_FACTOR.max),
      decibels: z.boolean(),
    }),
    ground: z.enum(['system', 'day', 'evening']),
    keymap: keymapSchema,
    singleKeys: z.boolean(),
    mixHeight: z.number().min(MIX_HEIGHT.min).max(MIX_HEIGHT.max),
    stopReturns: z.boolean(),
    rollMs: z.number().min(0).max(60_000),
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

/** The stored preferences; empty when there are none or they cannot be read. */
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
 * Applies the stored preferences and stores them again whenever they change. In a browser that stores nothing
 * the defaults apply.
 */
export function startPreferences(store: Store): void {
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
