import fc from 'fast-check'
import type { Knot } from '../model/session'
import { crossfadeGains } from './crossfade'
import { bendFade, fadeCurve, fadeGain } from './fade'
import { ThreadReader, threadValue } from './thread'

describe('fade curves', () => {
  // u = 0.25 and 0.5, worked out from the formulas.
  test.each([
    ['linear', 0.25, 0.5],
    ['equal-power', 0.3826834, 0.7071068],
    ['s-curve', 0.1464466, 0.5],
    ['exponential', 0.0046279, 0.0306534],
    ['logarithmic', 0.8229951, 0.9693466],
  ] as const)('%s', (curve, quarter, half) => {
    expect(fadeCurve(curve, 0.25)).toBeCloseTo(quarter, 6)
    expect(fadeCurve(curve, 0.5)).toBeCloseTo(half, 6)
    expect(fadeCurve(curve, 0)).toBeCloseTo(0, 15)
    expect(fadeCurve(curve, 1)).toBeCloseTo(1, 15)
  })
  test('a bend of +0.5 squares u, one of -0.5 takes its root', () => {
    expect(bendFade(0.3, 0.5)).toBeCloseTo(0.09, 12)
    expect(bendFade(0.3, -0.5)).toBeCloseTo(Math.sqrt(0.3), 12)
  })
  test('a start level of 20 % starts there and still ends at 1', () => {
    const fade = { curve: 'linear', bend: 0, level: 0.2 } as const
    expect(fadeGain(fade, 0)).toBe(0.2)
    expect(fadeGain(fade, 0.5)).toBeCloseTo(0.6, 12)
    expect(fadeGain(fade, 1)).toBe(1)
  })
})

describe('crossfade laws', () => {
  const sides = { out: { curve: 'linear', bend: 0 }, in: { curve: 'linear', bend: 0 } } as const
  test.each([-0.9, -0.5, 0, 0.5, 0.9, 1])(
    'the level law keeps the power of signals with correlation %p',
    (correlation) => {
      for (let u = 0; u <= 1; u += 1 / 64) {
        const g = crossfadeGains({ law: 'level', ...sides }, u, correlation)
        expect(g.out ** 2 + g.in ** 2 + 2 * correlation * g.out * g.in).toBeCloseTo(1, 12)
      }
    },
  )
  test('with correlation 1 the level law sums to 1, as equal gain does', () => {
    const g = crossfadeGains({ law: 'level', ...sides }, 0.3, 1)
    expect(g.out + g.in).toBeCloseTo(1, 12)
  })
})

const knot = (frame: number, value: number, shape: Knot['shape'] = 'line', bend = 0): Knot => ({
  frame,
  value,
  shape,
  bend,
})

describe('threads', () => {
  test('hold before the first knot and after the last, and run straight between', () => {
    const knots = [knot(100, 0.2), knot(200, 0.6)]
    expect([0, 100, 150, 200, 900].map((f) => threadValue(knots, f))).toEqual([0.2, 0.2, 0.4, 0.6, 0.6])
    expect(() => threadValue([], 0)).toThrow(RangeError)
  })
  test('stretch shapes', () => {
    expect(threadValue([knot(0, 0, 's-curve'), knot(100, 1)], 25)).toBeCloseTo(0.1464466, 6)
    expect(threadValue([knot(0, 0, 'hold'), knot(100, 1)], 99)).toBe(0)
    // b = 1/3 squares u; b = -1/3 mirrors that.
    expect(threadValue([knot(0, 0, 'line', 1 / 3), knot(100, 1)], 30)).toBeCloseTo(0.09, 12)
    expect(threadValue([knot(0, 0, 'line', -1 / 3), knot(100, 1)], 30)).toBeCloseTo(1 - 0.49, 12)
  })
  test('a step becomes a raised cosine of 1 ms that starts at the step', () => {
    const out = new Float64Array(200)
    new ThreadReader([knot(0, 0.2, 'hold'), knot(100, 0.8)], 48000).fill(0, 200, out)
    expect(out[99]).toBe(0.2)
    expect(out[100]).toBeCloseTo(0.2, 12)
    expect(out[124]).toBeCloseTo(0.5, 12)
    expect(out[148]).toBe(0.8)
  })

  const threads = fc
    .array(
      fc.record({
        frame: fc.integer({ min: 0, max: 3000 }),
        value: fc.double({ min: 0, max: 1, noNaN: true }),
        shape: fc.constantFrom('line', 's-curve', 'hold' as const),
        bend: fc.double({ min: -1, max: 1, noNaN: true }),
      }),
      { minLength: 1, maxLength: 12 },
    )
    .map((knots) => (knots as Knot[]).sort((a, b) => a.frame - b.frame))

  test('cuts into blocks change no bit, and a constant answer is what would have been filled', () => {
    fc.assert(
      fc.property(
        threads,
        fc.array(fc.integer({ min: 1, max: 400 }), { minLength: 1, maxLength: 30 }),
        (knots, cuts) => {
          const reader = new ThreadReader(knots, 48000)
          const whole = new Float64Array(3200)
          reader.fill(0, 3200, whole)
          const part = new Float64Array(400)
          let at = 0
          for (const cut of cuts) {
            const count = Math.min(cut, 3200 - at)
            reader.fill(at, count, part)
            const same = reader.constant(at, count)
            for (let i = 0; i < count; i++)
              if (part[i] !== whole[at + i] || (same !== null && same !== whole[at + i]))
                throw new Error(`frame ${at + i} differs`)
            at += count
          }
        },
      ),
      { numRuns: 60 },
    )
  })
  test('no two neighbouring frames differ by more than the steepest stretch and the 1 ms transitions allow', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.record({
            frame: fc.integer({ min: 0, max: 3000 }),
            value: fc.double({ min: 0, max: 1, noNaN: true }),
          }),
          { minLength: 2, maxLength: 6 },
        ),
        (points) => {
          const knots = points.map((p) => knot(p.frame, p.value, 'hold')).sort((a, b) => a.frame - b.frame)
          const out = new Float64Array(3200)
          new ThreadReader(knots, 48000).fill(0, 3200, out)
          // A raised cosine of 48 frames moves at most π/96 of its height a frame; at most all steps overlap.
          let steepest = 0
          for (let i = 1; i < out.length; i++) steepest = Math.max(steepest, Math.abs(out[i]! - out[i - 1]!))
          expect(steepest).toBeLessThanOrEqual((Math.PI / 96) * (knots.length - 1) + 1e-9)
        },
      ),
      { numRuns: 60 },
    )
  })
})
