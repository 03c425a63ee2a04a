import type { ThreadReader } from '../../curve/thread'
import { ParameterReader } from './parameter-reader'

/** A lane whose knots lie between two places, and which is said to be elsewhere while a step is taken. */
const lane = (min: number, max: number, places: readonly number[]): ThreadReader =>
  ({
    knots: [min, max].map((value, frame) => ({ frame, value, shape: 'line', bend: 0 })),
    constant: () => null,
    fill: (from: number, count: number, out: Float64Array) => {
      for (let i = 0; i < count; i++) out[i] = places[from + i]!
    },
  }) as unknown as ThreadReader

test('a parameter never leaves the values that its knots have, though a step leads beyond them', () => {
  const mix = new ParameterReader(0.25, lane(0, 1, [0.5, 1.1, -0.2, 0.6]))
  expect([0, 1, 2, 3].map((frame) => mix.at(frame))).toEqual([0.5, 1, 0, 0.6])
  const out = new Float64Array(4)
  mix.fill(0, 4, out)
  expect([...out]).toEqual([0.5, 1, 0, 0.6])
  // Times of 1 to 101 ms, whose places are logarithms: nothing longer is asked of what repeats.
  const time = new ParameterReader(1, lane(0, Math.log(101), [Math.log(613)]), Math.exp)
  expect(time.at(0)).toBeCloseTo(101, 9)
  expect(time.range().max).toBeCloseTo(101, 9)
})
