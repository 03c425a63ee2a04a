import fc from 'fast-check'
import type { Knot } from '../model/session'
import { newSegment, ThreadReader } from './thread'

const knot = (frame: number, value: number, more: Partial<Knot> = {}): Knot => ({
  frame,
  value,
  shape: 'line',
  bend: 0,
  ...more,
})

/** The shapes as they are written down, without the code that renders. */
const progress = (shape: Knot['shape'], bend: number, u: number) =>
  shape === 's-curve'
    ? (1 - Math.cos(Math.PI * u)) / 2
    : bend >= 0
      ? u ** (2 ** (3 * bend))
      : 1 - (1 - u) ** (2 ** (-3 * bend))

const curves = fc.oneof(
  fc.constant({ shape: 's-curve' as const, bend: 0 }),
  fc.double({ min: -1, max: 1, noNaN: true }).map((bend) => ({ shape: 'line' as const, bend })),
)

test('curved stretches of any length and bend are within 1e-7 of their formula at every frame, whole or a piece', () => {
  fc.assert(
    fc.property(
      curves,
      fc.integer({ min: 2, max: 90_000 }),
      fc.constantFrom<[number, number] | undefined>(undefined, [0, 0.3], [0.25, 0.75], [0.9, 1]),
      ({ shape, bend }, length, part) => {
        const from = knot(500, 0.1, { shape, bend, ...(part ? { part } : {}) })
        const out = new Float64Array(length)
        new ThreadReader([from, knot(500 + length, 0.9)], 48_000).fill(500, length, out)
        const [a, b] = (part ?? [0, 1]).map((u) => progress(shape, bend, u)) as [number, number]
        const [first, last] = part ?? [0, 1]
        if (b - a < 1e-3) return
        let worst = 0
        for (let i = 0; i < length; i += 1 + (length >> 9)) {
          const u = first + ((last - first) * i) / length
          const wanted = 0.1 + 0.8 * ((progress(shape, bend, u) - a) / (b - a))
          worst = Math.max(worst, Math.abs(out[i]! - wanted))
        }
        // A piece is stretched to full height, and its error with it.
        expect(worst).toBeLessThan(1e-7 / Math.min(1, b - a))
      },
    ),
    { numRuns: 300 },
  )
})

test('the segments of a thread are what it is filled with, to the bit, and begin anew at steps', () => {
  const knots = [
    knot(1000, 0.2, { bend: 0.7 }),
    knot(9000, 0.8, { shape: 's-curve' }),
    knot(12_000, 0.5, { shape: 'hold' }),
    knot(13_000, 0.9),
    knot(13_000, 0.3),
    knot(13_300, 0.4, { bend: -0.5 }),
    knot(13_500, 0.1),
  ]
  const reader = new ThreadReader(knots, 48_000)
  const filled = new Float64Array(15_000)
  reader.fill(0, filled.length, filled)
  const segment = newSegment()
  let exact = 0
  for (let frame = 0; frame < filled.length;) {
    reader.segment(frame, segment)
    const { origin, c0, c1, c2, c3, end } = segment
    expect(end).toBeGreaterThan(frame)
    const last = Math.min(end, filled.length)
    for (let n = frame; n < last; n++) {
      const t = n - origin
      if (segment.exact) exact++
      else if (filled[n] !== c0 + t * (c1 + t * (c2 + t * c3))) throw new Error(`differs at ${n}`)
    }
    frame = last
  }
  // The millisecond of the steps at 13 000, and the short bent stretch.
  expect(exact).toBe(48 + 200)
})
