import fc from 'fast-check'
import { LevelMeter } from './levels'
import { baseLevel, extentOf, levelsAbove, meanSquareOf } from './pyramid'

test('a sine of amplitude 0.5 on 0.1 of DC: peak 0.6, RMS sqrt(0.125 + 0.01)', () => {
  const meter = new LevelMeter()
  const sine = Float32Array.from(
    { length: 48000 },
    (_, n) => 0.1 + 0.5 * Math.sin((2 * Math.PI * 1000 * n) / 48000),
  )
  meter.add(sine.subarray(0, 1000))
  meter.add(sine.subarray(1000))
  expect(meter.levels().peak).toBeCloseTo(0.6, 6)
  expect(meter.levels().dc).toBeCloseTo(0.1, 6)
  expect(meter.levels().rms).toBeCloseTo(Math.sqrt(0.135), 6)
  expect(new LevelMeter().levels()).toEqual({ peak: 0, rms: 0, dc: 0 })
})

test('every level of the pyramid holds the true extent, and on whole entries the true mean square', () => {
  fc.assert(
    fc.property(
      fc.array(fc.float({ min: -1, max: 1, noNaN: true }), { minLength: 1, maxLength: 2000 }),
      (list) => {
        const samples = Float32Array.from(list)
        const extent = { min: 0, max: 0 }
        for (const level of levelsAbove(baseLevel(samples))) {
          extentOf(level, 0, samples.length, extent)
          expect(extent).toEqual({ min: Math.min(...samples), max: Math.max(...samples) })
        }
      },
    ),
    { numRuns: 50 },
  )
  const samples = Float32Array.from({ length: 4096 }, (_, n) => Math.sin(n))
  for (const level of levelsAbove(baseLevel(samples)))
    expect(meanSquareOf(level, 0, 4096)).toBeCloseTo(samples.reduce((sum, x) => sum + x * x, 0) / 4096, 6)
})
