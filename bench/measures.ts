import { CorrelationMeter } from '../src/core/measure/true-peak'
import { SoundMeter } from '../src/core/measure/sound-meter'

// All measures of a stereo file, beside its length in time and beside one sum of squares over the same samples.
const SECONDS = 60
const RATE = 48000
const frames = SECONDS * RATE
let seed = 1
const random = () => (seed = (seed * 48271) % 2147483647) / 2147483647
const SOUNDS = {
  'noise at full level': () => 2 * random() - 1,
  'a sine at full level': (n: number) => Math.sin((2 * Math.PI * 997 * n) / RATE),
  'beats over a tone': (n: number) =>
    (random() - 0.5) * Math.exp((-8 * ((2 * n) % RATE)) / RATE) +
    0.3 * Math.sin((2 * Math.PI * 110 * n) / RATE),
}

/** The median of three runs, in milliseconds. */
function timed(work: () => void): number {
  const times = [0, 1, 2].map(() => {
    const begun = performance.now()
    work()
    return performance.now() - begun
  })
  return times.sort((a, b) => a - b)[1]!
}

for (const [sound, at] of Object.entries(SOUNDS)) {
  const channels = [0, 1].map((c) => Float32Array.from({ length: frames }, (_, n) => at(n + 7 * c)))
  const measure = (meter: { add(block: readonly Float32Array[]): void }) => {
    for (let from = 0; from < frames; from += 4096)
      meter.add(channels.map((samples) => samples.subarray(from, from + 4096)))
  }
  const milliseconds = timed(() => measure(new SoundMeter(RATE, 2)))
  const yardstick = timed(() => {
    const sums = new CorrelationMeter()
    measure({ add: ([left, right]) => sums.add(left!, right!) })
  })
  console.log(
    JSON.stringify({
      bench: 'measures',
      sound,
      seconds: SECONDS,
      milliseconds: Math.round(milliseconds),
      timesRealTime: Math.round((1000 * SECONDS) / milliseconds),
      yardstickMilliseconds: Math.round(yardstick),
      ratio: Number((milliseconds / yardstick).toFixed(2)),
    }),
  )
}
