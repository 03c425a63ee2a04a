import { insertKindNames, insertKindOf, type InsertKindName } from '../../model/inserts/insert-kinds'
import type { Knot } from '../../model/session'
import { RATE, run, setup, sine, steady } from './run.test-util'

const FRAMES = 12_288

/** Everything that moves jumps from one end of its range to the other within 1 ms, and back. */
function jumping(kind: InsertKindName, upwards: boolean): Record<string, number | readonly Knot[]> {
  const values: Record<string, number | readonly Knot[]> = {}
  for (const { key, type, scale, moves } of insertKindOf(kind).parameters) {
    if (type === 'switch') values[key] = 1
    if (moves === 'never' || type !== 'number') continue
    const [from, to] = upwards ? [scale.min, scale.max] : [scale.max, scale.min]
    values[key] = [
      [2048, from],
      [2096, to],
      [6144, to],
      [6192, from],
    ].map(([frame, value]): Knot => ({ frame: frame!, value: value!, shape: 'line', bend: 0 }))
  }
  return values
}

const SOUNDS: Record<string, Float64Array> = {
  silence: steady(FRAMES, 0),
  'a full-scale square': sine(FRAMES, 100).map((x) => (x >= 0 ? 1 : -1)),
  'DC of 1': steady(FRAMES, 1),
  'numbers that are too small to be normal': sine(FRAMES, 3000, 1e-310),
  'a sine': sine(FRAMES, 777),
}

test.each(insertKindNames.flatMap((kind) => Object.keys(SOUNDS).map((sound) => [kind, sound] as const)))(
  '%s: of %s only numbers come out, however its values jump',
  (kind, name) => {
    const sound = SOUNDS[name]!
    for (const channels of [1, 2] as const)
      for (const upwards of [true, false]) {
        const sides = [sound, sound.map((x) => -x / 2)].slice(0, channels)
        const out = run(setup(kind, jumping(kind, upwards), channels, RATE), kind, sides)
        let sum = 0
        for (const side of out) for (const x of side) sum += x * 0
        expect(sum).toBe(0)
        if (name === 'silence') expect(out.every((side) => side.every((x) => x === 0))).toBe(true)
      }
  },
)
