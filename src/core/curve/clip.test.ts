import fc from 'fast-check'
import type { Knot } from '../model/session'
import { clearBetween, clipOf, putClip } from './clip'
import { gainKind, valueAt } from './knots'

const kind = gainKind()
const knots = fc
  .array(
    fc.record({
      frame: fc.integer({ min: 0, max: 10_000 }),
      value: fc.double({ min: 0, max: 1, noNaN: true }),
      shape: fc.constantFrom('line', 's-curve', 'hold'),
      bend: fc.double({ min: -1, max: 1, noNaN: true }),
    }),
    { maxLength: 12 },
  )
  .map((list) =>
    list
      .map((k): Knot => ({ ...k, shape: k.shape as Knot['shape'], bend: k.shape === 'line' ? k.bend : 0 }))
      .sort((a, b) => a.frame - b.frame),
  )
const range = fc
  .tuple(fc.integer({ min: 0, max: 9000 }), fc.integer({ min: 50, max: 3000 }))
  .map(([from, length]) => ({ from, to: from + length }))
/** The largest of some differences, at every so many frames. */
function worst(from: number, to: number, step: number, off: (frame: number) => number): number {
  let most = 0
  for (let frame = from; frame < to; frame += step) most = Math.max(most, Math.abs(off(frame)))
  return most
}
const ordered = (list: readonly Knot[]) => list.every((k, i) => i === 0 || k.frame >= list[i - 1]!.frame)

test('a clip does what the thread did', () => {
  const thread: Knot[] = [
    { frame: 0, value: 0, shape: 'line', bend: 0 },
    { frame: 100, value: 1, shape: 'line', bend: 0 },
  ]
  expect(clipOf(thread, 25, 75)).toEqual({
    length: 50,
    knots: [
      { frame: 0, value: 0.25, shape: 'line', bend: 0 },
      { frame: 50, value: 0.75, shape: 'line', bend: 0 },
    ],
  })
  expect(() => clipOf(thread, 75, 75)).toThrow(RangeError)
  fc.assert(
    fc.property(knots, range, (list, { from, to }) => {
      const clip = clipOf(list, from, to)
      expect(
        worst(from, to, 7, (frame) => valueAt(kind, clip.knots, frame - from) - valueAt(kind, list, frame)),
      ).toBeLessThan(1e-9)
    }),
    { numRuns: 60 },
  )
})

test('what is cleared is a straight line, and nothing changes outside', () => {
  fc.assert(
    fc.property(knots, range, (list, { from, to }) => {
      const cleared = clearBetween(list, from, to)
      expect(ordered(cleared)).toBe(true)
      expect(cleared.filter((k) => k.frame > from && k.frame < to)).toHaveLength(0)
      for (const frame of [0, from - 40, from - 1, to + 1, to + 40, 12_000])
        if (frame >= 0) expect(valueAt(kind, cleared, frame)).toBeCloseTo(valueAt(kind, list, frame), 9)
    }),
    { numRuns: 60 },
  )
})

test('ends that as good as meet are made to meet', () => {
  const list: Knot[] = [
    { frame: 0, value: 5.1e-10, shape: 'line', bend: 0 },
    { frame: 1, value: 0, shape: 'line', bend: 0 },
  ]
  const put = putClip(list, 11998, clipOf(list, 0, 50), 20)
  for (const frame of [11900, 11997, 12049, 12100]) expect(valueAt(kind, put, frame)).toBe(0)
})

test('what is put in does there what it did, and nothing changes outside; no step is made', () => {
  fc.assert(
    fc.property(knots, range, fc.integer({ min: 0, max: 12_000 }), (list, { from, to }, at) => {
      const clip = clipOf(list, from, to)
      const join = 20
      const put = putClip(list, at, clip, join)
      expect(ordered(put)).toBe(true)
      const end = at + clip.length
      // Ends less than a billionth apart are joined without a ramp.
      for (const frame of [at + join, (at + end) / 2, end - join - 1])
        if (frame > at && frame < end)
          expect(Math.abs(valueAt(kind, put, frame) - valueAt(kind, clip.knots, frame - at))).toBeLessThan(
            1.001e-9,
          )
      for (const frame of [at - 100, at - 1, end + 1, end + 100])
        if (frame >= 0) expect(valueAt(kind, put, frame)).toBeCloseTo(valueAt(kind, list, frame), 9)
      // Putting the same into its own place changes nothing that is heard, where the thread does not step on an end.
      if (list.some((k) => k.frame === from || k.frame === to)) return
      const same = putClip(list, from, clip, join)
      expect(
        worst(from, to + 1, 11, (frame) => valueAt(kind, same, frame) - valueAt(kind, list, frame)),
      ).toBeLessThan(1e-9)
    }),
    { numRuns: 60 },
  )
})
