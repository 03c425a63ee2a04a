import { processorKind } from '../src/core/dsp/processors'
import { setup } from '../src/core/dsp/processors/run.test-util'
import { insertKindNames, type InsertKindName } from '../src/core/model/inserts/insert-kinds'

// Every kind of insert on a stereo strip on one core, beside its length in time and beside a filter of first order on the same samples.
const RATE = 48_000
const BLOCK = 1024
const BLOCKS = 100
const ROUNDS = 9
let seed = 1
const random = () => (seed = (seed * 48271) % 2147483647) / 2147483647
const sound = [0, 1].map(() => Float64Array.from({ length: BLOCKS * BLOCK }, () => 0.6 * random() - 0.3))

type Values = Parameters<typeof setup>[1]
const rows: { kind: InsertKindName; values: Values }[] = [
  ...insertKindNames.map((kind) => ({ kind, values: {} })),
  {
    kind: 'equaliser',
    values: Object.fromEntries(
      [1, 2, 3, 4].flatMap((b) => [
        [`b${b}.on`, 1],
        [`b${b}.gainDb`, 3],
      ]),
    ),
  },
  { kind: 'saturator', values: { driveDb: 24 } },
  { kind: 'saturator', values: { driveDb: 24, shape: 'hard' } },
  { kind: 'room', values: { size: 1, decaySeconds: 5 } },
]

const buffers = [new Float64Array(BLOCK), new Float64Array(BLOCK)] as const
function timed(work: (from: number) => void): number {
  const begun = performance.now()
  for (let at = 0; at < BLOCKS * BLOCK; at += BLOCK) {
    buffers.forEach((side, c) => side.set(sound[c]!.subarray(at, at + BLOCK)))
    work(at)
  }
  return performance.now() - begun
}

const states = [0, 0]
const yardstick = () =>
  timed(() =>
    buffers.forEach((side, c) => {
      let state = states[c]!
      for (let i = 0; i < BLOCK; i++) side[i] = state += 0.1 * (side[i]! - state)
      states[c] = state
    }),
  )
const median = (numbers: number[]) => numbers.sort((a, b) => a - b)[numbers.length >> 1]!

for (const { kind, values } of rows) {
  const processor = processorKind(kind).create(setup(kind, values, 2))
  let frame = 0
  const work = () => {
    processor.process(buffers, frame, BLOCK)
    frame += BLOCK
  }
  timed(work)
  const times = { ours: [] as number[], theirs: [] as number[] }
  // In turn, so that whatever else the machine does meets both.
  for (let round = 0; round < ROUNDS; round++) {
    times.ours.push(timed(work))
    times.theirs.push(yardstick())
  }
  const milliseconds = median(times.ours)
  console.log(
    JSON.stringify({
      bench: 'inserts',
      kind,
      values,
      timesRealTime: Math.round((BLOCKS * BLOCK * 1000) / RATE / milliseconds),
      nanosecondsAFrameAndSide: Number(((milliseconds * 1e6) / (2 * BLOCKS * BLOCK)).toFixed(1)),
      ratio: Number((milliseconds / median(times.theirs)).toFixed(1)),
    }),
  )
}
