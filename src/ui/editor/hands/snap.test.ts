import { testRegion, testSession } from '../../../core/model/fixture.test-util'
import { caughtFrame, gridBeats, nearestGrid, snap, snapTargets, toNextGrid } from './snap'

// 120 bpm at 48 kHz: a beat is 24000 frames, a bar 96000.
const session = testSession(
  [testRegion('a', { start: 10000, length: 5000 }), testRegion('b', { start: 60000, length: 1000 })],
  {},
  { markers: [{ id: 'm', frame: 30000, name: 'gate' }] },
)
const targets = snapTargets(session, new Set(['b']), 41000.4, { from: 70000, to: 71000 })

test('the grid follows the zoom: beats, parts of beats, bars', () => {
  expect(gridBeats(session, 1000)).toBe(0.5)
  expect(gridBeats(session, 100)).toBe(1 / 16)
  expect(gridBeats(session, 5000)).toBeNull()
  expect(nearestGrid(session, 25000, 2000)).toBe(24000)
  expect(nearestGrid(session, 150000, 5000)).toBe(192000)
  expect(nearestGrid(session, 140000, 5000)).toBe(96000)
})

test.each([
  [[14800], 15000, 'the end of a'],
  [[30100], 30000, 'marker gate'],
  [[41200], 41000, 'the playhead'],
  [[70300], 70000, 'the range'],
  // Of two edges the one that is nearer to something catches.
  [[50200, 30050], 30000, 'marker gate'],
  // Another region's edge goes before the grid.
  [[9800], 10000, 'the start of a'],
  [[24200], 24000, 'the grid'],
])('edges at %p catch at %p: %s', (edges, frame, what) =>
  expect(snap(session, edges, targets, 500, 1000)).toMatchObject({ frame, what }),
)

test('nothing is caught that is far away, and what is dragged does not catch on itself', () => {
  expect(snap(session, [19000], targets, 500, 1000)).toBeNull()
  expect(targets.some((t) => t.what.endsWith(' b'))).toBe(false)
})

test('the nearest of grid and objects wins, at the same distance the object; a place is caught within reach', () => {
  // 120 bpm at 48 kHz: a beat is 24000 frames. At 100 frames a pixel the grid is a sixteenth of a beat, 1500 frames.
  const session = testSession([testRegion('a', { start: 24_400, length: 1000 })])
  const at = (frame: number) => snap(session, [frame], [{ frame: 24_400, what: 'a' }], 600, 100)
  expect(at(24_100)?.frame).toBe(24_000)
  expect(at(24_300)?.frame).toBe(24_400)
  expect(at(24_200)).toMatchObject({ frame: 24_400, what: 'a' })
  const caught = (frame: number) =>
    caughtFrame(
      { session, targets: snapTargets(session, new Set(), null, null), framesPerPixel: 100, scale: 'bars' },
      frame,
    ).frame
  expect([caught(24_050.4), caught(24_390), caught(26_900)]).toEqual([24_000, 24_400, 27_000])
})

test('a step of an arrow key puts things on the grid, from wherever they are', () => {
  // At 1000 frames a pixel the grid is half a beat: 12000 frames.
  const to = (frame: number, direction: 1 | -1) => frame + toNextGrid(session, frame, direction, 1000, 'bars')
  expect([to(13_000, 1), to(13_000, -1), to(12_000, 1), to(12_000, -1), to(11_999, 1)]).toEqual([
    24_000, 12_000, 24_000, 0, 12_000,
  ])
  expect(96_100 + toNextGrid(session, 96_100, -1, 5000, 'seconds')).toBe(96_000)
})

test('where two regions meet is a seam', () => {
  const touching = testSession([
    testRegion('a', { start: 10000, length: 5000 }),
    testRegion('b', { start: 15000, length: 1000 }),
  ])
  expect(
    snapTargets(touching, new Set(), null, null).find((t) => t.frame === 15000 && /seam/.test(t.what))?.what,
  ).toBe('the seam of a and b')
})
