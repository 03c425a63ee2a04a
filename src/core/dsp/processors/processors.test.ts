import { restoreState, saveState, scalarsOf } from './stateful'
import { clamp } from '../../units/clamp'
import fc from 'fast-check'
import type { InsertKindName } from '../../model/inserts/insert-kinds'
import type { Knot } from '../../model/session'
import { seededRandom } from '../../units/random'
import { processorKind } from '.'
import { firstDifference, impulse, RATE, run, setup, sine } from './run.test-util'
import { runs } from '../../units/runs.test-util'

const rms = (x: Float64Array) => Math.sqrt(x.reduce((s, v) => s + v * v, 0) / x.length)
const db = (x: number) => 20 * Math.log10(x)

describe('gain', () => {
  test('is a factor of 10^(dB/20), with one of each side; polarity, then sides swapped', () => {
    const sides = [
      Float64Array.of(1, 0.5, ...new Array<number>(62).fill(0)),
      Float64Array.of(0.25, 0, ...new Array<number>(62).fill(0)),
    ]
    const [left, right] = run(setup('gain', { gainDb: -6, leftDb: 3, invertRight: 1 }, 2), 'gain', sides, 64)
    expect(left![0]).toBeCloseTo(10 ** (-3 / 20), 12)
    expect(right![0]).toBeCloseTo(-0.25 * 10 ** (-6 / 20), 12)
    const swapped = run(setup('gain', { swap: 1 }, 2), 'gain', sides, 64)
    expect([swapped[0]![0], swapped[1]![0]]).toEqual([0.25, 1])
  })
  test('a mono sound becomes stereo only where its sides are to differ', () => {
    expect(processorKind('gain').channels(setup('gain', { gainDb: -6, swap: 1 }))).toBe(1)
    expect(processorKind('gain').channels(setup('gain', { leftDb: 1 }))).toBe(2)
  })
  test('takes DC out and is 3 dB down at 5 Hz', () => {
    const constant = new Float64Array(RATE * 2).fill(0.5)
    const [out] = run(setup('gain', { removeDc: 1 }), 'gain', [constant])
    expect(Math.abs(out!.at(-1)!)).toBeLessThan(1e-9)
    const [low] = run(setup('gain', { removeDc: 1 }), 'gain', [sine(RATE * 4, 5)])
    expect(db(rms(low!.subarray(RATE * 2)) * Math.SQRT2)).toBeCloseTo(-3.01, 2)
  })
})

describe('delay', () => {
  test('the wet sound begins one time after the dry one, each repeat is the feedback times the one before', () => {
    const [out] = run(setup('delay', { timeMs: 10, feedback: 0.5, mix: 0.25 }), 'delay', [impulse(4096)])
    const heard = [...out!.entries()].filter(([, x]) => x !== 0)
    const expected = [[0, 0.75], ...Array.from({ length: 8 }, (_, n) => [480 * (n + 1), 0.25 * 0.5 ** n])]
    expect(heard.slice(0, 9)).toEqual(expected.slice(0, heard.length))
    expect(heard.length).toBe(9)
  })
  test('from side to side: the first repeat is left, the second right, of what came in on both', () => {
    const [left, right] = run(setup('delay', { timeMs: 10, feedback: 0.5, mix: 1, pingPong: 1 }), 'delay', [
      impulse(2048),
    ])
    expect([left![480], right![480], left![960], right![960], left![1440]]).toEqual([1, 0, 0, 0.5, 0.25])
  })
  test('a note value is a time at the tempo', () => {
    const [out] = run(setup('delay', { noteValue: 0.25, feedback: 0, mix: 1 }), 'delay', [impulse(8192)])
    expect(out!.indexOf(1)).toBe(0.125 * RATE)
  })
  test('a note value comes to 16 s and is not cut short', () => {
    const rate = 8000
    const [out] = run(setup('delay', { noteValue: 32, feedback: 0, mix: 1 }, 1, rate), 'delay', [
      impulse(17 * rate),
    ])
    expect(out!.indexOf(1)).toBe(16 * rate)
  })
  test.each([
    ['low cut', { lowCutHz: 200 }, 200],
    ['high cut', { highCutHz: 3000 }, 3000],
  ])('its %s is 3 dB down where it is set, for every repeat', (_name, values, hz) => {
    const frames = RATE
    const [out] = run(setup('delay', { timeMs: 1, feedback: 0, mix: 1, ...values }), 'delay', [
      sine(frames, hz),
    ])
    expect(db(rms(out!.subarray(frames / 2)) * Math.SQRT2)).toBeCloseTo(-3.01, 1)
  })
  test('a new time crosses over between two taps without a step', () => {
    const hold = (frame: number, ms: number): Knot => ({
      frame,
      value: Math.log2(ms),
      shape: 'hold',
      bend: 0,
    })
    const frames = 40_000
    const [out] = run(
      setup('delay', { timeMs: [hold(0, 10), hold(9000, 33)], feedback: 0.5, mix: 1 }),
      'delay',
      [sine(frames, 100)],
    )
    const steps = out!.slice(4000).map((x, i, all) => (i ? Math.abs(x - all[i - 1]!) : 0))
    expect(steps.reduce((a, b) => Math.max(a, b), 0)).toBeLessThan(2.2 * ((2 * Math.PI * 100) / RATE))
    // Long after it, it is the delay of the new time.
    const [plain] = run(setup('delay', { timeMs: 33, feedback: 0.5, mix: 1 }), 'delay', [sine(frames, 100)])
    for (let i = 39_000; i < frames; i++) expect(out![i]).toBeCloseTo(plain![i]!, 4)
  })
  test('says how long it remembers: the repeats until -120 dBFS', () => {
    const { tailFrames } = processorKind('delay').memory(setup('delay', { timeMs: 100, feedback: 0.5 }))!
    expect(tailFrames).toBeGreaterThan(4800 * 20)
    const [out] = run(setup('delay', { timeMs: 100, feedback: 0.5, mix: 1 }), 'delay', [
      impulse(tailFrames + 4096),
    ])
    expect(out!.subarray(tailFrames).every((x) => Math.abs(x) < 1e-6)).toBe(true)
  })
})

describe('ceiling', () => {
  /** What gives the signal at 16 points from one sample to the next: a sinc of so many taps under a Kaiser window. */
  const pointTaps = (taps: number, beta: number) =>
    Array.from({ length: 16 }, (_, p) =>
      Float64Array.from({ length: taps }, (_unused, t) => {
        const x = t - taps / 2 + 1 - p / 16
        const inside = 1 - (x / (taps / 2)) ** 2
        if (inside < 0) return 0
        const window = bessel(beta * Math.sqrt(inside)) / bessel(beta)
        return window * (x === 0 ? 1 : Math.sin(Math.PI * x) / (Math.PI * x))
      }),
    )
  const bessel = (x: number) => {
    let [sum, term] = [1, 1]
    for (let k = 1; k < 60; k++) sum += term *= (x / (2 * k)) ** 2
    return sum
  }
  /** Both are flat to 0.95 of Nyquist and beyond, by 90 and 100 dB. */
  const POINTS = pointTaps(128, 8.6)
  const LONG_POINTS = pointTaps(256, 10)
  /** The largest size of the signal between its samples. */
  function truePeakDb(side: Float64Array, points = POINTS): number {
    const taps = points[0]!.length
    const padded = new Float64Array(side.length + taps)
    padded.set(side, taps / 2 - 1)
    let peak = 0
    for (let at = 0; at < side.length - 1; at++) {
      // Only near what could be the largest.
      if (Math.max(Math.abs(side[at]!), Math.abs(side[at + 1]!)) < 0.3 * peak) continue
      for (const row of points) {
        let sum = 0
        for (let t = 0; t < taps; t++) sum += padded[at + t]! * row[t]!
        peak = Math.max(peak, Math.abs(sum))
      }
    }
    return db(peak)
  }
  test('below it nothing is changed, to the bit', () => {
    const quiet = sine(8192, 997, 0.8)
    expect([...run(setup('ceiling', { ceilingDbtp: -1 }), 'ceiling', [quiet])[0]!]).toEqual([...quiet])
  })
  test.each(runs([5], [1, 5, 20]))(
    'with %i ms ahead true peaks stay under it by 0.1 dB at most, for sound below 0.42 of the rate',
    (lookAheadMs) => {
      fc.assert(
        fc.property(
          fc.array(
            fc.record({
              hz: fc.double({ min: 20, max: 0.42 * RATE, noNaN: true }),
              phase: fc.double({ min: 0, max: 6.28, noNaN: true }),
              level: fc.double({ min: 0.2, max: 2, noNaN: true }),
              start: fc.integer({ min: 0, max: 4000 }),
            }),
            { minLength: 1, maxLength: 4 },
          ),
          (parts) => {
            const frames = 8192
            const side = new Float64Array(frames)
            for (const { hz, phase, level, start } of parts) {
              const part = sine(frames, hz, level, phase)
              // Begins and ends over 2 ms, so that what does is below 0.42 of the rate, too.
              for (let i = start; i < frames - 128; i++)
                side[i] = side[i]! + part[i]! * Math.min(1, (i - start) / 96, (frames - 128 - i) / 96)
            }
            const [out] = run(setup('ceiling', { ceilingDbtp: -3, lookAheadMs, releaseMs: 30 }), 'ceiling', [
              side,
            ])
            expect(truePeakDb(out!)).toBeLessThan(-3 + 0.1)
          },
        ),
        { numRuns: 30 },
      )
    },
  )
  test.each(runs([44_100], [44_100, 48_000, 96_000]))(
    'at %i Hz white noise, clipped or not, random squares and clipped music stay under it, by meters that are flat to 0.95 of Nyquist',
    (rate) => {
      const random = seededRandom(rate)
      const noise = () => random() + random() + random() + random() - 2
      const frames = 6000
      const sounds: Record<string, (i: number) => number> = {
        'clipped noise': () => clamp(8 * noise(), -1, 1),
        'white noise': () => noise(),
        'random squares': () => (random() < 0.5 ? -1 : 1),
        'clipped music': (i) =>
          clamp(3 * Math.sin(i * 0.031) + 2 * Math.sin(i * 0.0977 + Math.sin(i * 0.001)), -1, 1),
        'an impulse': (i) => (i === 3000 ? 2 : 0),
      }
      for (const [name, at] of Object.entries(sounds)) {
        const side = Float64Array.from({ length: frames }, (_, i) => at(i))
        for (const lookAheadMs of [1, 5]) {
          const of = setup('ceiling', { ceilingDbtp: -1, lookAheadMs, releaseMs: 150 }, 1, rate)
          const [out] = run(of, 'ceiling', [side])
          for (const points of [POINTS, LONG_POINTS]) {
            const over = truePeakDb(out!, points) + 1
            if (!(over < 0.1)) throw new Error(`${name}, ${lookAheadMs} ms: over by ${over.toFixed(3)} dB`)
          }
        }
      }
    },
  )
  test('a steady level comes out at it, and both sides get one gain', () => {
    const [left, right] = [sine(RATE, 1000, 1), sine(RATE, 1000, 0.25)]
    const out = run(setup('ceiling', { ceilingDbtp: -6 }, 2), 'ceiling', [left, right])
    expect(truePeakDb(out[0]!.subarray(RATE - 2000))).toBeCloseTo(-6, 1)
    expect(db(rms(out[0]!.subarray(RATE / 2)) / rms(out[1]!.subarray(RATE / 2)))).toBeCloseTo(db(4), 6)
  })
  test('the reduction has come back by 1 - 1/e of its dB a release after the level fell', () => {
    const side = new Float64Array(RATE)
    for (let i = 0; i < RATE; i++) side[i] = (i < 12_000 ? 1 : 0.01) * Math.cos(Math.PI * i * 0.25)
    const [out] = run(setup('ceiling', { ceilingDbtp: -12, lookAheadMs: 1, releaseMs: 100 }), 'ceiling', [
      side,
    ])
    const gainDb = (i: number) => db(Math.abs(out![i]! / side[i]!))
    expect(gainDb(11_200)).toBeCloseTo(-12, 1)
    expect(gainDb(12_000 + 4800)).toBeCloseTo(-12 / Math.E, 0)
  })
})

/** Moves, stays, and jumps. */
const sweep: readonly Knot[] = [
  { frame: 0, value: 7, shape: 'line', bend: 0 },
  { frame: 3000, value: 12, shape: 'line', bend: 0 },
  { frame: 5000, value: 12, shape: 'hold', bend: 0 },
  { frame: 6001, value: 9, shape: 'line', bend: 0 },
]

test.each<[InsertKindName, Record<string, number | string | readonly Knot[]>]>([
  ['gain', { removeDc: 1, gainDb: 3 }],
  ['delay', { timeMs: 7, feedback: 0.7, lowCutHz: 100, highCutHz: 5000, mix: 0.5, pingPong: 1 }],
  ['ceiling', { ceilingDbtp: -9, releaseMs: 40 }],
  ['equaliser', { 'b1.on': 1, 'b1.gainDb': 9, 'b3.on': 1, 'b3.kind': 'low-cut', 'b3.slope': 18 }],
  [
    'equaliser',
    {
      'b1.on': 1,
      'b1.gainDb': 9,
      'b1.channel': 'mid',
      'b1.frequencyHz': sweep,
      'b2.on': 1,
      'b2.kind': 'notch',
    },
  ],
  ['gate', { thresholdDb: -6, holdMs: 2, releaseMs: 20, lookAheadMs: 3 }],
  ['de-esser', { thresholdDb: -40, frequencyHz: sweep }],
  ['four-bands', { 'high.thresholdDb': -50, 'low.bypassed': 1, crossover2Hz: 2000 }],
  ['saturator', { driveDb: 20, shape: 'asymmetric', mix: 0.7 }],
  ['room', { decaySeconds: 0.5, mix: 0.5 }],
  ['width', { width: 1.5, monoBelowHz: 200 }],
  ['transients', { attackDb: 12, sustainDb: -6 }],
  ['compressor', { thresholdDb: -30, attackMs: 1, detectorCutHz: 200, lookAheadMs: 3 }],
  [
    'compressor',
    { thresholdDb: -30, ratio: sweep.map((k) => ({ ...k, value: k.value / 7 })), detector: 'rms' },
  ],
])(
  '%s gives the same bits in blocks of 64, 128 and 1024, and after its state was saved and taken up again',
  (kind, values) => {
    const of = setup(kind, values, 2)
    const sides = [sine(8192, 441, 0.9), sine(8192, 5000, 0.7)]
    const once = run(of, kind, sides)
    for (const block of [64, 128]) expect(firstDifference(run(of, kind, sides, block), once)).toBe(-1)
    const processor = processorKind(kind).create(of)
    const state = new Float64Array(scalarsOf(processor.state))
    const part = (at: number) => {
      const sound = [new Float64Array(1024), new Float64Array(1024)] as const
      for (const c of [0, 1] as const) sound[c].set(sides[c]!.subarray(at, at + 1024))
      processor.process(sound, at - processor.latencyFrames, 1024)
      return sound
    }
    part(0)
    saveState(processor.state, state, 0)
    const first = part(1024)
    part(2048)
    restoreState(processor.state, state, 0)
    expect(firstDifference(part(1024), first)).toBe(-1)
  },
)
