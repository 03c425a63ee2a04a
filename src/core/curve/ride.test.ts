import type { Knot } from '../model/session'
import { dbToHeight } from '../units/taper'
import { gainKind, valueAt } from './knots'
import { rideInto } from './ride'

const kind = gainKind()
const knot = (frame: number, value: number): Knot => ({ frame, value, shape: 'line', bend: 0 })
const settings = { tolerance: 0.5, returnFrames: 4800, join: 240 }
const held = (from: number, to: number, value: number) =>
  Array.from({ length: (to - from) / 800 + 1 }, (_, i) => ({ frame: from + i * 800, value }))

test('a touch is written, returns to the thread in the set time, and nothing changes before and after', () => {
  const before = [knot(0, 0.5), knot(480_000, 0.7)]
  const { knots, drawn } = rideInto(before, [{ points: held(48_000, 96_000, 0.3), returns: true }], settings)
  expect(valueAt(kind, knots, 60_000)).toBeCloseTo(0.3, 9)
  expect(valueAt(kind, knots, 95_000)).toBeCloseTo(0.3, 9)
  // Half way back: between 0.3 and what the thread is at 100,800 frames, 0.542.
  expect(valueAt(kind, knots, 98_400)).toBeCloseTo((0.3 + 0.542) / 2, 6)
  for (const frame of [0, 20_000, 47_999, 100_800, 300_000])
    expect(valueAt(kind, knots, frame)).toBeCloseTo(valueAt(kind, before, frame), 6)
  // The held line takes two knots and its return one.
  expect(drawn).toBeLessThanOrEqual(4)
})

test('what latches stays until the end of the pass, then the thread goes on by a short ramp', () => {
  const before = [knot(0, 0.5)]
  const { knots } = rideInto(before, [{ points: held(48_000, 144_000, 0.8), returns: false }], settings)
  expect(valueAt(kind, knots, 143_000)).toBeCloseTo(0.8, 9)
  expect(valueAt(kind, knots, 144_001)).toBeCloseTo(0.5, 6)
})

test('several touches of a pass are all written; a pass without any leaves the thread', () => {
  const { knots } = rideInto(
    [],
    [
      { points: held(0, 8000, 0.2), returns: true },
      { points: held(48_000, 56_000, 0.9), returns: true },
    ],
    settings,
  )
  expect(valueAt(kind, knots, 4000)).toBeCloseTo(0.2, 9)
  expect(valueAt(kind, knots, 50_000)).toBeCloseTo(0.9, 9)
  expect(valueAt(kind, knots, 30_000)).toBeCloseTo(kind.neutral, 9)
  expect(rideInto([knot(5, 0.4)], [], settings).knots).toEqual([knot(5, 0.4)])
})

test('a minute ridden by a smooth hand at 60 points a second becomes fewer than 60 knots, each within half a dB', () => {
  const db = (s: number) => -8 + 5 * Math.sin(s / 3.1) + 3 * Math.sin(s / 7.7 + 1)
  const points = Array.from({ length: 3600 }, (_, i) => ({ frame: i * 800, value: dbToHeight(db(i / 60)) }))
  const { drawn, worst } = rideInto([], [{ points, returns: true }], settings)
  expect(drawn).toBeLessThan(60)
  expect(worst).toBeLessThanOrEqual(0.5)
})
