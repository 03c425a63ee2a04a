import { insertKindNames } from '../../model/inserts/insert-kinds'
import { seededRandom } from '../../units/random'
import { processorKind } from '.'
import { RATE, setup, sine, steady } from './run.test-util'

/** Half a second, in blocks. */
const BLOCKS = 24
const FRAMES = BLOCKS * 1024
/** So often each sound is processed at most. */
const ROUNDS = 60
/** The middle one of the last rounds counts: a gate comes to rest in silence after five seconds. */
const COUNTED = 15
const MOST = 1.2

const medianOf = (numbers: number[]) => numbers.sort((a, b) => a - b)[numbers.length >> 1]!

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

// A machine that other work shares runs at half its speed for a while: all sounds take turns block by block, so
// that it slows each of them alike, and are compared within a round.
test.each(insertKindNames)('%s takes no longer for odd sounds than for others', (kind) => {
  const sounds = [ordinary(), ...Object.values(ODD)]
  const workers = sounds.map((sound) => ({
    sound,
    processor: processorKind(kind).create(setup(kind, {}, 2)),
    took: 0,
  }))
  const buffers = [new Float64Array(1024), new Float64Array(1024)] as const
  const ratios = Object.keys(ODD).map((name) => ({ name, rounds: [] as number[] }))
  let slow: string[] = []
  for (let round = 0; round < ROUNDS; round++) {
    for (const worker of workers) worker.took = 0
    for (let at = 0; at < FRAMES; at += 1024)
      for (const worker of workers) {
        const began = performance.now()
        for (const side of buffers) side.set(worker.sound.subarray(at, at + 1024))
        worker.processor.process(buffers, round * FRAMES + at, 1024)
        worker.took += performance.now() - began
      }
    const [usual, ...odd] = workers.map(({ took }) => took)
    ratios.forEach(({ rounds }, n) => rounds.push(odd[n]! / usual!))
    if (round < COUNTED) continue
    slow = ratios
      .map(({ name, rounds }) => ({ name, ratio: medianOf(rounds.slice(-COUNTED)) }))
      .filter(({ ratio }) => !(ratio <= MOST))
      .map(({ name, ratio }) => `${name}: ${ratio.toFixed(2)} times as long`)
    if (slow.length === 0) break
  }
  expect(slow).toEqual([])
})
