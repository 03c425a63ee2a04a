import fc from 'fast-check'
import { dbToHeight, heightToDb } from '../units/taper'
import { gainDeviation, panDeviation } from '../units/scale'
import { thin } from './thin'
import { threadValue } from './thread'

const ride = (seconds: number) =>
  Array.from({ length: seconds * 60 }, (_, i) => ({
    frame: i * 800,
    value: dbToHeight(-8 + 5 * Math.sin(i / 95) + 2 * Math.sin(i / 41 + 1)),
  }))

test('60 s of a smooth ride at 60 points a second become fewer than 60 knots at 0.5 dB, and none lies further', () => {
  const raw = ride(60)
  const { knots, worst } = thin(raw, 0.5)
  expect(knots.length).toBeLessThan(60)
  expect(worst).toBeLessThanOrEqual(0.5)
  for (const p of raw)
    expect(Math.abs(heightToDb(p.value) - heightToDb(threadValue(knots, p.frame)))).toBeLessThanOrEqual(
      0.5 + 1e-9,
    )
})

test('no raw point lies further than the tolerance, and the highest and lowest are kept', () => {
  const points = fc
    .array(
      fc.record({
        frame: fc.integer({ min: 0, max: 5000 }),
        value: fc.double({ min: 0, max: 1, noNaN: true }),
      }),
      { minLength: 2, maxLength: 80 },
    )
    .map((list) => [...new Map(list.map((p) => [p.frame, p])).values()].sort((a, b) => a.frame - b.frame))
  fc.assert(
    fc.property(points, fc.double({ min: 0.01, max: 6, noNaN: true }), (raw, tolerance) => {
      const { knots } = thin(raw, tolerance)
      for (const p of raw)
        expect(gainDeviation(p.value, threadValue(knots, p.frame))).toBeLessThanOrEqual(tolerance + 1e-9)
      const values = raw.map((p) => p.value)
      const kept = knots.map((k) => k.value)
      expect([Math.max(...kept), Math.min(...kept)]).toEqual([Math.max(...values), Math.min(...values)])
      for (const p of thin(raw, tolerance, panDeviation).knots)
        expect(raw).toContainEqual({ frame: p.frame, value: p.value })
    }),
  )
})

test('a deviation is in dB above -40 dB and in height below, and both meet there', () => {
  expect(gainDeviation(dbToHeight(-6), dbToHeight(-7))).toBeCloseTo(1, 9)
  const h = dbToHeight(-40)
  expect(gainDeviation(h - 1e-6, h - 1e-6 - 0.001)).toBeCloseTo(0.001 / ((h * Math.LN10) / 60), 9)
  expect(gainDeviation(h * 1.000001, h)).toBeCloseTo(gainDeviation(h * 0.999999, h * 0.999998), 6)
  expect(() => thin([], -1)).toThrow(RangeError)
})
