import { labelRoom, markerRoom } from './draw-ruler'

test('a label on the ruler is wholly seen, beside the one before it and beside the flags of markers', () => {
  const fits = labelRoom(200, [{ from: 60, to: 60 }])
  expect(fits(-3, 20)).toBe(false)
  expect(fits(5, 30)).toBe(true)
  // 4 pixels lie between two labels, and 8 on either side of the middle of a flag.
  expect(fits(38, 10)).toBe(false)
  expect(fits(39, 10)).toBe(true)
  expect(fits(53, 20)).toBe(false)
  expect(fits(68, 20)).toBe(true)
  expect(fits(181, 20)).toBe(false)
  expect(fits(180, 20)).toBe(true)
})

test('a marker’s name has the room up to the next marker, and never more than 90 pixels', () => {
  const view = { left: 0, framesPerPixel: 100, top: 0, width: 800, height: 100 }
  expect(markerRoom(view, 1000, null)).toBe(90)
  // 80 pixels lie between them, 24 of which are the two flags and what is between.
  expect(markerRoom(view, 1000, 9000)).toBe(56)
})
