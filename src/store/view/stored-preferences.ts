import * as z from 'zod/mini'
import { number } from '../../core/model/schema-fields'
import { weaveShapes } from '../../core/model/limits'
import { keymapSchema } from '../../formats/keys-file'
import type { Store } from '../store'
import { BENCH_HEIGHT, MIX_HEIGHT, preferencesTaken, ROW_HEIGHT, SOUND_FACTOR, type Preferences } from '.'

const KEY = 'oaken-thread/preferences'

const positive = z.number().check(z.positive())
const unit = number(0, 1)
const value = number(-1, 1)

/**
 * Preferences of a person, independent of the session. Invalid values, for instance from an earlier version,
 * fall back to their defaults.
 */
const schema = z.partial(
  z.object({
    follow: z.boolean(),
    bench: z.boolean(),
    pathFolded: z.boolean(),
    meters: z.boolean(),
    metersOf: z.enum(['mix', 'strip', 'here']),
    timeScale: z.enum(['bars', 'seconds']),
    travels: z.boolean(),
    shoulderMs: number(0, 1000),
    thinning: z.nullable(number(0, 12)),
    rowHeight: number(ROW_HEIGHT.min, ROW_HEIGHT.max),
    soundScale: z.object({
      factor: number(SOUND_FACTOR.min, SOUND_FACTOR.max),
      decibels: z.boolean(),
    }),
    ground: z.enum(['system', 'day', 'evening']),
    keymap: keymapSchema,
    singleKeys: z.boolean(),
    mixHeight: number(MIX_HEIGHT.min, MIX_HEIGHT.max),
    benchHeight: number(BENCH_HEIGHT.min, BENCH_HEIGHT.max),
    stopReturns: z.boolean(),
    rollMs: number(0, 60_000),
    weave: z.object({
      shape: z.enum(weaveShapes),
      period: z.union([z.object({ beats: positive }), z.object({ ms: positive })]),
      low: value,
      high: value,
      phase: unit,
      duty: unit,
      seed: z.int(),
    }),
  } satisfies Record<keyof Preferences, z.ZodMiniType>),
)

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
  let last = store.getState().preferences
  store.subscribe(() => {
    const { preferences } = store.getState()
    if (preferences === last) return
    last = preferences
    try {
      localStorage.setItem(KEY, JSON.stringify(preferences))
    } catch {
      // Storage is full or denied: the ways last as long as the page.
    }
  })
}
