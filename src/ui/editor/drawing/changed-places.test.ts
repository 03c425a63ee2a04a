import { placesInView, viewOfPlaces } from './changed-places'

// 800 pixels of 100 frames: 80 000 frames are seen; four rows of 84 pixels, of which two fit.
const view = {
  left: 100_000,
  framesPerPixel: 100,
  top: 0,
  width: 800,
  height: 180,
  heights: [84, 84, 84, 84],
}
const tracks = ['a', 'b', 'c', 'd']
const place = (trackId: string | null, from?: number, to?: number) => ({
  trackId,
  span: from === undefined ? null : { from, to: to! },
})

test('where something of a change is seen, the view stays', () => {
  const places = [place('d', 0, 10), place('a', 179_000, 300_000)]
  expect(viewOfPlaces(view, tracks, places)).toBe(view)
  expect(placesInView(view, tracks, places)).toEqual([places[1]])
  expect(viewOfPlaces(view, tracks, [])).toBe(view)
})

test('else it goes along to the first place, or down to its track, at the same zoom', () => {
  // 15 % of 80 000 frames lie before it.
  expect(viewOfPlaces(view, tracks, [place('a', 400_000, 500_000)])).toEqual({ ...view, left: 388_000 })
  // The row of c begins at 168; in the middle of 180 pixels it leaves 48 above.
  expect(viewOfPlaces(view, tracks, [place('c')])).toEqual({ ...view, top: 120 })
  expect(viewOfPlaces(view, tracks, [place('gone', 0, 1)])).toBe(view)
})
