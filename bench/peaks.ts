import { baseLevel, levelsAbove } from '../src/core/measure/pyramid'

// Peaks of ten minutes of stereo, beside one pass of Math.max over the same samples.
const frames = 10 * 60 * 48000
const samples = Float32Array.from({ length: frames }, (_, n) => ((n * 7919) % 65536) / 65536 - 0.5)

function timed(work: () => void): number {
  work()
  const begun = performance.now()
  work()
  return performance.now() - begun
}

let most = 0
const yardstick = timed(() => {
  for (let c = 0; c < 2; c++) for (let i = 0; i < frames; i++) most = Math.max(most, samples[i]!)
})
const milliseconds = timed(() => {
  for (let c = 0; c < 2; c++) levelsAbove(baseLevel(samples))
})
console.log(
  JSON.stringify({
    bench: 'peaks',
    minutes: 10,
    channels: 2,
    milliseconds: Math.round(milliseconds),
    yardstickMilliseconds: Math.round(yardstick),
    ratio: Number((milliseconds / yardstick).toFixed(2)),
  }),
)
