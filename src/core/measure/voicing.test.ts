import { seededRandom } from '../units/random'
import { VoicingMeter } from './voicing'

const RATE = 48_000
const STEP = 0.02

const voicing = (sound: Float32Array, channels = 1) => {
  const meter = new VoicingMeter(RATE, STEP)
  // Blocks of an odd length are as good as one.
  for (let at = 0; at < sound.length; at += 997)
    meter.add(Array.from({ length: channels }, () => sound.subarray(at, at + 997)))
  return meter.finish()
}
const sounding = (seconds: number, sample: (t: number) => number) =>
  Float32Array.from({ length: seconds * RATE }, (_, i) => sample(i / RATE))
/** Ten harmonics of a pitch, each 4 dB below the one before. */
const voice = (hz: number) => (t: number) =>
  Array.from({ length: 10 }, (_, k) => 0.2 * 0.63 ** k * Math.sin(2 * Math.PI * hz * (k + 1) * t)).reduce(
    (a, b) => a + b,
  )

test.each([80, 120, 210, 390])('harmonics of %d Hz are a voice in every step', (hz) => {
  const found = voicing(sounding(1, voice(hz)))
  expect(found).toHaveLength(50)
  expect(Math.min(...found)).toBeGreaterThan(0.9)
})

test('a gliding pitch with noise 10 dB below it is a voice; noise alone is none, and silence is nothing', () => {
  const random = seededRandom(3)
  const glide = sounding(1, (t) => {
    const phase = 2 * Math.PI * (150 * t + 30 * t * t)
    return 0.2 * Math.sin(phase) + 0.1 * Math.sin(2 * phase) + 0.08 * (random() - 0.5)
  })
  expect(Math.min(...voicing(glide, 2))).toBeGreaterThan(0.7)
  const breath = sounding(3, () => random() - 0.5)
  expect(Math.max(...voicing(breath))).toBeLessThan(0.5)
  expect(Math.max(...voicing(sounding(0.5, () => 0)))).toBe(0)
  expect(voicing(new Float32Array(0))).toEqual([])
  // A constant offset repeats itself, and is no voice.
  expect(Math.max(...voicing(sounding(0.5, () => 0.4)))).toBe(0)
})
