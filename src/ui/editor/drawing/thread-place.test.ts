import fc from 'fast-check'
import { valueAt } from '../../../core/curve/knots'
import { createTrack } from '../../../core/model/create'
import { testRegion, testSession } from '../../../core/model/fixture.test-util'
import type { Knot } from '../../../core/model/session'
import {
  isLevel,
  knotOutline,
  knotPlaces,
  knotRuns,
  lanePlace,
  regionPlace,
  sessionToSource,
  sourceToSession,
  stretchAt,
  threadRuns,
  type Run,
  valuePerPixel,
  valueToY,
  yToValue,
} from './thread-place'

const view = { left: 0, framesPerPixel: 100, top: 0, width: 800, height: 400, heights: [84] }
const knot = (frame: number, value: number, more: Partial<Knot> = {}): Knot => ({
  frame,
  value,
  shape: 'line',
  bend: 0,
  ...more,
})
const withLane = (knots: Knot[], lane: 'volume' | 'pan' = 'volume') =>
  testSession([], { lanes: { [lane]: { knots, bypassed: false, visible: true } } })
const place = (knots: Knot[], lane: 'volume' | 'pan' = 'volume') =>
  lanePlace(withLane(knots, lane), view, 't', lane, 0, 84)

/** All points of the drawn thread, run after run. */
const pointsOf = (runs: readonly Run[]) =>
  runs.map(({ d }) =>
    [...d.matchAll(/(-?[\d.]+) (-?[\d.]+)/g)].map(([, x, y]) => ({ x: Number(x), y: Number(y) })),
  )

const anyKnots = fc
  .uniqueArray(
    fc.record({
      frame: fc.integer({ min: 0, max: 79_999 }),
      value: fc.double({ min: 0, max: 1, noNaN: true }),
      shape: fc.constantFrom('line', 's-curve', 'hold'),
      bend: fc.double({ min: -1, max: 1, noNaN: true }),
    }),
    { selector: (k) => k.frame, minLength: 1, maxLength: 40 },
  )
  .map((knots) => knots.sort((a, b) => a.frame - b.frame) as Knot[])

test('heights and values are each other’s inverse: gains with the loudest at the top, pans with left at the top', () => {
  for (const [lane, top, bottom] of [
    ['volume', 1, 0],
    ['pan', -1, 1],
  ] as const) {
    const at = place([], lane)
    expect([valueToY(at, top), valueToY(at, bottom)]).toEqual([at.box.y, at.box.y + at.box.height])
    fc.assert(
      fc.property(
        fc.double({ min: Math.min(top, bottom), max: Math.max(top, bottom), noNaN: true }),
        (value) => expect(yToValue(at, valueToY(at, value))).toBeCloseTo(value, 9),
      ),
    )
    expect(yToValue(at, -1000)).toBe(top)
    expect(valueToY(at, yToValue(at, 30) + valuePerPixel(at) * 5)).toBeCloseTo(35, 9)
  }
})

test('the drawn thread lies on the thread: every point of it, to a twentieth of a pixel, and its runs hang together', () => {
  fc.assert(
    fc.property(anyKnots, (knots) => {
      const at = place(knots)
      const runs = pointsOf(threadRuns(view, at))
      const off = runs.flat().filter(({ x, y }) => {
        // A step is drawn from top to bottom: any height of it is right there. Places are rounded to a tenth
        // of a pixel.
        const near = knots.filter((k) => Math.abs(k.frame / 100 - x) <= 0.06).map((k) => k.value)
        const around = [
          ...near,
          ...[-0.06, -1e-6, 0, 0.06].map((d) => valueAt(at.kind, knots, (x + d) * 100)),
        ].map((value) => valueToY(at, value))
        return y < Math.min(...around) - 0.051 || y > Math.max(...around) + 0.051
      })
      expect(off).toEqual([])
      expect([runs[0]![0]!.x, runs.at(-1)!.at(-1)!.x]).toEqual([0, view.width + 4])
      for (const [i, run] of runs.entries()) if (i > 0) expect(run[0]).toEqual(runs[i - 1]!.at(-1))
    }),
  )
})

test('only a plain level line is cut straight where its columns meet', () => {
  expect(threadRuns(view, place([])).map((run) => isLevel(run.d))).toEqual(
    Array.from({ length: 7 }, () => true),
  )
  const slope = threadRuns(view, place([knot(0, 0.2), knot(20_000, 0.2), knot(80_000, 0.7)])).map((run) =>
    isLevel(run.d),
  )
  // Level up to 200 pixels, in the second column.
  expect(slope).toEqual([true, ...Array.from({ length: 6 }, () => false)])
})

test('a knot that is moved changes only the runs that it touches', () => {
  const knots = Array.from({ length: 60 }, (_, i) => knot(i * 1333, 0.4 + 0.2 * Math.sin(i)))
  const before = threadRuns(view, place(knots))
  const after = threadRuns(view, place(knots.map((k, i) => (i === 30 ? { ...k, value: 0.9 } : k))))
  expect(after).toHaveLength(before.length)
  const changed = before.filter((run, i) => run.d !== after[i]!.d)
  expect(changed.length).toBeGreaterThan(0)
  expect(changed.length).toBeLessThanOrEqual(2)
})

test('a sheet that goes on leaves the runs that both have as they were', () => {
  fc.assert(
    fc.property(anyKnots, (knots) => {
      const sheets = [
        { ...view, x0: 0, width: 512 },
        { ...view, x0: 128, width: 512 },
      ]
      const [before, after] = sheets.map(
        (sheet) =>
          new Map(
            threadRuns(sheet, lanePlace(withLane([...knots]), sheet, 't', 'volume', 0, 84)).map((run) => [
              run.column,
              run.d,
            ]),
          ),
      )
      // The outermost runs are cut off at the edges of each sheet.
      for (const column of [2, 3]) expect(after!.get(column)).toBe(before!.get(column))
    }),
  )
})

test('more knots than pixels are drawn as a line from the highest to the lowest of each pixel', () => {
  const knots = Array.from({ length: 8000 }, (_, i) => knot(i * 10, i % 2 ? 0.8 : 0.2))
  const at = place(knots)
  const points = pointsOf(threadRuns(view, at)).flat()
  expect(points.length).toBeLessThan(2 * 820)
  const [high, low] = [valueToY(at, 0.8), valueToY(at, 0.2)].map((y) => Number(y.toFixed(1)))
  expect(new Set(points.map((p) => p.y))).toEqual(new Set([high, low]))
})

test('knots are placed where the thread is drawn; a reversed region shows its thread from the end', () => {
  const session = {
    ...testSession([
      testRegion('r', { start: 1000, offset: 5000, length: 40_000, reversed: true, gainThreadId: 'g' }),
    ]),
    gainThreads: {
      g: { id: 'g', knots: [knot(2000, 0.5), knot(5000, 0.5), knot(25_000, 0.7), knot(44_999, 0.2)] },
    },
  }
  const region = session.regions.r!
  fc.assert(
    fc.property(fc.integer({ min: 1000, max: 40_999 }), (frame) =>
      expect(sourceToSession(region, sessionToSource(region, frame))).toBe(frame),
    ),
  )
  expect([sourceToSession(region, 44_999), sourceToSession(region, 5000)]).toEqual([1000, 40_999])
  const at = regionPlace(session, view, region, 0)
  // The first knot lies in hidden sound.
  expect(knotPlaces(view, at).map((k) => [k.index, k.x])).toEqual([
    [1, 409.99],
    [2, 209.99],
    [3, 10],
  ])
  expect(threadRuns(view, { ...at, from: 2e6, to: 3e6 })).toEqual([])
})

test('a place stays the same object while nothing of it changes, so that it need not be drawn anew', () => {
  const session = withLane([knot(0, 0.5)])
  const one = lanePlace(session, view, 't', 'volume', 0, 84)
  const other = { ...session, tracks: { ...session.tracks, u: createTrack('u', 'U', 1, 1) } }
  expect(lanePlace(other, view, 't', 'volume', 0, 84)).toBe(one)
  expect(lanePlace(other, view, 't', 'volume', 84, 84)).not.toBe(one)
  expect(lanePlace(other, { ...view }, 't', 'volume', 0, 84)).not.toBe(one)
})

test('outlines of knots: one path for each stretch of the screen, with a closed shape for every knot', () => {
  const places = [3, 60, 127, 129, 700].map((x, index) => ({ index, x, y: 20 }))
  const runs = knotRuns(places, false)
  expect(runs.map((run) => [run.column, run.d.split('z').length - 1])).toEqual([
    [0, 3],
    [1, 1],
    [5, 1],
  ])
  expect(runs[1]!.d).toBe(knotOutline(129, 20, false))
  expect(knotRuns([], true)).toEqual([])
})

test('the stretch under a frame', () => {
  const knots = [knot(10, 0), knot(20, 0), knot(20, 1), knot(40, 0)]
  expect([5, 10, 19.5, 20, 39, 40, 90].map((f) => stretchAt(knots, f))).toEqual([
    null,
    0,
    0,
    2,
    2,
    null,
    null,
  ])
})
