import { AgainstMeter } from './against'
import { balanceOf, RegionMeter } from './region-meter'

const RATE = 48_000
const noise = (frames: number, seed: number) => {
  let s = seed
  return Float32Array.from({ length: frames }, () => {
    s = (s * 16_807) % 2_147_483_647
    return 0.2 * (s / 2_147_483_647 - 0.5)
  })
}

test('a stretch in which sides cancel is found to a tenth of a second, and nothing where they do not', () => {
  const left = noise(4 * RATE, 7)
  const right = left.map((x, i) => (i >= RATE && i < 2 * RATE ? -x : x))
  const meter = new AgainstMeter(RATE)
  for (let at = 0; at < left.length; at += 1000)
    meter.add(left.subarray(at, at + 1000), right.subarray(at, at + 1000))
  expect(meter.finish()).toEqual([{ from: RATE, to: 2 * RATE, correlation: expect.closeTo(-1, 9) as number }])
  const apart = new AgainstMeter(RATE)
  apart.add(left, noise(4 * RATE, 99))
  expect(apart.finish()).toEqual([])
  const soft = new AgainstMeter(RATE)
  soft.add(
    left.map((x) => x * 1e-3),
    left.map((x) => -x * 1e-3),
  )
  expect(soft.finish()).toEqual([])
})

test('left is held against right by peak, RMS and loudness', () => {
  const meter = new RegionMeter(RATE, 2)
  const left = noise(2 * RATE, 5)
  meter.add([left, left.map((x) => x / 2)])
  const measure = meter.finish()
  for (const kind of ['peak', 'rms', 'loudness'] as const)
    expect(balanceOf(measure, kind)).toBeCloseTo(6.02, 2)
})
