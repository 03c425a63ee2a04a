import { shortTermOf } from './short-term'

test('three seconds are averaged, columns show the loudest of theirs, and the unknown stays so', () => {
  const powers = new Float32Array(100).fill(0.01)
  powers.fill(0.1, 40, 100)
  const fine = shortTermOf(powers, 100, 0.1)
  expect(fine[30]).toBeCloseTo(-0.691 - 20, 4)
  expect(fine[69]).toBeCloseTo(-0.691 - 10, 4)
  // Half of the three seconds before the 55th step are loud.
  expect(fine[54]).toBeCloseTo(-0.691 + 10 * Math.log10((0.01 + 0.1) / 2), 4)
  const coarse = shortTermOf(powers, 2, 5)
  expect(coarse[0]).toBeCloseTo(fine[49]!, 9)
  expect(coarse[1]).toBeCloseTo(-0.691 - 10, 4)
  powers[50] = NaN
  expect(shortTermOf(powers, 100, 0.1)[60]).toBeNaN()
  expect(shortTermOf(powers, 100, 0.1)[81]).toBeCloseTo(-0.691 - 10, 4)
  expect(shortTermOf(new Float32Array(0), 3, 1)).toEqual(new Float64Array(3).fill(NaN))
})
