import fc from 'fast-check'
import { kWeighting, LoudnessMeter, SURROUND_WEIGHT } from './loudness'
import { CorrelationMeter, TruePeakMeter } from './true-peak'

/** Stereo 1 kHz at levels in dBFS for seconds each, as the EBU's synthetic test signals are. */
function tone(parts: readonly (readonly [db: number, seconds: number])[], rate = 48000): Float32Array {
  const total = parts.reduce((sum, [, s]) => sum + Math.round(s * rate), 0)
  const out = new Float32Array(total)
  const step = (2 * Math.PI * 1000) / rate
  const { sin } = Math
  let n = 0
  for (const [db, seconds] of parts) {
    const amplitude = 10 ** (db / 20)
    for (const end = n + Math.round(seconds * rate); n < end; n++) out[n] = amplitude * sin(step * n)
  }
  return out
}

function measured(parts: readonly (readonly [number, number])[], rate = 48000) {
  const meter = new LoudnessMeter(rate, 2)
  const signal = tone(parts, rate)
  // Cut unevenly, as blocks come.
  for (let at = 0; at < signal.length; at += 10007)
    meter.add([signal.subarray(at, at + 10007), signal.subarray(at, at + 10007)])
  return { ...meter.loudness(), shortTerm: meter.shortTerm() }
}

const repeat = (times: number, parts: readonly (readonly [number, number])[]) =>
  Array.from({ length: times }, () => parts).flat()

test('K-weighting at 48 kHz has the coefficients of BS.1770', () => {
  const [shelf, highPass] = kWeighting(48000)
  expect(shelf.b0).toBeCloseTo(1.53512485958697, 10)
  expect(shelf.b1).toBeCloseTo(-2.69169618940638, 10)
  expect(shelf.a2).toBeCloseTo(0.73248077421585, 10)
  expect(highPass.a1).toBeCloseTo(-1.99004745483398, 10)
  expect(highPass.a2).toBeCloseTo(0.99007225036621, 10)
})

describe('EBU Tech 3341', () => {
  test.each([
    [1, [[-23, 20]], -23],
    [2, [[-33, 20]], -33],
    [
      3,
      [
        [-36, 10],
        [-23, 60],
        [-36, 10],
      ],
      -23,
    ],
    [
      4,
      [
        [-72, 10],
        [-36, 10],
        [-23, 60],
        [-36, 10],
        [-72, 10],
      ],
      -23,
    ],
    [
      5,
      [
        [-26, 20],
        [-20, 20.1],
        [-26, 20],
      ],
      -23,
    ],
  ] as const)('case %p: integrated', (_n, parts, wanted) =>
    expect(Math.abs(measured(parts).integrated - wanted)).toBeLessThanOrEqual(0.1),
  )
  test('cases 1 and 2: momentary and short-term too', () => {
    const one = measured([[-23, 20]])
    expect(Math.abs(one.momentaryMax + 23)).toBeLessThanOrEqual(0.1)
    expect(Math.abs(one.shortTermMax + 23)).toBeLessThanOrEqual(0.1)
  })
  test('case 6: five channels, those of the surround weighted', () => {
    const weights = [1, 1, 1, SURROUND_WEIGHT, SURROUND_WEIGHT]
    const meter = new LoudnessMeter(48000, 5, 0.1, weights)
    meter.add([-28, -28, -24, -30, -30].map((db) => tone([[db, 20]])))
    expect(Math.abs(meter.loudness().integrated + 23)).toBeLessThanOrEqual(0.1)
  })
  test('case 9: short-term stays at -23 from the third second on', () => {
    const { shortTerm } = measured(
      repeat(5, [
        [-20, 1.34],
        [-30, 1.66],
      ]),
    )
    expect(Math.max(...shortTerm.map((s) => Math.abs(s + 23)))).toBeLessThanOrEqual(0.1)
  })
  test('case 12: the momentary maximum', () =>
    expect(
      Math.abs(
        measured(
          repeat(25, [
            [-20, 0.18],
            [-30, 0.22],
          ]),
        ).momentaryMax + 23,
      ),
    ).toBeLessThanOrEqual(0.1))
  const silence = -400
  test('case 10: the short-term maximum of three seconds, wherever they begin', () => {
    for (let n = 0; n < 20; n++) {
      const { shortTermMax } = measured([
        [silence, 0.15 * n],
        [-23, 3],
        [silence, 1],
      ])
      expect(Math.abs(shortTermMax + 23)).toBeLessThanOrEqual(0.1)
    }
  })
  test('case 13: the momentary maximum of 400 ms, wherever they begin', () => {
    for (let n = 0; n < 20; n++) {
      const { momentaryMax } = measured([
        [silence, 0.02 * n],
        [-23, 0.4],
        [silence, 1],
      ])
      expect(Math.abs(momentaryMax + 23)).toBeLessThanOrEqual(0.1)
    }
  })
  test.each([
    [11, 'shortTerm', 3, 3],
    [14, 'momentary', 0.4, 0.4],
  ] as const)('case %p: each of 20 louder bursts is read while it goes by', (_n, kind, seconds, pause) => {
    const meter = new LoudnessMeter(48000, 2)
    for (let n = 0; n < 20; n++) {
      const signal = tone([
        [silence, pause],
        [-38 + n, seconds],
        [silence, pause],
      ])
      let most = -Infinity
      for (let at = 0; at < signal.length; at += 480) {
        const block = signal.subarray(at, at + 480)
        meter.add([block, block])
        most = Math.max(most, meter.now()[kind])
      }
      expect(Math.abs(most - (-38 + n))).toBeLessThanOrEqual(0.1)
    }
  })
  test.each([20, 21, 22, 23])('case %p: a peak between samples, at each quarter of one', (n) => {
    const shift = (n - 20) / 4
    // A burst at a quarter of the sample rate whose highest point lies `shift` samples behind frame 480: 0 dBTP.
    const meter = new TruePeakMeter()
    meter.add(
      Float32Array.from({ length: 960 }, (_, i) => {
        const t = i - 480 - shift
        return Math.cos((Math.PI / 2) * t) * Math.exp(-((t / 60) ** 2))
      }),
    )
    const db = 20 * Math.log10(meter.peak())
    expect(db).toBeLessThanOrEqual(0.2)
    expect(db).toBeGreaterThanOrEqual(-0.4)
  })
  test.each([[44100], [96000], [32000], [22050], [192000]])('the first case at %p Hz', (rate) =>
    expect(Math.abs(measured([[-23, 20]], rate).integrated + 23)).toBeLessThanOrEqual(0.1),
  )
  test.each([
    [15, 1 / 4, 0, 0.5, -6],
    [16, 1 / 4, Math.PI / 4, 0.5, -6],
    [17, 1 / 6, Math.PI / 3, 0.5, -6],
    [18, 1 / 8, (67.5 / 180) * Math.PI, 0.5, -6],
    [19, 1 / 4, Math.PI / 4, 1.41, 3],
  ])('case %p: true peak within +0.2 and -0.4 dB', (_n, frequency, phase, amplitude, wanted) => {
    const meter = new TruePeakMeter()
    meter.add(
      Float32Array.from(
        { length: 4800 },
        (_, n) =>
          amplitude * Math.sin(2 * Math.PI * frequency * n + phase) * Math.min(1, n / 480, (4800 - n) / 480),
      ),
    )
    const db = 20 * Math.log10(meter.peak())
    expect(db - wanted).toBeLessThanOrEqual(0.2)
    expect(db - wanted).toBeGreaterThanOrEqual(-0.4)
  })
})

test('a true peak is the highest of all eighths between samples and the parabolas through them, however it is looked for', () => {
  const bessel = (x: number) => {
    let [sum, term] = [1, 1]
    for (let k = 1; k < 40; k++) sum += term *= (x / (2 * k)) ** 2
    return sum
  }
  /** The size of the signal at an eighth of a sample; beyond its ends the sound is its mirror. */
  const sizeAt = (samples: readonly number[], eighth: number) => {
    const n = Math.floor(eighth / 8)
    const offset = eighth / 8 - n
    const last = samples.length - 1
    const at = (t: number) => samples[t < 0 ? -t : t > last ? 2 * last - t : t]!
    if (offset === 0) return Math.abs(at(n))
    let [sum, whole] = [0, 0]
    for (let t = n - 15; t <= n + 16; t++) {
      const x = t - n - offset
      const tap = (bessel(4.6 * Math.sqrt(1 - (x / 16) ** 2)) * Math.sin(Math.PI * x)) / (Math.PI * x)
      whole += tap
      sum += tap * at(t)
    }
    return Math.abs(sum / whole)
  }
  fc.assert(
    fc.property(
      fc.integer({ min: 100, max: 900 }),
      fc.integer({ min: 1, max: 1e6 }),
      fc.constantFrom(0, 1, 8),
      fc.integer({ min: 1, max: 300 }),
      (length, seed, decay, block) => {
        const sound = Float32Array.from(
          { length },
          (_, n) => Math.sin(n * n * seed * 0.001 + seed) * Math.exp((-decay * n) / length),
        )
        const points = Array.from({ length: 8 * length - 5 }, (_, k) => sizeAt([...sound], k - 1))
        let highest = Math.max(...points)
        for (let k = 1; k < points.length - 1; k++) {
          const [before, now, next] = [points[k - 1]!, points[k]!, points[k + 1]!]
          if (now >= before && now >= next && before - 2 * now + next < 0)
            highest = Math.max(highest, now - (next - before) ** 2 / (8 * (before - 2 * now + next)))
        }
        const meter = new TruePeakMeter()
        for (let at = 0; at < length; at += block) meter.add(sound.subarray(at, at + block))
        expect(meter.peak()).toBeCloseTo(highest, 12)
      },
    ),
    // A parabola around a sample that is itself higher than all points between samples.
    { numRuns: 20, examples: [[100, 284_242, 8, 1]] },
  )
})

test.each([44_100, 48_000, 96_000])(
  'at %i Hz the true peak of a tone up to 20 kHz is right within 0.05 dB',
  (rate) => {
    for (let hz = 500; hz <= 20_000; hz += 650) {
      const meter = new TruePeakMeter()
      // Rises and falls slowly, so that it is a tone; its phases are all of them.
      const frames = 6000
      meter.add(
        Float32Array.from(
          { length: frames },
          (_, n) =>
            0.8 * Math.sin((Math.PI * n) / frames) ** 2 * Math.sin((2 * Math.PI * hz * n) / rate + hz),
        ),
      )
      expect(Math.abs(20 * Math.log10(meter.peak() / 0.8))).toBeLessThan(0.05)
    }
  },
)

test.each([
  ['a sound that is DC from its first sample to its last', () => 0.5],
  ['a click at the very start', (n: number) => (n === 0 ? 0.5 : 0)],
  ['a click at the very end', (n: number, length: number) => (n === length - 1 ? 0.5 : 0)],
  ['a sine that is cut off at its highest', (n: number) => 0.5 * Math.cos(n * 0.05)],
] as const)('true peak of %s is what is in it', (_name, at) => {
  for (const length of [1, 20, 224, 256, 300, 1000]) {
    const meter = new TruePeakMeter()
    meter.add(Float32Array.from({ length }, (_, n) => at(n, length)))
    expect(20 * Math.log10(meter.peak())).toBeCloseTo(-6.02, 1)
  }
})

test.each([
  [
    1,
    [
      [-20, 20],
      [-30, 20],
    ],
    10,
  ],
  [
    2,
    [
      [-20, 20],
      [-15, 20],
    ],
    5,
  ],
  [
    3,
    [
      [-40, 20],
      [-20, 20],
    ],
    20,
  ],
  [
    4,
    [
      [-50, 20],
      [-35, 20],
      [-20, 20],
      [-35, 20],
      [-50, 20],
    ],
    15,
  ],
] as const)('EBU Tech 3342 case %p: loudness range', (_n, parts, wanted) =>
  expect(Math.abs(measured(parts).range - wanted)).toBeLessThanOrEqual(1),
)

test('silence is -Infinity, and the correlation of equal, opposite and unrelated channels is 1, -1 and 0', () => {
  expect(measured([[-200, 5]])).toMatchObject({ integrated: -Infinity, range: 0 })
  const x = Float32Array.from({ length: 48000 }, (_, n) => Math.sin(n * 0.1))
  const y = Float32Array.from({ length: 48000 }, (_, n) => Math.cos(n * 0.1))
  const of = (a: Float32Array, b: Float32Array) => {
    const meter = new CorrelationMeter()
    meter.add(a, b)
    return meter.correlation()
  }
  expect(of(x, x)).toBeCloseTo(1, 12)
  expect(
    of(
      x,
      x.map((v) => -v),
    ),
  ).toBeCloseTo(-1, 12)
  expect(of(x, y)).toBeCloseTo(0, 3)
  expect(of(x, new Float32Array(48000))).toBe(0)
})

test('silence after a sound soon is nothing at all, and what comes after it is measured as if nothing had been before', () => {
  const second = Float32Array.from({ length: 48000 }, (_, n) => 0.5 * Math.sin(n / 8))
  const after = new LoudnessMeter(48000, 1)
  for (const block of [second, new Float32Array(10 * 48000), second]) after.add([block])
  const fresh = new LoudnessMeter(48000, 1)
  fresh.add([second])
  // Steps of 100 ms: 1 s of sound, 10 s of silence (after half a second of it the filters would still hold
  // 1e-52), 1 s of sound.
  expect(after.steps.slice(15, 110)).toEqual(Array<number>(95).fill(0))
  expect(after.steps.slice(110)).toEqual(fresh.steps)
})
