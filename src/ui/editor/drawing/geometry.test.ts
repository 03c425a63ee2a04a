import fc from 'fast-check'
import { testRegion } from '../../../core/model/fixture.test-util'
import {
  boundedView,
  frameToX,
  markStep,
  nearby,
  overLanes,
  regionAt,
  regionBox,
  regionsIn,
  rowAt,
  rowTop,
  seenAcross,
  SHEET_STEP,
  sheetFor,
  visibleRegions,
  visibleRows,
  wholeFramesPerPixel,
  xToFrame,
  zoomedAbout,
} from './geometry'
import { ROW_HEIGHT } from '../../../store/view-slice'

const view = { left: 1000, framesPerPixel: 10, top: 0, width: 800, height: 400 }
const length = 1_000_000

test('frames and pixels', () => {
  expect(frameToX(view, 3000)).toBe(200)
  expect(xToFrame(view, 200)).toBe(3000)
})

test('zooming keeps the frame under the pointer, unless an end of the session is in the way', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 0, max: 800 }),
      fc.double({ min: 0.2, max: 5, noNaN: true }),
      (x, factor) => {
        const inner = { ...view, left: 400_000 }
        const zoomed = zoomedAbout(inner, x, factor, length, 5)
        expect(xToFrame(zoomed, x)).toBeCloseTo(xToFrame(inner, x), 6)
      },
    ),
  )
  expect(zoomedAbout({ ...view, left: 0 }, 400, 3, length, 5).left).toBe(0)
})

test('views stay inside their limits, and the limits reach from single frames to more than the whole session', () => {
  expect(boundedView({ ...view, framesPerPixel: 1e9 }, length, 5).framesPerPixel).toBeGreaterThan(
    length / 800,
  )
  expect(boundedView({ ...view, framesPerPixel: 1e-9 }, length, 5).framesPerPixel).toBeLessThan(1 / 16)
  expect(boundedView({ ...view, left: -5, top: 1e9 }, length, 9)).toMatchObject({
    left: 0,
    top: 9 * ROW_HEIGHT.first + ROW_HEIGHT.first / 2 - 400,
  })
  expect(wholeFramesPerPixel(length, 800) * 800).toBeGreaterThan(length)
})

test('only visible regions are found, whatever the scroll', () => {
  const regions = Array.from({ length: 50 }, (_, i) => testRegion(`r${i}`, { start: i * 1000, length: 900 }))
  fc.assert(
    fc.property(fc.integer({ min: 0, max: 60_000 }), (left) => {
      const v = { ...view, left }
      const { first, last } = visibleRegions(regions, v)
      const wanted = regions
        .filter((r) => r.start < left + 8000 && r.start + r.length > left)
        .map((r) => r.id)
      expect(regions.slice(first, last).map((r) => r.id)).toEqual(wanted)
    }),
  )
})

test('a region is found under the pointer and by sweeping', () => {
  const rows = [
    [testRegion('a', { start: 1000, length: 1000 })],
    [testRegion('b', { start: 3000, length: 1000 })],
  ]
  expect(regionBox(view, rows[1]![0]!, 1)).toMatchObject({ x: 200, width: 100 })
  expect(regionAt(rows[0]!, 1500)?.id).toBe('a')
  expect(regionAt(rows[0]!, 2000)).toBeNull()
  expect(regionsIn(view, rows, { x: 50, y: 10, width: 200, height: 100 })).toEqual(['a', 'b'])
  expect(regionsIn(view, rows, { x: 50, y: 10, width: 200, height: 20 })).toEqual(['a'])
})

test('marks of a ruler keep their distance', () => {
  expect(markStep(10, 45, [1, 2, 5, 10])).toBe(5)
  expect(markStep(0.5, 45, [1, 2, 5, 10])).toBe(160)
})

test('rows of any height with opened lanes below them are found from their places, and the places from the rows', () => {
  const sizes = fc.array(fc.tuple(fc.integer({ min: 28, max: 400 }), fc.integer({ min: 0, max: 300 })), {
    maxLength: 12,
  })
  fc.assert(
    fc.property(
      sizes,
      fc.boolean(),
      fc.integer({ min: 0, max: 3000 }),
      fc.integer({ min: 0, max: 20 }),
      (all, usual, top, row) => {
        const v = {
          ...view,
          top,
          below: all.map(([, lanes]) => lanes),
          ...(usual ? {} : { heights: all.map(([height]) => height) }),
        }
        const lanes = v.below[row] ?? 0
        const height = v.heights?.[row] ?? ROW_HEIGHT.first
        expect(rowTop(v, row + 1) - rowTop(v, row)).toBe(height + lanes)
        for (const inside of [0, height - 1, height + lanes - 1])
          expect(rowAt(v, rowTop(v, row) + inside)).toBe(row)
        expect(overLanes(v, rowTop(v, row) + height - 1)).toBe(false)
        if (lanes > 0) expect(overLanes(v, rowTop(v, row) + height)).toBe(true)
        const { first, last } = visibleRows(v, 30)
        expect(rowTop(v, last)).toBeGreaterThanOrEqual(Math.min(v.height, rowTop(v, 30)))
        if (first < 30) expect(rowTop(v, first + 1)).toBeGreaterThan(0)
      },
    ),
  )
})
