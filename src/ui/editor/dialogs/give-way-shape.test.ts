import { usualGiveWay } from '../../../core/suggest/give-way'
import { afterDrag, handlesOf, PICTURE, pictureScale, type GiveWayShape } from './give-way-shape'

const shape: GiveWayShape = { attackMs: 150, lookAheadMs: 50, holdMs: 250, releaseMs: 600, depthDb: 9 }

test('the corners stand where the level changes, in proportion, all of them in the picture', () => {
  const scale = pictureScale(shape)
  const { begins, down, up, back } = handlesOf(shape, scale)
  // 150 ms down, 50 before the others, 600 of the others and 250 after them, 600 back: the whole takes 1650
  // ms and 12 % of it on either side.
  const ms = PICTURE.width / (1650 * 1.24)
  expect(scale.pixelsPerMs).toBeCloseTo(ms, 9)
  expect(begins.x).toBeCloseTo(198 * ms, 6)
  expect(down.x - begins.x).toBeCloseTo(150 * ms, 6)
  expect(scale.begin - down.x).toBeCloseTo(50 * ms, 6)
  expect(up.x - scale.end).toBeCloseTo(250 * ms, 6)
  expect(back.x - up.x).toBeCloseTo(600 * ms, 6)
  expect([begins.y, down.y, up.y, back.y]).toEqual([12, 12 + 9 * 1.6, 12 + 9 * 1.6, 12])
  // Deeper than 30 dB is not drawn deeper.
  expect(handlesOf({ ...shape, depthDb: 60 }, scale).down.y).toBe(60)
})

test.each([
  ['begins', -50, 5, false, { attackMs: 200 }],
  ['down', -52, 3.3, false, { lookAheadMs: 100, depthDb: 12.5 }],
  ['down', -52, 3.34, true, { lookAheadMs: 102, depthDb: 12.3 }],
  ['up', 98, -2, false, { holdMs: 350, depthDb: 7 }],
  ['back', 403, 9, false, { releaseMs: 1005 }],
  ['back', -900, 0, false, { releaseMs: 0 }],
  ['up', 20_000, 90, false, { holdMs: 10_000, depthDb: 60 }],
] as const)('the corner “%s” taken %d ms along and %d dB down', (name, ms, db, fine, change) => {
  expect(afterDrag(shape, name, ms, db, fine)).toEqual({ ...shape, ...change })
})

test('a shape keeps what the picture does not show', () => {
  expect(afterDrag(usualGiveWay, 'up', 50, 0, false)).toEqual({ ...usualGiveWay, holdMs: 300 })
})
