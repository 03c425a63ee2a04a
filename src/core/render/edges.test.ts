import { tapeRate } from '../curve/tape'
import { expectedLevel, worstDeviation } from '../curve/crossfade'
import { seededRandom } from '../units/random'
import { testRegion, testSession } from '../model/fixture.test-util'
import type { Crossfade, Fade, GainFade, Knot, Region, Session } from '../model/session'
import { measureCorrelations, overlapRelation } from './plan/overlap'
import { planSession } from './plan/plan'
import { Renderer } from './graph/run'
import type { SourceReader } from './region/source-reader'

const RATE = 48000

/** A session with two mono sources "s" and "u", and what plays of it on the left. */
function heard(
  session: Session,
  sources: Record<string, Float32Array>,
  frames: number,
  blocks = [frames],
): Float32Array {
  const reader: SourceReader = {
    read: (id, _c, frame, count, out) => void out.set(sources[id]!.subarray(frame, frame + count)),
  }
  const renderer = new Renderer(
    planSession(session, { correlations: measureCorrelations(session, reader) }),
    reader,
  )
  const left = new Float32Array(frames)
  for (let at = 0, b = 0; at < frames; b++) {
    const count = Math.min(blocks[b % blocks.length]!, frames - at)
    renderer.render(at, left.subarray(at, at + count), new Float32Array(count))
    at += count
  }
  return left
}

const steady = new Float32Array(200000).fill(0.5)
const reference: Record<GainFade['curve'], (u: number) => number> = {
  linear: (u) => u,
  'equal-power': (u) => Math.sin((Math.PI * u) / 2),
  's-curve': (u) => (1 - Math.cos(Math.PI * u)) / 2,
  exponential: (u) => (10 ** (3 * (u - 1)) - 1e-3) / (1 - 1e-3),
  logarithmic: (u) => 1 - (10 ** (-3 * u) - 1e-3) / (1 - 1e-3),
}

describe('every curve, bend and level of a fade equals its formula within 1e-6', () => {
  const cases = (Object.keys(reference) as GainFade['curve'][]).flatMap((curve) =>
    [-0.7, 0, 0.4].flatMap((bend) =>
      [0, 0.2].map((level): [GainFade['curve'], number, number] => [curve, bend, level]),
    ),
  )
  test.each(cases)('%s, bend %d, level %d', (curve, bend, level) => {
    const fade: Fade = { kind: 'gain', length: 3000, curve, bend, level }
    const left = heard(
      testSession(
        [testRegion('a', { start: 100, length: 10000, fadeIn: fade, fadeOut: { ...fade, length: 4000 } })],
        { pan: -1 },
      ),
      { s: steady },
      10200,
    )
    const f = (u: number) => level + (1 - level) * reference[curve](u ** (2 ** (2 * bend)))
    let worst = 0
    for (let n = 100; n < 10100; n++)
      worst = Math.max(
        worst,
        Math.abs(left[n]! - 0.5 * (n < 3100 ? f((n - 100) / 3000) : n >= 6100 ? f((10100 - n) / 4000) : 1)),
      )
    expect(worst).toBeLessThan(1e-6)
  })
})

describe('crossfades', () => {
  const cross = (law: Crossfade['law'], more: Partial<Crossfade> = {}): Crossfade => ({
    id: 'x',
    leftId: 'a',
    rightId: 'b',
    law,
    out: { curve: 's-curve', bend: 0.3 },
    in: { curve: 'logarithmic', bend: 0 },
    ...more,
  })
  const [FROM, LENGTH] = [30000, 64000]
  /** Two regions that overlap from FROM for LENGTH frames, each on its own source at the place where it sounds. */
  const joined = (law: Crossfade['law'], rightSource = 'u', more: Partial<Region> = {}): Session => ({
    ...testSession(
      [
        testRegion('a', { length: FROM + LENGTH }),
        testRegion('b', {
          sourceId: rightSource,
          start: FROM,
          offset: FROM,
          length: LENGTH + 60000,
          ...more,
        }),
      ],
      { pan: -1 },
    ),
    sources: {
      s: { id: 's', name: 's', channels: 1, frames: 480000, sampleRate: RATE, sha256: '0'.repeat(64) },
      u: { id: 'u', name: 'u', channels: 1, frames: 480000, sampleRate: RATE, sha256: '1'.repeat(64) },
    },
    crossfades: { x: cross(law) },
  })
  const noise = (seed: number) => {
    const random = seededRandom(seed)
    return Float32Array.from({ length: 200000 }, () => (random() + random() + random() - 1.5) * 0.2)
  }
  const mixed = (x: Float32Array, z: Float32Array, rho: number) =>
    x.map((v, i) => rho * v + Math.sqrt(1 - rho * rho) * z[i]!)
  const power = (x: Float32Array, from: number, to: number) =>
    x.subarray(from, to).reduce((sum, v) => sum + v * v, 0) / (to - from)
  const [a, z] = [noise(1), noise(2)]

  test('the free law: each side follows its own curve and bend, worked out by hand and by the formulas', () => {
    // 1·f(out) of the left side and 0.5·f(in) of the right one: with the other silent, each gain can be read off.
    const silent = new Float32Array(200000)
    const sides = (more: Partial<Crossfade>) => {
      const session = { ...joined('free'), crossfades: { x: cross('free', more) } }
      const read = (sources: Record<string, Float32Array>) => heard(session, sources, FROM + LENGTH + 100)
      return { out: read({ s: steady, u: silent }), in: read({ s: silent, u: steady }) }
    }
    // S-curve bent by 0.3 out: v = (1-u)^(2^0.6), (1 - cos πv)/2. Logarithmic in: 1 - (10^(-3u) - 0.001)/0.999.
    const first = sides({})
    // Exponential bent by -0.5 out, equal power bent by 0.7 in.
    const second = sides({
      out: { curve: 'exponential', bend: -0.5 },
      in: { curve: 'equal-power', bend: 0.7 },
    })
    const byHand = [
      [0.25, 0.7222082554, 0.822995054, 0.3957433238, 0.0404720685],
      [0.5, 0.2726167592, 0.96934657, 0.131358419, 0.249507904],
      [0.75, 0.0364573753, 0.9953719587, 0.03065343, 0.6707343482],
    ] as const
    for (const [u, ...gains] of byHand) {
      const at = FROM + u * LENGTH
      const read = [first.out, first.in, second.out, second.in].map((side) => side[at]! / 0.5)
      gains.forEach((gain, i) => expect(read[i]).toBeCloseTo(gain, 6))
    }
    let worst = 0
    for (let i = 0; i < LENGTH; i += 7) {
      const u = i / LENGTH
      const [out, into] = [reference['s-curve']((1 - u) ** (2 ** 0.6)), reference.logarithmic(u)]
      worst = Math.max(
        worst,
        Math.abs(first.out[FROM + i]! - 0.5 * out),
        Math.abs(first.in[FROM + i]! - 0.5 * into),
      )
    }
    expect(worst).toBeLessThan(1e-6)
  })
  test.each(['equal-gain', 'equal-power', 'level', 'free'] as const)(
    '%s: the sum of a region with an identical copy has the level of the formula within 0.1 dB',
    (law) => {
      const session = joined(law, 's')
      const left = heard(session, { s: a }, FROM + LENGTH + 1000)
      for (let i = 1; i < 12; i++) {
        const at = FROM + Math.round((LENGTH * i) / 12)
        // Each sample is the same sample scaled, so the level is exact wherever it is looked at.
        const measured = 20 * Math.log10(Math.abs(left[at]! / a[at]!))
        expect(
          Math.abs(
            measured - expectedLevel(session.crossfades.x!, i / 12, { correlation: 1, out: 1, in: 1 }),
          ),
        ).toBeLessThan(0.1)
      }
    },
  )
  test.each(['equal-gain', 'equal-power', 'level', 'free'] as const)(
    '%s: the sum of two independent noises has the level of the formula within 0.3 dB',
    (law) => {
      const session = joined(law)
      const left = heard(session, { s: a, u: z }, FROM + LENGTH + 1000)
      const one = power(a, FROM, FROM + LENGTH)
      for (let i = 1; i < 10; i++) {
        const at = FROM + Math.round((LENGTH * i) / 10)
        const expected =
          [-0.04, -0.02, 0, 0.02, 0.04]
            .map(
              (d) =>
                10 **
                (expectedLevel(session.crossfades.x!, i / 10 + d, { correlation: 0, out: 1, in: 1 }) / 10),
            )
            .reduce((p, q) => p + q, 0) / 5
        expect(Math.abs(10 * Math.log10(power(left, at - 4800, at + 4800) / one / expected))).toBeLessThan(
          0.3,
        )
      }
    },
  )
  test.each([-0.5, 0, 0.5, 0.9, 1])(
    'the level law keeps the loudness of material of correlation %d within 0.3 dB',
    (rho) => {
      const b = mixed(a, z, rho)
      const session = joined('level')
      const left = heard(session, { s: a, u: b }, FROM + LENGTH + 30000)
      // The noise is long against a block but not endless: each block is held against what its own two
      // signals are there.
      let worst = 0
      for (let at = FROM - 9600; at + 9600 <= FROM + LENGTH + 9600; at += 4800)
        worst = Math.max(
          worst,
          Math.abs(
            10 *
              Math.log10(
                power(left, at, at + 9600) / ((power(a, at, at + 9600) + power(b, at, at + 9600)) / 2),
              ),
          ),
        )
      expect(worst).toBeLessThan(0.3)
      const relation = overlapRelation(session, session.crossfades.x!, {
        read: (id, _c, frame, count, out) =>
          void out.set((id === 's' ? a : b).subarray(frame, frame + count)),
      })
      expect(relation.correlation).toBeCloseTo(rho, 1)
      expect(
        Math.abs(worstDeviation(session.crossfades.x!, { correlation: rho, out: 1, in: 1 })),
      ).toBeLessThan(1e-9)
    },
  )
  test('what other laws do is said: equal power bulges by 3 dB on the same sound, equal gain dips by 3 dB on other', () => {
    expect(worstDeviation(cross('equal-power'), { correlation: 1, out: 1, in: 1 })).toBeCloseTo(3.01, 2)
    expect(worstDeviation(cross('equal-gain'), { correlation: 0, out: 1, in: 1 })).toBeCloseTo(-3.01, 2)
    expect(worstDeviation(cross('equal-power'), { correlation: 0, out: 1, in: 0.25 })).toBe(0)
  })
})

describe('a tape', () => {
  const sine = Float32Array.from(
    { length: 200000 },
    (_, n) => 0.5 * Math.sin((2 * Math.PI * 1000 * n) / RATE),
  )
  const taped = (edge: 'in' | 'out', k: number, more: Partial<Region> = {}) =>
    testSession(
      [
        testRegion('a', {
          start: 0,
          offset: 96000,
          length: 96000,
          [edge === 'in' ? 'fadeIn' : 'fadeOut']: { kind: 'tape', length: 48000, k } satisfies Fade,
          ...more,
        }),
      ],
      { pan: -1 },
    )

  test.each([
    ['out', 1],
    ['out', 0.5],
    ['out', 3],
    ['in', 1],
    ['in', 2],
  ] as const)(
    '%s with k %d: the frequency follows the rate within 0.5 %%, all else lies below -80 dB, and the rest stays in time',
    (edge, k) => {
      const left = heard(taped(edge, k), { s: sine }, 96000)
      const zone = edge === 'in' ? 0 : 48000
      // The exact position by the integral, and the sine there: what is left over is distortion and aliases.
      const position = (n: number) => {
        const u = (n - zone) / 48000
        return edge === 'out'
          ? 96000 + 48000 + (48000 / (k + 1)) * (1 - (1 - u) ** (k + 1))
          : 96000 + 48000 - (48000 / (k + 1)) * (1 - u ** (k + 1))
      }
      let [error, signal] = [0, 0]
      const [from, to] = edge === 'out' ? [48000, 96000 - 240] : [240, 48000]
      for (let n = from; n < to; n++) {
        const exact = 0.5 * Math.sin((2 * Math.PI * 1000 * position(n)) / RATE)
        error += (left[n]! - exact) ** 2
        signal += exact ** 2
      }
      expect(10 * Math.log10(error / signal)).toBeLessThan(-80)
      // Zero crossings a little apart tell the frequency.
      const crossings: number[] = []
      for (let n = from + 1; n < to; n++)
        if (left[n - 1]! <= 0 && left[n]! > 0)
          crossings.push(n - 1 + left[n - 1]! / (left[n - 1]! - left[n]!))
      for (let i = 5; i < crossings.length - 5; i += 9) {
        const period = crossings[i + 1]! - crossings[i]!
        const rate = tapeRate({ k }, edge, ((crossings[i]! + crossings[i + 1]!) / 2 - zone) / 48000)
        if (rate > 0.15) expect(Math.abs(RATE / period / (1000 * rate) - 1)).toBeLessThan(0.005)
      }
      const rest = edge === 'in' ? [48000, 96000] : [0, 48001]
      expect(left.slice(...rest).every((v, i) => v === sine[96000 + rest[0]! + i])).toBe(true)
      expect(Math.abs(left[48000]! - left[47999]!)).toBeLessThan(0.07)
      expect(Math.abs(left[edge === 'out' ? 95999 : 0]!)).toBeLessThan(0.003)
    },
  )
  test('the gain thread goes with the sound, reversed regions too, and blocks do not matter', () => {
    const knots: Knot[] = [
      { frame: 100000, value: 0.3, shape: 'line', bend: 0 },
      { frame: 170000, value: 0.7, shape: 'line', bend: 0 },
    ]
    const session = {
      ...taped('out', 1, {
        gainThreadId: 'g',
        reversed: true,
        fadeIn: { kind: 'tape', length: 20000, k: 2 },
      }),
      gainThreads: { g: { id: 'g', knots } },
    }
    const whole = heard(session, { s: steady }, 96000)
    expect(heard(session, { s: steady }, 96000, [1, 64, 127, 4096])).toEqual(whole)
    // Backwards from frame 191999: at frame n of the stop the thread is read where the tape is.
    for (const n of [50000, 70000, 90000]) {
      const u = (n - 48000) / 48000
      const at = 191999 - 48000 - 24000 * (1 - (1 - u) ** 2)
      const height = at < 100000 ? 0.3 : 0.3 + (0.4 * (at - 100000)) / 70000
      expect(whole[n]).toBeCloseTo(0.5 * 10 ** 0.6 * height ** 3, 4)
    }
  })
})
