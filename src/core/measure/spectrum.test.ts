import { powerSpectrum } from './spectrum'

test('a sine of full scale at a line has a power of 1 there, a quarter of it on both sides, and nothing elsewhere', () => {
  const lines = powerSpectrum(
    Float32Array.from({ length: 1024 }, (_, n) => Math.sin((2 * Math.PI * 37 * n) / 1024)),
  )
  expect(lines).toHaveLength(513)
  expect(lines[37]).toBeCloseTo(1, 5)
  expect(lines[36]).toBeCloseTo(0.25, 5)
  expect(lines[38]).toBeCloseTo(0.25, 5)
  expect(lines.every((power, k) => Math.abs(k - 37) < 2 || power < 1e-12)).toBe(true)
})

test('a sample alone has the same power in every line, which is that of its own transform', () => {
  const samples = new Float64Array(64)
  samples[32] = 0.5
  // The window is 1 in the middle: |0.5|² times 16 / 64².
  for (const power of powerSpectrum(samples)) expect(power).toBeCloseTo((0.25 * 16) / 4096, 12)
})

test.each([0, 3, 1000])('%i samples have none', (length) => {
  expect(() => powerSpectrum(new Float64Array(length))).toThrow(RangeError)
})
