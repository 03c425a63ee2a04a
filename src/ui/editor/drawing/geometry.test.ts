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
import { ROW_HEIGHT } from '../../../store/view'

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

test('a sheet stays the same while the screen is inside it, always covers the screen, and keeps its origin as long as it can', () => {
  let sheet = sheetFor(view, null)
  const origin = sheet.left
  let made = 1
  for (let left = 1000; left < 60_000; left += 100) {
    const v = { ...view, left, top: left / 100 }
    const next = sheetFor(v, sheet)
    if (next !== sheet) made++
    sheet = next
    const { from, to } = seenAcross(sheet)
    // Where it is on the sheet, there is all that the screen shows.
    expect(from).toBeLessThanOrEqual(frameToX(sheet, left))
    expect(to).toBeGreaterThanOrEqual(frameToX(sheet, left) + v.width)
    expect([sheet.left, sheet.top, from % SHEET_STEP, to % SHEET_STEP]).toEqual([
      origin,
      0,
      expect.closeTo(0),
      expect.closeTo(0),
    ])
  }
  // It is left behind every one to two steps, of 10 frames a pixel.
  expect(made).toBeGreaterThan(59_000 / (20 * SHEET_STEP))
  expect(made).toBeLessThan(59_000 / (10 * SHEET_STEP) + 2)
  expect(sheetFor({ ...view, left: 60_000, framesPerPixel: 11 }, sheet).left).toBe(60_000)
  // Places far from the origin would be told apart less finely.
  expect(sheetFor({ ...view, left: origin + 16_100 * 10 }, sheet).left).toBe(origin + 161_000)
  const phased = sheetFor({ ...view, left: 30_000 }, sheetFor(view, null, 64), 64)
  expect([(phased.x0! + SHEET_STEP) % SHEET_STEP, phased.width % SHEET_STEP]).toEqual([64, 0])
  // The sheet that was laid out ahead is not left at once for one without what lies ahead: it would go to and fro.
  let ahead = sheetFor(view, null)
  for (let left = 1000; left < 60_000; left += 100) {
    const v = { ...view, left }
    ahead = sheetFor(nearby(v), ahead)
    expect(sheetFor(v, ahead)).toBe(ahead)
    expect(sheetFor(nearby(v), ahead)).toBe(ahead)
  }
  // A window that has become small does not keep a sheet for a large one.
  expect(
    sheetFor({ ...view, left: 30_000, width: 200, height: 100 }, sheetFor({ ...view, left: 30_000 }, sheet))
      .width,
  ).toBeLessThan(200 + 4 * SHEET_STEP)
})
