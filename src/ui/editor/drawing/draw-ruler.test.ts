import { labelRoom } from './draw-ruler'

test('a label on the ruler is wholly seen, beside the one before it and beside the flags of markers', () => {
  const fits = labelRoom(200, [60])
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
