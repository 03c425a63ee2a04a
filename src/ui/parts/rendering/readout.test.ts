import { readoutPlace } from './readout'

const area = { width: 800, height: 300 }

test.each([
  ['above the pointer', { x: 100, y: 200 }, area, { left: 100, top: 146 }],
  ['below where there is no room above', { x: 100, y: 40 }, area, { left: 100, top: 74 }],
  ['not over the right edge, nor the left one', { x: 790, y: 200 }, area, { left: 696, top: 146 }],
  ['not over the left edge', { x: 1, y: 200 }, area, { left: 4, top: 146 }],
  ['before the pointer in a low area', { x: 300, y: 44 }, { width: 800, height: 64 }, { left: 176, top: 34 }],
  [
    'after it where there is no room before',
    { x: 60, y: 5 },
    { width: 800, height: 50 },
    { left: 84, top: 4 },
  ],
  ['within a low area whole', { x: 300, y: 49 }, { width: 800, height: 52 }, { left: 176, top: 28 }],
])('what a gesture says stands %s', (_where, at, within, place) => {
  expect(readoutPlace(at, 100, within)).toEqual(place)
})
