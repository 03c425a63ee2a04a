import { mergedOverloads, overloadBeside } from './merged-overloads'

const over = (from: number, to: number, peak: number) => ({ trackId: null, from, to, peak })

test('overloads closer than a flag is wide are one, with the worst of their peaks', () => {
  const merged = mergedOverloads([over(500, 600, 1.2), over(0, 100, 1.1), over(150, 160, 1.5)], 100)
  expect(merged).toEqual([
    { trackId: null, from: 0, to: 160, peak: 1.5, count: 2 },
    { trackId: null, from: 500, to: 600, peak: 1.2, count: 1 },
  ])
  expect(overloadBeside(merged, 0, 1)?.from).toBe(500)
  expect(overloadBeside(merged, 500, -1)?.from).toBe(0)
  expect(overloadBeside(merged, 500, 1)).toBe(null)
})
