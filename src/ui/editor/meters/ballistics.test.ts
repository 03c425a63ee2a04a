import { METER_FRAMES } from '../../../engine/playback'
import { Ballistics } from './ballistics'

/** The numbers of a strip on which both sides are a sine of an amplitude: its mean square is half of the amplitude's. */
const sine = (amplitude: number) => [
  amplitude,
  amplitude,
  ...[0, 1].map(() => (METER_FRAMES * amplitude ** 2) / 2),
]

test('a peak rises at once, falls by 24 dB a second, and its highest place is held', () => {
  const meter = new Ballistics()
  meter.step(sine(0.5), 0, 0.02)
  expect(meter.left.peak).toBe(0.5)
  for (let i = 0; i < 50; i++) meter.step(null, 0, 0.02)
  expect(20 * Math.log10(meter.left.peak / 0.5)).toBeCloseTo(-24, 6)
  expect(meter.left.hold).toBe(0.5)
  for (let i = 0; i < 30; i++) meter.step(null, 0, 0.02)
  expect(meter.left.hold).toBeLessThan(0.05)
})

test('RMS comes to that of a sine, 3 dB below its peak: 63 % of the way after 300 ms', () => {
  const meter = new Ballistics()
  for (let i = 0; i < 15; i++) meter.step(sine(0.8), 0, 0.02)
  expect(meter.right.rms ** 2).toBeCloseTo((0.8 ** 2 / 2) * (1 - Math.exp(-1)), 6)
  for (let i = 0; i < 300; i++) meter.step(sine(0.8), 0, 0.02)
  expect(meter.right.rms).toBeCloseTo(0.8 / Math.SQRT2, 6)
})

test('the clip light is for what passes full scale, not for what reaches it, and stays on', () => {
  const meter = new Ballistics()
  meter.step(sine(1), 0, 0.02)
  expect(meter.clipped).toBe(false)
  meter.step(sine(1.0001), 0, 0.02)
  meter.step(null, 0, 5)
  expect(meter.clipped).toBe(true)
  meter.putOut()
  expect(meter.clipped).toBe(false)
})
