import { RATE, run, setup, sine, steady } from './run.test-util'
import { processorKind } from '.'

const db = (x: number) => 20 * Math.log10(x)
const gain = (level: number) => 10 ** (level / 20)

/** What a static curve takes away of a level: threshold, ratio, knee. */
function asked(levelDb: number, thresholdDb: number, ratio: number, kneeDb: number): number {
  const over = levelDb - thresholdDb
  const slope = 1 - 1 / ratio
  if (2 * over <= -kneeDb) return 0
  return 2 * over < kneeDb ? (slope * (over + kneeDb / 2) ** 2) / (2 * kneeDb) : slope * over
}

test.each([
  [-30, -20, 4, 0],
  [-21, -20, 4, 6],
  [-19, -20, 4, 6],
  [-10, -24, 3, 6],
  [-3, -40, 100, 12],
])(
  'a level of %p dBFS over %p dBFS, ratio %p, knee %p dB: DC and a sine come out within 0.1 dB',
  (level, thresholdDb, ratio, kneeDb) => {
    const of = setup('compressor', { thresholdDb, ratio, kneeDb, attackMs: 1, releaseMs: 50 })
    const wanted = level - asked(level, thresholdDb, ratio, kneeDb)
    const [still] = run(of, 'compressor', [steady(RATE, gain(level))])
    expect(db(still!.at(-1)!)).toBeCloseTo(wanted, 6)
    const [tone] = run(of, 'compressor', [sine(RATE, 997, gain(level))])
    let peak = 0
    for (const x of tone!.subarray(RATE / 2)) peak = Math.max(peak, Math.abs(x))
    expect(Math.abs(db(peak) - wanted)).toBeLessThan(0.1)
  },
)

test('attack and release are the times in which the reduction has come 1 - 1/e of its way, within 5 %', () => {
  const [attackMs, releaseMs] = [20, 200]
  const of = setup('compressor', { thresholdDb: -20, ratio: 4, kneeDb: 0, attackMs, releaseMs })
  const input = new Float64Array(2 * RATE)
  input.fill(gain(-40), 0, 4800)
  input.fill(gain(-8), 4800, RATE)
  input.fill(gain(-40), RATE)
  const [out] = run(of, 'compressor', [input])
  const reduction = (frame: number) => db(input[frame]!) - db(out![frame]!)
  const full = asked(-8, -20, 4, 0)
  const reached = (from: number, is: (r: number) => boolean) => {
    let frame = from
    while (!is(reduction(frame))) frame++
    return ((frame - from) / RATE) * 1000
  }
  const part = 1 - 1 / Math.E
  expect(reached(4800, (r) => r >= full * part) / attackMs).toBeCloseTo(1, 1)
  expect(Math.abs(reached(4800, (r) => r >= full * part) / attackMs - 1)).toBeLessThan(0.05)
  // The detector holds what it heard for 5 ms; release is counted from there.
  const hold = RATE + 240
  expect(Math.abs(reached(hold, (r) => r <= full * (1 - part)) / releaseMs - 1)).toBeLessThan(0.05)
})

test('by RMS a sine is as loud as its mean square: 3.01 dB under its peak', () => {
  const of = setup('compressor', {
    thresholdDb: -30,
    ratio: 2,
    kneeDb: 0,
    attackMs: 1,
    releaseMs: 20,
    detector: 'rms',
  })
  const [out] = run(of, 'compressor', [sine(RATE, 1000, gain(-10))])
  let energy = 0
  for (const x of out!.subarray(RATE / 2)) energy += x * x
  // -13.01 dB RMS, 16.99 over the threshold, half of that taken away.
  expect(10 * Math.log10(energy / (RATE / 2))).toBeCloseTo(-13.01 - 16.99 / 2, 1)
})

test('both sides are turned down by the louder one; make-up and mix', () => {
  const of = setup(
    'compressor',
    { thresholdDb: -20, ratio: 100, kneeDb: 0, attackMs: 0.05, makeupDb: 6, mix: 0.5 },
    2,
  )
  const [left, right] = run(of, 'compressor', [steady(RATE, 1), steady(RATE, 0.01)])
  const factor = 0.5 + 0.5 * gain(6 - asked(0, -20, 100, 0))
  expect(left!.at(-1)).toBeCloseTo(factor, 9)
  expect(right!.at(-1)).toBeCloseTo(0.01 * factor, 9)
})

test('looking ahead it is down when the step comes; the sound is where it was', () => {
  const values = { thresholdDb: -20, ratio: 100, kneeDb: 0, attackMs: 0.5, lookAheadMs: 5 }
  const of = setup('compressor', values)
  const input = new Float64Array(RATE)
  input.fill(1, 9600)
  const [out] = run(of, 'compressor', [input])
  expect(processorKind('compressor').latencyFrames(of) % 64).toBe(0)
  expect(out![9599]).toBe(0)
  // Ten times the attack lie before the step: all but e^-10 of the reduction is there.
  expect(db(out![9600]!)).toBeCloseTo(-asked(0, -20, 100, 0), 2)
})

test('a detector that does not hear the bass leaves a bass tone alone; a limit holds the reduction', () => {
  const bass = sine(RATE, 50, 1)
  const peakOf = (x: Float64Array) => x.subarray(RATE / 2).reduce((p, v) => Math.max(p, Math.abs(v)), 0)
  const deaf = setup('compressor', { thresholdDb: -30, ratio: 4, kneeDb: 0, detectorCutHz: 500 })
  // 12 dB an octave, 3.32 octaves down: -40 dB, under the threshold.
  expect(peakOf(run(deaf, 'compressor', [bass])[0]!)).toBeCloseTo(1, 3)
  const limited = setup('compressor', { thresholdDb: -60, ratio: 20, kneeDb: 0, mostDb: 3, attackMs: 1 })
  expect(db(peakOf(run(limited, 'compressor', [bass])[0]!))).toBeCloseTo(-3, 6)
})
