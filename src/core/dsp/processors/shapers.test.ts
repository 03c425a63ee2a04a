import { clamp } from '../../units/clamp'
import { processorKind } from '.'
import { impulse, RATE, run, setup, sine, steady, transform } from './run.test-util'

const db = (x: number) => 20 * Math.log10(x)
const gain = (level: number) => 10 ** (level / 20)
const rms = (x: Float64Array) => Math.sqrt(x.reduce((sum, v) => sum + v * v, 0) / x.length)

/** The amplitude of a sound at a frequency over a whole number of seconds, under a Blackman–Harris window (-92 dB). */
function amplitudeAt(x: Float64Array, hz: number): number {
  let [re, im, sum] = [0, 0, 0]
  for (let i = 0; i < x.length; i++) {
    const t = (2 * Math.PI * i) / x.length
    const w = 0.35875 - 0.48829 * Math.cos(t) + 0.14128 * Math.cos(2 * t) - 0.01168 * Math.cos(3 * t)
    const angle = (2 * Math.PI * hz * i) / RATE
    re += w * x[i]! * Math.cos(angle)
    im -= w * x[i]! * Math.sin(angle)
    sum += w
  }
  return (2 * Math.hypot(re, im)) / sum
}

/** A first-order low cut at 5 Hz, bilinear, as its formula says. */
function withoutDc(x: Float64Array): Float64Array {
  const g = Math.tan((Math.PI * 5) / RATE)
  let [before, out] = [0, 0]
  return x.map((now) => {
    out = (now - before + (1 - g) * out) / (1 + g)
    before = now
    return out
  })
}

/** The sizes of the lines of a sound under a Blackman–Harris window of seven terms; its length is a power of two. */
function spectrum(x: Float64Array): Float64Array {
  const n = x.length
  const terms = [
    0.27105140069342, -0.43329793923448, 0.21812299954311, -0.06592544638803, 0.01081174209837,
    -0.00077658482522, 0.00001388721735,
  ]
  const re = x.map(
    (v, i) => v * terms.reduce((sum, a, k) => sum + a * Math.cos((2 * Math.PI * k * i) / n), 0),
  )
  const im = new Float64Array(n)
  transform(re, im)
  return Float64Array.from({ length: n / 2 }, (_, k) => Math.hypot(re[k]!, im[k]!))
}

describe('saturator', () => {
  test.each([
    ['soft', (u: number) => Math.tanh(u)],
    ['hard', (u: number) => clamp(u, -1, 1)],
    ['asymmetric', (u: number) => Math.tanh(u + 0.3) - Math.tanh(0.3)],
  ] as const)('%s is its curve, for a slow sine in its place', (shape, curve) => {
    const input = sine(9600, 50, 0.5)
    const [out] = run(setup('saturator', { driveDb: 12, shape, outputDb: -6 }), 'saturator', [input])
    const bent = input.map((x) => curve(gain(12) * x))
    const expected = shape === 'asymmetric' ? withoutDc(bent) : bent
    let worst = 0
    for (let i = 4800; i < 9000; i++) worst = Math.max(worst, Math.abs(out![i]! - gain(-6) * expected[i]!))
    // The corner of a clamp has overtones beyond what a file holds.
    expect(worst).toBeLessThan(shape === 'hard' ? 5e-4 : 1e-4)
  })

  test.each(['soft', 'hard', 'asymmetric'])(
    '%s: at 24 dB of drive what is no overtone of a tone of 1 to 10 kHz stays under -85 dB below 20 kHz',
    (shape) => {
      const frames = 16_384
      for (const wanted of [1000, 4999, 7777, 9371, 9999]) {
        const line = Math.round((wanted * frames) / RATE)
        const hz = (line * RATE) / frames
        const [out] = run(setup('saturator', { driveDb: 24, shape }), 'saturator', [
          sine(frames + 30_000, hz),
        ])
        const lines = spectrum(out!.subarray(29_000, 29_000 + frames))
        let worst = 0
        // The lines of DC, of the tone and of its overtones are as wide as the window makes them.
        for (let k = 9; k < (20_000 * frames) / RATE; k++)
          if (Math.abs(k - Math.round(k / line) * line) > 8) worst = Math.max(worst, lines[k]!)
        expect(db(worst / lines[line]!)).toBeLessThan(-85)
      }
    },
  )

  test('a curve that is not the same on both sides leaves no DC', () => {
    const [out] = run(setup('saturator', { driveDb: 24, shape: 'asymmetric' }), 'saturator', [
      sine(3 * RATE, 480, 0.8),
    ])
    const mean = out!.subarray(2 * RATE, 3 * RATE - 4800).reduce((sum, x) => sum + x, 0) / (RATE - 4800)
    expect(Math.abs(mean)).toBeLessThan(1e-6)
  })

  test('mixed with nothing wet it is the sound that came in, to the bit, a quantum late', () => {
    const input = sine(9600, 1000, 0.5)
    for (const shape of ['soft', 'hard', 'asymmetric'])
      expect([...run(setup('saturator', { driveDb: 24, mix: 0, shape }), 'saturator', [input])[0]!]).toEqual([
        ...input,
      ])
    expect(processorKind('saturator').latencyFrames(setup('saturator', {}))).toBe(64)
  })

  test.each([44_100, 48_000, 96_000])('at %i Hz dry and wet line up within -80 dB up to 15 kHz', (rate) => {
    // So soft that nothing is bent: what is left is how the wet sound lies beside the dry one.
    const at = 1000
    const size = 1e-3
    const [wet] = run(setup('saturator', { driveDb: 0 }, 1, rate), 'saturator', [
      impulse(3000, at).map((x) => x * size),
    ])
    for (let hz = 50; hz <= 15_000; hz += 299) {
      let [re, im] = [-1, 0]
      wet!.forEach((x, i) => {
        re += (x / size) * Math.cos((2 * Math.PI * hz * (i - at)) / rate)
        im -= (x / size) * Math.sin((2 * Math.PI * hz * (i - at)) / rate)
      })
      expect(db(Math.hypot(re, im))).toBeLessThan(-80)
    }
  })
})

describe('gate', () => {
  const of = (more: Record<string, number> = {}) =>
    setup('gate', {
      thresholdDb: -40,
      ratio: 3,
      rangeDb: 60,
      attackMs: 1,
      releaseMs: 20,
      holdMs: 10,
      ...more,
    })

  test('what is softer than the threshold falls by its distance times the ratio less 1, at most by the range', () => {
    const out = (level: number, more = {}) =>
      db(run(of(more), 'gate', [steady(RATE, gain(level))])[0]!.at(-1)!)
    expect(out(-30)).toBeCloseTo(-30, 6)
    expect(out(-45)).toBeCloseTo(-45 - 5 * 2, 4)
    expect(out(-60, { rangeDb: 12 })).toBeCloseTo(-60 - 12, 4)
  })

  test('it stays open within the hysteresis, and for as long as it holds', () => {
    const input = new Float64Array(RATE)
    input.fill(gain(-30), 0, 9600)
    input.fill(gain(-42), 9600, 19_200)
    input.fill(gain(-60), 19_200)
    const [out] = run(of({ hysteresisDb: 3, lookAheadMs: 0 }), 'gate', [input])
    const reduction = (i: number) => db(input[i]! / out![i]!)
    expect(reduction(19_000)).toBeCloseTo(0, 6)
    // 5 ms of the detector and 10 ms of hold.
    expect(reduction(19_200 + 700)).toBeCloseTo(0, 6)
    expect(reduction(19_200 + 720 + 960)).toBeGreaterThan(40 * (1 - 1 / Math.E) - 1)
    expect(reduction(RATE - 1)).toBeCloseTo(40, 2)
  })
})

describe('bands', () => {
  test('four bands that do nothing add up flat, and to the all-passes of their crossovers under -90 dB', () => {
    const quiet = Object.fromEntries(
      ['low', 'lowMid', 'highMid', 'high'].map((band) => [`${band}.thresholdDb`, 0]),
    )
    const frames = 16_384
    const [out] = run(setup('four-bands', quiet), 'four-bands', [impulse(frames)])
    const size = (hz: number) => {
      let [re, im] = [0, 0]
      for (let i = 0; i < frames; i++) {
        const angle = (2 * Math.PI * hz * i) / RATE
        re += out![i]! * Math.cos(angle)
        im -= out![i]! * Math.sin(angle)
      }
      return [re, im] as const
    }
    for (const hz of [20, 60, 120, 300, 1000, 2500, 6000, 12_000, 20_000]) {
      const [re, im] = size(hz)
      expect(Math.abs(db(Math.hypot(re, im)))).toBeLessThan(0.01)
      // Each all-pass (1 - √2·s + s²)/(1 + √2·s + s²) by bilinear transform, s = j·tan(πf/fs)/tan(πfc/fs).
      let [a, b] = [1, 0]
      for (const crossover of [120, 1000, 6000]) {
        const x = Math.tan((Math.PI * hz) / RATE) / Math.tan((Math.PI * crossover) / RATE)
        const phase = -2 * Math.atan2(Math.SQRT2 * x, 1 - x * x)
        ;[a, b] = [a * Math.cos(phase) - b * Math.sin(phase), a * Math.sin(phase) + b * Math.cos(phase)]
      }
      expect(db(Math.hypot(re - a, im - b))).toBeLessThan(-90)
    }
  })

  test('each band is turned down by itself, and can be listened to alone', () => {
    const tones = sine(RATE, 200, 0.5).map((x, i) => x + 0.5 * Math.sin((2 * Math.PI * 10_000 * i) / RATE))
    const values = {
      'low.thresholdDb': -20,
      'low.ratio': 100,
      'low.kneeDb': 0,
      'low.attackMs': 1,
      'high.thresholdDb': 0,
      // Far from the tones: a crossover leaves a little of each on its other side.
      crossover1Hz: 1000,
      crossover2Hz: 2000,
      crossover3Hz: 3000,
    }
    const out = run(setup('four-bands', values), 'four-bands', [tones])[0]!.subarray(RATE / 2)
    // Of -6 dBFS 14 over -20: by 100:1 all but a hundredth of it goes.
    expect(db(amplitudeAt(out, 200) / 0.5)).toBeCloseTo(-0.99 * 13.9, 0)
    expect(db(amplitudeAt(out, 10_000) / 0.5)).toBeCloseTo(0, 1)
    const alone = run(setup('four-bands', { ...values, alone: 'high' }), 'four-bands', [tones])[0]!
    expect(db(amplitudeAt(alone.subarray(RATE / 2), 200) / 0.5)).toBeLessThan(-80)
  })

  test('a de-esser turns sibilants down and leaves what lies below', () => {
    const of = setup('de-esser', { frequencyHz: 3000, thresholdDb: -30, ratio: 4, mostDb: 12 })
    const level = (hz: number) =>
      db(rms(run(of, 'de-esser', [sine(RATE, hz, 0.5)])[0]!.subarray(RATE / 2)) / rms(sine(RATE, hz, 0.5)))
    expect(level(300)).toBeCloseTo(0, 2)
    // 24 over the threshold, three quarters of it, at most 12.
    expect(level(12_000)).toBeCloseTo(-12, 0)
  })
})

test('width: 0 is mono, 2 doubles what differs; below a frequency sides do not differ', () => {
  const [left, right] = [sine(RATE, 1000, 0.5), sine(RATE, 1000, 0.1)]
  const mono = run(setup('width', { width: 0 }, 2), 'width', [left, right])
  const wide = run(setup('width', { width: 2 }, 2), 'width', [left, right])
  for (const i of [17, 1111, 40_001]) {
    expect(mono[0]![i]).toBeCloseTo((left[i]! + right[i]!) / 2, 12)
    expect(mono[1]![i]).toBe(mono[0]![i])
    expect(wide[0]![i]! - wide[1]![i]!).toBeCloseTo(2 * (left[i]! - right[i]!), 12)
  }
  const low = run(setup('width', { monoBelowHz: 500 }, 2), 'width', [sine(RATE, 50, 0.5), steady(RATE, 0)])
  const part = (side: Float64Array) => side.subarray(RATE / 2)
  // The side of 50 Hz is 40 dB down, 3.3 octaves under 500 Hz.
  expect(db(rms(part(low[0]!).map((x, i) => x - part(low[1]!)[i]!)) / rms(sine(RATE, 50, 0.5)))).toBeCloseTo(
    -40,
    0,
  )
})

test('transients: attack and sustain by what was asked, whatever the level', () => {
  const hit = (level: number) =>
    Float64Array.from({ length: RATE }, (_, i) =>
      i < 24_000 ? 0 : level * Math.sin(i * 0.5) * Math.exp(-(i - 24_000) / 4800),
    )
  const raised = (level: number, values: Record<string, number>, at: number) => {
    const input = hit(level)
    const [out] = run(setup('transients', values), 'transients', [input])
    return db(rms(out!.subarray(at, at + 24)) / rms(input.subarray(at, at + 24)))
  }
  for (const level of [0.5, 0.005]) {
    // 1 ms after it began: 0.63 of its energy against 0.033 is 13 dB.
    expect(raised(level, { attackDb: 9 }, 24_040)).toBeCloseTo(9, 0)
    expect(raised(level, { attackDb: 9 }, 40_000)).toBeCloseTo(0, 1)
    expect(raised(level, { sustainDb: -12 }, 24_040)).toBeCloseTo(0, 1)
    expect(raised(level, { sustainDb: -12 }, 44_000)).toBeLessThan(-4)
  }
  const [steadyOut] = run(setup('transients', { attackDb: 24, sustainDb: -24 }), 'transients', [
    sine(3 * RATE, 1000, 0.3),
  ])
  expect(db(rms(steadyOut!.subarray(2.5 * RATE)) / rms(sine(RATE, 1000, 0.3)))).toBeCloseTo(0, 1)
})
