import fc from 'fast-check'
import type { Knot } from '../model/session'
import { stepsOf } from './thread'
import { gainScale, panScale, shiftedHeight } from '../units/scale'
import { dbToHeight, heightToDb, UNITY_HEIGHT } from '../units/taper'
import {
  drawInto,
  gainKind,
  insertKnot,
  knotsBetween,
  moveKnots,
  plateau,
  removeKnots,
  reshapeStretch,
  scaleAbout,
  stretchKnots,
  thinKnots,
  valueAt,
} from './knots'

const gainAtFrame = (knots: readonly Knot[], frame: number) => valueAt(gainKind(), knots, frame)
const knot = (frame: number, value: number, shape: Knot['shape'] = 'line'): Knot => ({
  frame,
  value,
  shape,
  bend: 0,
})
const db = (k: Knot) => Math.round(heightToDb(k.value) * 1e6) / 1e6
const rowsOf = (shapes: fc.Arbitrary<Pick<Knot, 'shape' | 'bend'>>) =>
  fc
    .array(
      fc.tuple(
        fc.record({
          frame: fc.integer({ min: 0, max: 10000 }),
          value: fc.double({ min: 0, max: 1, noNaN: true }),
        }),
        shapes,
      ),
      { maxLength: 10 },
    )
    .map((list) => list.map(([k, shape]) => ({ ...k, ...shape })).sort((a, b) => a.frame - b.frame))
const rows = rowsOf(fc.constant({ shape: 'line', bend: 0 }))
const shapedRows = rowsOf(
  fc.oneof(
    fc.record({ shape: fc.constant('line' as const), bend: fc.double({ min: -1, max: 1, noNaN: true }) }),
    fc.record({ shape: fc.constantFrom('s-curve' as const, 'hold' as const), bend: fc.constant(0) }),
  ),
)
const isSorted = (knots: readonly Knot[]) =>
  knots.every((k, i) => (i === 0 || k.frame >= knots[i - 1]!.frame) && k.value >= 0 && k.value <= 1)

describe('a plateau', () => {
  test('on a plain thread is exactly four knots: 0 dB, the level twice, 0 dB', () => {
    const made = plateau([], 10000, 20000, -6, 480)
    expect(made.map((k) => [k.frame, db(k)])).toEqual([
      [9520, 0],
      [10000, -6],
      [20000, -6],
      [20480, 0],
    ])
  })
  test('done again over the same word changes its level instead of nesting', () => {
    const twice = plateau(plateau([], 10000, 20000, -6, 480), 10500, 19000, 2, 480)
    expect(twice.map(db)).toEqual([0, -4, -4, 0])
  })
  test('without shoulders it steps', () => {
    expect(plateau([], 100, 200, 3, 0).map((k) => [k.frame, db(k)])).toEqual([
      [100, 0],
      [100, 3],
      [200, 3],
      [200, 0],
    ])
  })
  test('shoulders give way to what is shaped beside them, and to the ends of the thread', () => {
    const beside = [knot(9900, dbToHeight(-3)), knot(20300, dbToHeight(-3))]
    expect(plateau(beside, 10000, 20000, 2, 480).map((k) => [k.frame, db(k)])).toEqual([
      [9900, -3],
      [10000, -1],
      [20000, -1],
      [20300, -3],
    ])
    const ends = { from: 10000, to: 20200 }
    expect(plateau([], 10000, 20000, 2, 480, undefined, false, ends).map((k) => [k.frame, db(k)])).toEqual([
      [10000, 0],
      [10000, 2],
      [20000, 2],
      [20200, 0],
    ])
  })
  test('on a slope keeps the slope, shifted, and changes nothing outside', () => {
    const slope = [knot(0, dbToHeight(-12)), knot(40000, dbToHeight(0))]
    const made = plateau(slope, 10000, 20000, 2, 100)
    for (const f of [0, 5000, 9899, 9900, 20100, 25000, 40000])
      expect(gainAtFrame(made, f)).toBeCloseTo(gainAtFrame(slope, f), 12)
    for (const f of [10000, 10100, 19900, 20000])
      expect(heightToDb(gainAtFrame(made, f)) - heightToDb(gainAtFrame(slope, f))).toBeCloseTo(2, 9)
    expect(() => plateau([], 5, 5, 1, 0)).toThrow(RangeError)
  })
  test('whatever was there, stays in order and in range, and the same outside', () => {
    fc.assert(
      fc.property(
        shapedRows,
        fc.integer({ min: 0, max: 9000 }),
        fc.integer({ min: 1, max: 3000 }),
        fc.double({ min: -40, max: 20, noNaN: true }),
        fc.integer({ min: 0, max: 800 }),
        (knots, from, length, by, shoulder) => {
          const made = plateau(knots, from, from + length, by, shoulder)
          expect(isSorted(made)).toBe(true)
          for (let i = 2; i < made.length; i++) expect(made[i]!.frame).toBeGreaterThan(made[i - 2]!.frame)
          const left = Math.max(
            0,
            from - shoulder,
            ...knots.map((k) => (k.frame < from ? k.frame : -Infinity)),
          )
          const right = Math.min(
            from + length + shoulder,
            ...knots.map((k) => (k.frame > from + length ? k.frame : Infinity)),
          )
          for (let f = -10; f <= 12000; f += 97)
            if (f < left || f > right) expect(gainAtFrame(made, f)).toBeCloseTo(gainAtFrame(knots, f), 9)
        },
      ),
    )
  })
})

test('knots are put on the line, moved to their neighbours at most, and removed', () => {
  fc.assert(
    fc.property(
      rows,
      fc.integer({ min: 0, max: 10000 }),
      fc.integer({ min: -9000, max: 9000 }),
      fc.double({ min: -1, max: 1, noNaN: true }),
      (knots, at, byFrames, byHeight) => {
        const { knots: more, index } = insertKnot(knots, at)
        expect(more).toHaveLength(knots.length + (knots.some((k) => k.frame === at) ? 0 : 1))
        for (let f = 0; f <= 10000; f += 331)
          expect(gainAtFrame(more, f)).toBeCloseTo(gainAtFrame(knots, f), 9)
        expect(isSorted(moveKnots(more, [index], byFrames, byHeight))).toBe(true)
        if (more.length > knots.length) expect(removeKnots(more, [index])).toEqual(knots)
      },
    ),
  )
  const three = [knot(0, 0.5), knot(100, 0.6), knot(200, 0.7)]
  expect(moveKnots(three, [1], 500, 0)[1]!.frame).toBe(200)
  expect(moveKnots(three, [1, 2], 50, 0.9).map((k) => [k.frame, Math.round(k.value * 1e9) / 1e9])).toEqual([
    [0, 0.5],
    [150, 0.9],
    [250, 1],
  ])
})

test('a shift in dB is exact above the floor, and silence stays silence', () => {
  expect(heightToDb(shiftedHeight(UNITY_HEIGHT, -7.3))).toBeCloseTo(-7.3, 9)
  expect([shiftedHeight(0, 20), shiftedHeight(UNITY_HEIGHT, -200), shiftedHeight(UNITY_HEIGHT, 50)]).toEqual([
    0, 0, 1,
  ])
})

test('a knot put on the line changes nothing, whatever the shape of the stretch, again and again', () => {
  fc.assert(
    fc.property(
      shapedRows,
      fc.array(fc.integer({ min: 0, max: 10000 }), { maxLength: 6 }),
      (knots, places) => {
        const more = places.reduce((now, at) => insertKnot(now, at).knots, [...knots])
        for (let f = 0; f <= 10000; f += 331)
          expect(gainAtFrame(more, f)).toBeCloseTo(gainAtFrame(knots, f), 9)
      },
    ),
  )
})

describe('a line drawn by hand', () => {
  const points = Array.from({ length: 60 }, (_, i) => ({
    frame: 10000 + i * 100,
    value: 0.5 + 0.1 * Math.sin(i / 6),
  }))
  test('replaces just its range and joins to what is left without a jump', () => {
    const before = [knot(0, 0.3), knot(12000, 0.8), knot(30000, 0.4)]
    const { knots, drawn } = drawInto(before, points, 0.5, 240)
    expect(drawn).toBeLessThan(20)
    for (const f of [0, 5000, 9999, 10000, 15900, 20000, 30000])
      expect(gainAtFrame(knots, f)).toBeCloseTo(gainAtFrame(before, f), 9)
    expect(gainAtFrame(knots, 13000)).toBeCloseTo(points[30]!.value, 1)
    for (let f = 9000; f < 17000; f++)
      expect(Math.abs(gainAtFrame(knots, f + 1) - gainAtFrame(knots, f))).toBeLessThan(0.01)
  })
  test('on a plain thread leaves 0 dB outside', () => {
    const { knots } = drawInto([], points, 0.5, 240)
    expect([0, 10000, 15900, 90000].map((f) => gainAtFrame(knots, f))).toEqual(Array(4).fill(UNITY_HEIGHT))
  })
  test('kept raw has every point', () => {
    expect(drawInto([], points, null, 240).drawn).toBe(60)
  })
})

test('levels scale about 0 dB and pans about the centre; stretches take shapes and bends', () => {
  expect(heightToDb(gainScale.scaled(dbToHeight(-12), 0.5))).toBeCloseTo(-6, 9)
  expect(heightToDb(gainScale.scaled(dbToHeight(4), 2))).toBeCloseTo(8, 9)
  expect(panScale.scaled(-0.8, 0.5)).toBeCloseTo(-0.4, 12)
  const two = [knot(0, 0.2), knot(100, 0.8)]
  expect(reshapeStretch(two, 0, { bend: 0.5 })[0]).toEqual({ frame: 0, value: 0.2, shape: 'line', bend: 0.5 })
  expect(reshapeStretch(two, 0, { shape: 's-curve' })[0]).toEqual({
    frame: 0,
    value: 0.2,
    shape: 's-curve',
    bend: 0,
  })
  expect(knotsBetween(two, 50, 100)).toEqual([1])
})

test('thinning knots drops those that a straight line replaces, and keeps steps and curves', () => {
  const straight = Array.from({ length: 11 }, (_, i) => knot(i * 100, 0.2 + i * 0.05))
  expect(thinKnots(straight, [], 0.5).map((k) => k.frame)).toEqual([0, 1000])
  const stepped = [
    ...straight.slice(0, 5),
    knot(400, 0.9, 'hold'),
    knot(800, 0.3),
    knot(900, 0.3),
    knot(1000, 0.3),
  ]
  expect(thinKnots(stepped, [], 0.5).map((k) => [k.frame, k.shape])).toEqual([
    [0, 'line'],
    [400, 'line'],
    [400, 'hold'],
    [800, 'line'],
    [1000, 'line'],
  ])
})

describe('a selected range', () => {
  const thread = [0, 100, 200, 300, 400].map((frame, i): Knot => ({
    frame,
    value: 0.2 + i / 10,
    shape: 'line',
    bend: 0,
  }))
  test('is scaled in value about a level and stretched in time about a side, without passing its neighbours', () => {
    expect(
      scaleAbout(gainKind(), thread, [1, 2, 3], 0.3, 0.5).map((k) => Math.round(k.value * 1000) / 1000),
    ).toEqual([0.2, 0.3, 0.35, 0.4, 0.6])
    expect(stretchKnots(thread, [1, 2, 3], 100, 0.5).map((k) => k.frame)).toEqual([0, 100, 150, 200, 400])
    // To the right there are 100 frames up to the next knot: one and a half times as long, and no longer.
    expect(stretchKnots(thread, [1, 2, 3], 100, 9).map((k) => k.frame)).toEqual([0, 100, 250, 400, 400])
    expect(stretchKnots(thread, [1, 2, 3], 300, 9).map((k) => k.frame)).toEqual([0, 0, 150, 300, 400])
  })
  test('keeps its order whatever the factor', () => {
    fc.assert(
      fc.property(
        fc.array(fc.nat(1000), { minLength: 2, maxLength: 10 }),
        fc.array(fc.nat(9), { minLength: 1, maxLength: 6 }),
        fc.double({ min: 0, max: 6, noNaN: true }),
        (frames, picks, factor) => {
          const knots = frames
            .sort((a, b) => a - b)
            .map((frame): Knot => ({ frame, value: 0.5, shape: 'line', bend: 0 }))
          const indices = [...new Set(picks.map((p) => p % knots.length))].sort((a, b) => a - b)
          const stretched = stretchKnots(knots, indices, knots[indices[0]!]!.frame, factor)
          expect(stretched.every((k, i) => i === 0 || k.frame >= stretched[i - 1]!.frame)).toBe(true)
        },
      ),
    )
  })
})

describe('a plateau on a slope', () => {
  const slope: Knot[] = [
    { frame: 0, value: 0.4, shape: 'line', bend: 0 },
    { frame: 100_000, value: 0.8, shape: 'line', bend: 0 },
  ]
  test('done again inside itself changes its level and adds no knots', () => {
    const once = plateau(slope, 20_000, 60_000, -6, 480)
    const twice = plateau(once, 22_000, 58_000, 2, 480)
    expect(twice).toHaveLength(once.length)
    // In all -4 dB against the slope, which is at 0.56 in the middle.
    expect(heightToDb(valueAt(gainKind(), twice, 20_480))).toBeCloseTo(heightToDb(0.4 + 0.4 * 0.2048) - 4, 6)
    expect(valueAt(gainKind(), twice, 10_000)).toBeCloseTo(0.44, 9)
  })
  test('is flattened by choice, at the level of its middle', () => {
    const flat = plateau(slope, 20_000, 60_000, -6, 480, gainKind(), true)
    expect(flat).toHaveLength(6)
    for (const frame of [20_480, 40_000, 59_520])
      expect(heightToDb(valueAt(gainKind(), flat, frame))).toBeCloseTo(heightToDb(0.56) - 6, 9)
    expect(valueAt(gainKind(), flat, 70_000)).toBeCloseTo(0.68, 9)
  })
})

test('what is drawn joins what is left by ramps: no step, whatever steps the thread had there', () => {
  const value = fc.double({ min: 0.05, max: 1, noNaN: true })
  fc.assert(
    fc.property(
      fc.array(fc.record({ frame: fc.nat(40), value, hold: fc.boolean() }), { maxLength: 8 }),
      fc.record({ from: fc.nat(30), length: fc.integer({ min: 1, max: 10 }) }),
      fc.tuple(value, value),
      (rows, { from, length }, [a, b]) => {
        // On a grid of 1000 frames, so that lines often begin and end where the thread steps.
        const before: Knot[] = rows
          .sort((x, y) => x.frame - y.frame)
          .map((k) => ({ frame: k.frame * 1000, value: k.value, shape: k.hold ? 'hold' : 'line', bend: 0 }))
        const [first, last] = [from * 1000, (from + length) * 1000]
        const { knots } = drawInto(
          before,
          [
            { frame: first, value: a },
            { frame: last, value: b },
          ],
          0.5,
          240,
        )
        const inside = stepsOf(knots).filter((s) => s.frame >= first && s.frame <= last)
        expect(inside.filter((s) => Math.abs(s.size) > 1e-9)).toEqual([])
        // And outside nothing has changed.
        for (const frame of [first - 500, first - 1, last + 500, last + 1])
          if (before.length && frame >= 0)
            expect(valueAt(gainKind(), knots, frame)).toBeCloseTo(valueAt(gainKind(), before, frame), 9)
      },
    ),
    { numRuns: 500 },
  )
})
