import { insertKindNames } from '../../model/insert-kinds'
import { seededRandom } from '../../units/random'
import { processorKind } from '.'
import { RATE, setup, sine, steady } from './run.test-util'

/** Half a second, in blocks. */
const BLOCKS = 24
const FRAMES = BLOCKS * 1024
/** So often each sound is processed at most; the quickest time of each counts. */
const ROUNDS = 60
const MOST = 1.2

/** Loud noise that swells four times a second. */
function ordinary(): Float64Array {
  const random = seededRandom(3)
  return Float64Array.from({ length: FRAMES }, (_, i) => {
    const level = 0.6 + 0.4 * Math.sin((8 * Math.PI * i) / RATE)
    return level * (2 * random() - 1)
  })
}

const ODD: Record<string, Float64Array> = {
  silence: steady(FRAMES, 0),
  'a full-scale square': sine(FRAMES, 100).map((x) => (x >= 0 ? 1 : -1)),
  'DC of 1': steady(FRAMES, 1),
  'numbers that are too small to be normal': Float64Array.from(Float32Array.from(sine(FRAMES, 3000, 1e-40))),
}

// Quickest times of turns that alternate: what else the machine does counts little.
test.each(insertKindNames)('%s takes no longer for odd sounds than for others', (kind) => {
  const sounds = [ordinary(), ...Object.values(ODD)]
  const workers = sounds.map((sound) => ({
    sound,
    processor: processorKind(kind).create(setup(kind, {}, 2)),
    quickest: Infinity,
  }))
  const buffers = [new Float64Array(1024), new Float64Array(1024)] as const
  let slow: string[] = []
  for (let round = 0; round < ROUNDS; round++) {
    for (const worker of workers) {
      const began = performance.now()
      for (let at = 0; at < FRAMES; at += 1024) {
        for (const side of buffers) side.set(worker.sound.subarray(at, at + 1024))
        worker.processor.process(buffers, round * FRAMES + at, 1024)
      }
      const took = performance.now() - began
      if (round >= 4) worker.quickest = Math.min(worker.quickest, took)
    }
    const [usual, ...odd] = workers.map(({ quickest }) => quickest)
    slow = Object.keys(ODD)
      .map((name, n) => ({ name, ratio: odd[n]! / usual! }))
      .filter(({ ratio }) => !(ratio <= MOST))
      .map(({ name, ratio }) => `${name}: ${ratio.toFixed(2)} times as long`)
    if (round > 8 && slow.length === 0) break
  }
  expect(slow).toEqual([])
})
