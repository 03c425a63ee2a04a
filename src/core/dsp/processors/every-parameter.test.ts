import { insertKindNames, insertKindOf, type InsertKindName } from '../../model/inserts/insert-kinds'
import type { InsertParameter, InsertValues } from '../../model/inserts/insert-types'
import { firstDifference, RATE, run, setup, sine } from './run.test-util'

const FRAMES = 48_000

/** A sound that every kind does something to: tones that fall from step to step, other ones left than right, over an offset. */
const SIDES = [0, 1].map((side) => {
  const tones = [70, 700, 3000, 9000].map((hz, i) => sine(FRAMES, hz * (1 + side / 7), 0.24, i + side))
  return Float64Array.from({ length: FRAMES }, (_, i) => {
    const level = 10 ** (-((Math.floor(i / 2400) % 10) * 4) / 20)
    return level * tones.reduce((sum, tone) => sum + tone[i]!, 0) + 0.01
  })
})

/**
 * Values from which each parameter of a kind changes the sound: those of the switches and choices that others need. A parameter of
 * a band of the equaliser needs its band, and the slope a cut; a note value hides the time.
 */
const NEEDED: Record<InsertKindName, (changed: string) => InsertValues> = {
  gain: () => ({}),
  equaliser: (changed) => {
    const band = changed.split('.')[0]!
    return {
      [`${band}.on`]: true,
      [`${band}.kind`]: changed.endsWith('.slope') ? 'low-cut' : 'bell',
      [`${band}.gainDb`]: 6,
      [`${band}.frequencyHz`]: 800,
    }
  },
  compressor: () => ({ thresholdDb: -30 }),
  gate: () => ({ thresholdDb: -20, rangeDb: 90 }),
  'de-esser': () => ({ thresholdDb: -50 }),
  'four-bands': () => ({}),
  saturator: () => ({}),
  delay: () => ({ timeMs: 100, pingPong: false }),
  room: () => ({ mix: 0.5 }),
  width: () => ({ width: 1.5 }),
  transients: () => ({}),
  ceiling: () => ({ ceilingDbtp: -6 }),
}

/** Another value of a parameter than it has: well away from it, as it stands in a setup. */
function another({ type, range, choices }: InsertParameter, now: number | string): number | string {
  if (type === 'switch') return 1 - Number(now)
  if (choices) return choices.find(({ value }) => value !== now)!.value
  const low = range.min + (range.max - range.min) * 0.2
  const high = range.min + (range.max - range.min) * 0.6
  return Math.abs(Number(now) - low) > Math.abs(Number(now) - high) ? low : high
}

const cases = insertKindNames.flatMap((kind) =>
  insertKindOf(kind).parameters.map((parameter) => [kind, parameter.key, parameter] as const),
)

test.each(cases)('%s: another %s is heard', (kind, key, parameter) => {
  const needed = Object.fromEntries(
    Object.entries(NEEDED[kind](key)).map(([k, v]) => [k, typeof v === 'boolean' ? Number(v) : v!]),
  )
  const plain = parameter.choices
    ? parameter.choices[parameter.range.defaultValue]!.value
    : parameter.range.defaultValue
  const now = needed[key] ?? (parameter.type === 'beats' ? 0 : plain)
  const [before, after] = [now, another(parameter, now)].map((value) =>
    run(setup(kind, { ...needed, [key]: value }, 2, RATE), kind, SIDES),
  )
  expect([kind, key, firstDifference(before!, after!) >= 0]).toEqual([kind, key, true])
})
