import fc from 'fast-check'
import { testRegion, testSession } from '../model/fixture.test-util'
import type { Knot, Lane, Session, Track } from '../model/session'
import { planSession } from './plan/plan'
import { Renderer } from './graph/run'
import { runs } from '../units/runs.test-util'

const ones = new Float32Array(480000).fill(1)
const lane = (knots: Knot[]): Lane => ({ bypassed: false, visible: true, knots })
const knot = (frame: number, value: number, shape: Knot['shape'] = 'line', bend = 0): Knot => ({
  frame,
  value,
  shape,
  bend,
})

const mono = (track: Partial<Track>, more: Partial<Session> = {}) =>
  testSession([testRegion('a', { length: 96000 })], track, more)
const stereo = (track: Partial<Track>) =>
  testSession(
    [testRegion('a', { length: 96000 })],
    { channels: 2, ...track },
    { sources: { s: { ...testSession([]).sources.s!, channels: 2 } } },
  )

/** Renders a session whose sound is 1 on the left and `right` on the right channel, in blocks of a size. */
function rendered(session: Session, frames: number, { right = 1, block = frames, from = 0 } = {}) {
  const sound = [ones, Float32Array.from(ones, () => right)]
  const renderer = new Renderer(planSession(session), {
    read: (_id, channel, frame, count, out) => out.set(sound[channel]!.subarray(frame, frame + count)),
  })
  const out = { left: new Float32Array(frames), right: new Float32Array(frames) }
  for (let at = 0; at < frames; at += block)
    renderer.renderStage(
      'mix',
      from + at,
      out.left.subarray(at, at + block),
      out.right.subarray(at, at + block),
    )
  return out
}

const worst = (samples: Float32Array, formula: (n: number) => number) =>
  samples.reduce((most, x, n) => Math.max(most, Math.abs(x - formula(n))), 0)

// The formulas as they are written down, worked out here without the code that renders.
const gainOf = (h: number) => 10 ** (12 / 20) * h ** 3
const line = (a: Knot, b: Knot, n: number) => {
  const u = (n - a.frame) / (b.frame - a.frame)
  const s =
    a.shape === 's-curve'
      ? (1 - Math.cos(Math.PI * u)) / 2
      : a.bend >= 0
        ? u ** (2 ** (3 * a.bend))
        : 1 - (1 - u) ** (2 ** (-3 * a.bend))
  return a.value + (b.value - a.value) * s
}
const threadAt = (knots: Knot[], n: number) => {
  if (n <= knots[0]!.frame) return knots[0]!.value
  for (let i = 1; i < knots.length; i++) if (n <= knots[i]!.frame) return line(knots[i - 1]!, knots[i]!, n)
  return knots.at(-1)!.value
}
const shaped = (low: number, high: number) => [
  knot(1000, high),
  knot(9000, low, 'line', 0.6),
  knot(20_000, high, 's-curve'),
  knot(31_000, low, 'line', -0.8),
  knot(47_000, (low + high) / 2),
]

test('a volume lane is its taper at every sample, for lines, bends and S-curves', () => {
  const knots = shaped(0.1, 0.9)
  const { left } = rendered(mono({ pan: -1, volumeDb: -9, lanes: { volume: lane(knots) } }), 48_000)
  expect(worst(left, (n) => gainOf(threadAt(knots, n)))).toBeLessThan(1e-6)
})

test('a pan lane follows the law of the session at every sample; a stereo track is balanced', () => {
  const knots = shaped(-1, 1)
  const laws = {
    'equal-power': (p: number) => [Math.cos((p * Math.PI) / 2), Math.sin((p * Math.PI) / 2)],
    '-4.5': (p: number) => [
      Math.sqrt((1 - p) * Math.cos((p * Math.PI) / 2)),
      Math.sqrt(p * Math.sin((p * Math.PI) / 2)),
    ],
    '-6': (p: number) => [1 - p, p],
  } as const
  for (const panLaw of ['equal-power', '-4.5', '-6'] as const) {
    const { left, right } = rendered(mono({ lanes: { pan: lane(knots) } }, { panLaw }), 48_000)
    const gains = (n: number) => laws[panLaw]((threadAt(knots, n) + 1) / 2)
    expect(worst(left, (n) => gains(n)[0]!)).toBeLessThan(1e-6)
    expect(worst(right, (n) => gains(n)[1]!)).toBeLessThan(1e-6)
  }
  const { left, right } = rendered(stereo({ lanes: { pan: lane(knots) } }), 48_000, { right: 0.5 })
  const far = (pan: number) => Math.cos((Math.abs(pan) * Math.PI) / 2)
  expect(worst(left, (n) => (threadAt(knots, n) > 0 ? far(threadAt(knots, n)) : 1))).toBeLessThan(1e-6)
  expect(worst(right, (n) => 0.5 * (threadAt(knots, n) < 0 ? far(threadAt(knots, n)) : 1))).toBeLessThan(1e-6)
})

test('both channels of a pair are placed by equal power with lanes of their own', () => {
  const [first, second] = [shaped(-1, 0.2), shaped(-0.3, 1)]
  const { left, right } = rendered(
    stereo({ panMode: 'pair', lanes: { panLeft: lane(first), panRight: lane(second) } }),
    48_000,
    { right: 0.25 },
  )
  const angle = (knots: Knot[], n: number) => ((threadAt(knots, n) + 1) / 2) * (Math.PI / 2)
  expect(worst(left, (n) => Math.cos(angle(first, n)) + 0.25 * Math.cos(angle(second, n)))).toBeLessThan(1e-6)
  expect(worst(right, (n) => Math.sin(angle(first, n)) + 0.25 * Math.sin(angle(second, n)))).toBeLessThan(
    1e-6,
  )
})

test('a step takes 1 ms as a raised cosine from where it is, and nothing jumps more than that', () => {
  const knots = [knot(0, 0.2, 'hold'), knot(4800, 0.8, 'hold'), knot(9600, 0.4)]
  const { left } = rendered(mono({ pan: -1, lanes: { volume: lane(knots) } }), 14_400)
  const step = (n: number, at: number, from: number, to: number) =>
    from + (to - from) * (n < at ? 0 : n >= at + 48 ? 1 : (1 - Math.cos((Math.PI * (n - at)) / 48)) / 2)
  expect(
    worst(left, (n) => gainOf(n < 9600 ? step(n, 4800, 0.2, 0.8) : step(n, 9600, 0.8, 0.4))),
  ).toBeLessThan(1e-6)
  // The steepest slope of a raised cosine over 48 frames is π/96 of its height; the taper makes it at most 3
  // h² as steep.
  const jump = left.reduce((most, x, n) => (n === 0 ? 0 : Math.max(most, Math.abs(x - left[n - 1]!))), 0)
  expect(jump).toBeLessThan(0.6 * (Math.PI / 96) * 10 ** (12 / 20) * 3 * 0.8 ** 2)
  // Two knots on one frame step as well.
  const doubled = [knot(100, 0.3), knot(100, 0.7)]
  const second = rendered(mono({ pan: -1, lanes: { volume: lane(doubled) } }), 400).left
  expect(worst(second, (n) => gainOf(step(n, 100, 0.3, 0.7)))).toBeLessThan(1e-6)
})

test('blocks do not matter, wherever a render begins', () => {
  const value = (low: number, high: number) => fc.double({ min: low, max: high, noNaN: true })
  const knots = (low: number, high: number) =>
    fc
      .array(
        fc.tuple(fc.nat(6000), value(low, high), fc.constantFrom('line', 's-curve', 'hold'), value(-1, 1)),
        { minLength: 1, maxLength: 8 },
      )
      .map((all) =>
        all
          .sort((a, b) => a[0] - b[0])
          .map(([frame, v, shape, bend]) =>
            knot(frame, v, shape as Knot['shape'], shape === 'line' ? bend : 0),
          ),
      )
  fc.assert(
    fc.property(
      knots(0, 1),
      knots(-1, 1),
      fc.constantFrom(1, 64, 127, 128, 4096),
      fc.nat(3000),
      (volume, pan, block, from) => {
        const session = mono({ lanes: { volume: lane(volume), pan: lane(pan) } })
        const whole = rendered(session, 3400)
        const part = rendered(session, 400, { block, from })
        expect(part.left.every((x, n) => x === whole.left[from + n])).toBe(true)
        expect(part.right.every((x, n) => x === whole.right[from + n])).toBe(true)
      },
    ),
    { numRuns: runs(6, 24) },
  )
})

test('a bypassed lane leaves the static value, and lanes of the mix act on all', () => {
  const knots = shaped(0.1, 0.9)
  const still = rendered(
    mono({ pan: -1, volumeDb: -6, lanes: { volume: { ...lane(knots), bypassed: true } } }),
    4800,
  )
  expect(worst(still.left, () => 10 ** (-6 / 20))).toBeLessThan(1e-6)
  const mixed = mono({ pan: -1 }, { mix: { ...testSession([]).mix, lanes: { volume: lane(knots) } } })
  expect(worst(rendered(mixed, 48_000).left, (n) => gainOf(threadAt(knots, n)))).toBeLessThan(1e-6)
})

test('the mix is balanced after its volume: the near side stays, the far one falls, at every sample of its lane and without one', () => {
  const [levels, pans] = [shaped(0.2, 0.8), shaped(-0.9, 0.7)]
  const far = (pan: number) => Math.cos((Math.abs(pan) * Math.PI) / 2)
  const mix = (change: Partial<Session['mix']>) =>
    mono({ pan: 0, lanes: {} }, { mix: { ...testSession([]).mix, ...change } })
  const still = rendered(mix({ pan: 0.5, volumeDb: -6 }), 480)
  // Equal power in the centre is cos 45°; half way to the right leaves cos 45° of the left.
  expect(worst(still.left, () => 10 ** (-6 / 20) * Math.SQRT1_2 * Math.SQRT1_2)).toBeLessThan(1e-6)
  expect(worst(still.right, () => 10 ** (-6 / 20) * Math.SQRT1_2)).toBeLessThan(1e-6)
  const session = mix({ lanes: { volume: lane(levels), pan: lane(pans) } })
  const moved = rendered(session, 48_000)
  const level = (n: number) => gainOf(threadAt(levels, n)) * Math.SQRT1_2
  expect(
    worst(moved.left, (n) => level(n) * (threadAt(pans, n) > 0 ? far(threadAt(pans, n)) : 1)),
  ).toBeLessThan(1e-6)
  expect(
    worst(moved.right, (n) => level(n) * (threadAt(pans, n) < 0 ? far(threadAt(pans, n)) : 1)),
  ).toBeLessThan(1e-6)
  for (const block of [1, 64, 4096])
    expect(rendered(session, 9000, { block, from: 300 })).toEqual(rendered(session, 9000, { from: 300 }))
})
