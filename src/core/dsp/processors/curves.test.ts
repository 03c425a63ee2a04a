import { bandResponseDb, echoesOf, equaliserResponseDb, saturated } from './curves'
import { gateReductionOfLevel, reductionOfLevel } from './level-curves'
import { gainToDb } from '../../units/decibel'
import { RATE, run, setup, sine } from './run.test-util'

const db = (gain: number) => gainToDb(Math.abs(gain))
const rms = (side: Float64Array) => Math.sqrt(side.reduce((sum, x) => sum + x * x, 0) / side.length)

const at = (values: Parameters<typeof setup>[1]) => setup('equaliser', values)

test('the curve of an equaliser is what it does to sines', () => {
  const of = at({
    'b1.on': 1,
    'b1.kind': 'low-cut',
    'b1.frequencyHz': 80,
    'b1.slope': 18,
    'b3.on': 1,
    'b3.frequencyHz': 2500,
    'b3.gainDb': -7,
    'b3.q': 2,
    'b5.on': 1,
    'b5.kind': 'high-shelf',
    'b5.frequencyHz': 9000,
    'b5.gainDb': 5,
    outputDb: 1.5,
  })
  const frequencies = [50, 120, 1000, 2500, 3300, 12_000, 19_000]
  const curve = equaliserResponseDb(of, 0, frequencies)
  frequencies.forEach((hz, i) => {
    const [out] = run(of, 'equaliser', [sine(RATE, hz)])
    expect(db(rms(out!.subarray(RATE / 2)) * Math.SQRT2)).toBeCloseTo(curve[i]!, 2)
  })
  expect(bandResponseDb(of, 1, 0, [100])).toBeNull()
  // A bell at its frequency has its gain, whatever the others do.
  expect(bandResponseDb(of, 2, 0, [2500])![0]).toBeCloseTo(-7, 2)
})

test('the curve of a compressor is what it does to steady levels, within its knee and beyond', () => {
  const [values, mostDb] = [{ thresholdDb: -24, ratio: 4, kneeDb: 12 }, 9]
  for (const level of [-40, -29, -24, -20, -14, -6, 0]) {
    const steady = new Float64Array(RATE / 2).fill(10 ** (level / 20))
    const [out] = run(setup('compressor', { ...values, mostDb, attackMs: 1 }), 'compressor', [steady])
    const reduced = -db(out!.at(-1)! / steady[0]!)
    expect(reduced).toBeCloseTo(reductionOfLevel(level, { ...values, maxReductionDb: mostDb }), 2)
  }
})

test('the curve of a gate is what it does to steady levels below its threshold', () => {
  const values = { thresholdDb: -30, ratio: 3, rangeDb: 35 }
  for (const level of [-60, -45, -35, -31]) {
    const steady = new Float64Array(RATE).fill(10 ** (level / 20))
    const [out] = run(setup('gate', { ...values, releaseMs: 20, holdMs: 0 }), 'gate', [steady])
    expect(-db(out!.at(-1)! / steady[0]!)).toBeCloseTo(gateReductionOfLevel(level, values), 2)
  }
})

test.each(['soft', 'hard', 'asymmetric'] as const)(
  'the curve of a %s saturator is what it makes of sound, but for DC',
  (shape) => {
    const values = { driveDb: 9, shape, mix: 0.7, outputDb: -2 }
    // Slow, where no filter of DC asks for more: the corner of a clamp has overtones beyond what a file holds.
    const tone = sine(RATE, shape === 'asymmetric' ? 700 : 5, 0.8)
    const [out] = run(setup('saturator', values), 'saturator', [tone])
    const bent = tone.map((x) => saturated(x, values))
    const dc = bent.reduce((sum, x) => sum + x, 0) / RATE
    for (let i = RATE / 2; i < RATE - 1000; i += 97) expect(out![i]).toBeCloseTo(bent[i]! - dc, 2)
  },
)

test('echoes come a time apart, each the feedback times the one before, until 60 dB below', () => {
  const echoes = echoesOf({ timeMs: 250, feedback: 0.5, mix: 0.5 })
  expect(echoes.slice(0, 2).map(({ ms }) => ms)).toEqual([250, 500])
  expect(echoes[0]!.db).toBeCloseTo(-6.02, 2)
  expect(echoes[1]!.db).toBeCloseTo(-12.04, 2)
  expect(echoes).toHaveLength(9)
  expect(echoesOf({ timeMs: 1, feedback: 0.98, mix: 1 })).toHaveLength(64)
})
