import fc from 'fast-check'
import { createTrack } from '../model/create'
import { testRegion, testSession } from '../model/fixture.test-util'
import type { Fade, Knot, Session } from '../model/session'
import { planSession, type PlanOptions } from './plan/plan'
import { Renderer } from './graph/run'
import type { Stage } from './stage'
import { spansNeeded } from './plan/spans'
import type { SourceReader } from './region/source-reader'

type Sounds = Record<string, Float32Array[]>

const reader = (sounds: Sounds): SourceReader => ({
  read: (id, channel, frame, count, out) => out.set(sounds[id]![channel]!.subarray(frame, frame + count)),
})

function rendered(
  session: Session,
  sounds: Sounds,
  frames: number,
  options: PlanOptions & { from?: number; stage?: Stage } = {},
) {
  const left = new Float32Array(frames)
  const right = new Float32Array(frames)
  new Renderer(planSession(session, options), reader(sounds)).renderStage(
    options.stage ?? 'mix',
    options.from ?? 0,
    left,
    right,
  )
  return { left, right }
}

const worst = (samples: Float32Array, formula: (n: number) => number) =>
  samples.reduce((most, x, n) => Math.max(most, Math.abs(x - formula(n))), 0)

const ones = new Float32Array(480000).fill(1)
const linear = (length: number): Fade => ({ kind: 'gain', length, curve: 'linear', bend: 0, level: 0 })

test('a 1 kHz sine at -20 dBFS, clip gain -6 dB, linear fade in of 1 s, volume -3 dB, pan R50 equals the closed formula', () => {
  const sine = Float32Array.from(
    { length: 480000 },
    (_, n) => 0.1 * Math.sin((2 * Math.PI * 1000 * n) / 48000),
  )
  const session = testSession([testRegion('a', { length: 96000, clipGainDb: -6, fadeIn: linear(48000) })], {
    volumeDb: -3,
    pan: 0.5,
  })
  const { left, right } = rendered(session, { s: [sine] }, 96000)
  const level = (n: number) =>
    0.1 *
    Math.sin((2 * Math.PI * 1000 * n) / 48000) *
    10 ** (-6 / 20) *
    Math.min(1, n / 48000) *
    10 ** (-3 / 20)
  // Pan 0.5: p = 0.75, θ = 67.5°.
  expect(worst(left, (n) => level(n) * Math.cos((0.75 * Math.PI) / 2))).toBeLessThan(1e-6)
  expect(worst(right, (n) => level(n) * Math.sin((0.75 * Math.PI) / 2))).toBeLessThan(1e-6)
})

test('a fade out ends with its region: f((end - n)/L)', () => {
  const { left } = rendered(
    testSession([testRegion('a', { length: 1000, fadeOut: { ...linear(400), curve: 'equal-power' } })], {
      pan: -1,
    }),
    { s: [ones] },
    1200,
  )
  expect(
    worst(left, (n) => (n >= 1000 ? 0 : Math.sin((Math.PI / 2) * Math.min(1, (1000 - n) / 400)))),
  ).toBeLessThan(1e-6)
})

test('pan laws at the centre: -3, -4.5 and -6 dB; balance leaves the near side alone', () => {
  for (const [panLaw, db] of [
    ['equal-power', -3.0103],
    ['-4.5', -4.5154],
    ['-6', -6.0206],
  ] as const) {
    const { left, right } = rendered(testSession([testRegion('a')], {}, { panLaw }), { s: [ones] }, 10)
    expect(20 * Math.log10(left[5]!)).toBeCloseTo(db, 3)
    expect(right[5]).toBeCloseTo(left[5]!, 7)
  }
  const stereo = testSession(
    [testRegion('a')],
    { channels: 2, pan: 0.5 },
    { sources: { s: { ...testSession([]).sources.s!, channels: 2 } } },
  )
  const { left, right } = rendered(stereo, { s: [ones, ones] }, 10)
  expect(left[0]).toBeCloseTo(Math.cos(Math.PI / 4), 7)
  expect(right[0]).toBe(1)
})

test('mute silences, solo leaves only the soloed, a muted region is left out, silence is silence', () => {
  const two = (a: object, b: object, region = {}) => ({
    ...testSession([testRegion('a', region), testRegion('b', { trackId: 'u' })], { pan: -1, ...a }),
    trackIds: ['t', 'u'],
    tracks: {
      t: { ...createTrack('t', 'T', 1, 0), pan: -1, ...a },
      u: { ...createTrack('u', 'U', 1, 1), pan: -1, ...b },
    },
  })
  const level = (session: Session) => rendered(session, { s: [ones] }, 4).left[2]
  expect(level(two({}, {}))).toBe(2)
  expect(level(two({ muted: true }, {}))).toBe(1)
  expect(level(two({ soloed: true }, {}))).toBe(1)
  expect(level(two({ soloed: true, muted: true }, {}))).toBe(0)
  expect(level(two({}, {}, { muted: true }))).toBe(1)
  expect(level(two({ volumeDb: null }, { volumeDb: null }))).toBe(0)
})

test('reversed plays the same frames backwards, polarity turns the sign', () => {
  const ramp = Float32Array.from({ length: 480000 }, (_, n) => n / 480000)
  const session = testSession(
    [testRegion('a', { offset: 1000, length: 500, reversed: true, polarity: -1 })],
    { pan: -1 },
  )
  const { left } = rendered(session, { s: [ramp] }, 500)
  expect(worst(left, (n) => -(1000 + 499 - n) / 480000)).toBeLessThan(1e-7)
})

test('a crossfade of a region with a copy of itself keeps the sound under equal gain', () => {
  const session = testSession(
    [testRegion('a', { length: 1000 }), testRegion('b', { start: 600, offset: 600, length: 1000 })],
    { pan: -1 },
    {
      crossfades: {
        x: {
          id: 'x',
          leftId: 'a',
          rightId: 'b',
          law: 'equal-gain',
          out: { curve: 'linear', bend: 0 },
          in: { curve: 'linear', bend: 0 },
        },
      },
    },
  )
  expect(worst(rendered(session, { s: [ones] }, 1600).left, () => 1)).toBeLessThan(1e-6)
})

test('unshaped leaves out gains, fades, threads and lanes', () => {
  const lanes = {
    volume: {
      knots: [{ frame: 0, value: 0.2, shape: 'line' as const, bend: 0 }],
      bypassed: false,
      visible: true,
    },
  }
  const session = testSession(
    [testRegion('a', { clipGainDb: -12, fadeIn: linear(500), gainThreadId: 'g' })],
    { pan: -1, lanes },
    { gainThreads: { g: { id: 'g', knots: [{ frame: 0, value: 0.3, shape: 'line', bend: 0 }] } } },
  )
  expect(worst(rendered(session, { s: [ones] }, 1000, { unshaped: true }).left, () => 1)).toBe(0)
  expect(rendered(session, { s: [ones] }, 1000).left[900]).toBeLessThan(0.1)
})

test('stages: a region after its gains, the track before its fader, after it', () => {
  const session = testSession([testRegion('a', { clipGainDb: -6 })], { trimDb: -3, volumeDb: -2, pan: -1 })
  const db = (stage: Stage) => 20 * Math.log10(rendered(session, { s: [ones] }, 10, { stage }).left[3]!)
  expect(db('clip')).toBeCloseTo(-6, 5)
  expect(db('insert')).toBeCloseTo(-9, 5)
  expect(db('track')).toBeCloseTo(-11, 5)
})

describe('cuts into blocks', () => {
  const knots = fc
    .array(
      fc.record({
        frame: fc.integer({ min: 0, max: 5000 }),
        value: fc.double({ min: 0, max: 1, noNaN: true }),
        shape: fc.constantFrom('line', 's-curve', 'hold'),
        bend: fc.double({ min: -1, max: 1, noNaN: true }),
      }),
      { maxLength: 6 },
    )
    .map((list) => (list as Knot[]).sort((a, b) => a.frame - b.frame))
  const noise = Float32Array.from({ length: 480000 }, (_, n) => Math.sin(n * n * 0.37) * 0.5)
  const lane = (k: Knot[]) => ({ knots: k, bypassed: false, visible: true })
  const sessions = fc
    .record({
      thread: knots,
      volume: knots,
      pan: knots,
      fadeIn: fc.integer({ min: 1, max: 900 }),
      overlap: fc.integer({ min: 1, max: 800 }),
      reversed: fc.boolean(),
      gain: fc.double({ min: -40, max: 20, noNaN: true }),
    })
    .map((c) =>
      testSession(
        [
          testRegion('a', {
            length: 2500,
            clipGainDb: c.gain,
            gainThreadId: 'g',
            fadeIn: linear(c.fadeIn),
            reversed: c.reversed,
          }),
          testRegion('b', { start: 2500 - c.overlap, offset: 7000, length: 2000 }),
        ],
        {
          pan: 0.3,
          lanes: { volume: lane(c.volume), pan: lane(c.pan.map((k) => ({ ...k, value: k.value * 2 - 1 }))) },
        },
        {
          gainThreads: { g: { id: 'g', knots: c.thread } },
          crossfades: {
            x: {
              id: 'x',
              leftId: 'a',
              rightId: 'b',
              law: 'equal-power',
              out: { curve: 'linear', bend: 0 },
              in: { curve: 'linear', bend: 0 },
            },
          },
        },
      ),
    )

  test.each([1, 64, 128, 4096])('of %p frames, and starts in the middle, change no bit', (block) => {
    fc.assert(
      fc.property(sessions, fc.integer({ min: 0, max: 4000 }), (session, start) => {
        const whole = rendered(session, { s: [noise] }, 5000)
        const renderer = new Renderer(planSession(session), reader({ s: [noise] }))
        for (let at = start; at < 5000; at += block) {
          const count = Math.min(block, 5000 - at)
          const left = new Float32Array(count)
          const right = new Float32Array(count)
          renderer.render(at, left, right)
          for (let i = 0; i < count; i++)
            if (left[i] !== whole.left[at + i] || right[i] !== whole.right[at + i])
              throw new Error(`frame ${at + i} differs`)
        }
      }),
      { numRuns: block === 1 ? 8 : 25 },
    )
  })

  test('what a render reads was announced', () => {
    fc.assert(
      fc.property(
        sessions,
        fc.integer({ min: 0, max: 4900 }),
        fc.integer({ min: 1, max: 3000 }),
        (session, from, count) => {
          const plan = planSession(session)
          const spans = spansNeeded(plan, from, count)
          const strict: SourceReader = {
            read(id, _channel, frame, length) {
              if (
                !spans.some((s) => s.sourceId === id && frame >= s.from && frame + length <= s.from + s.count)
              )
                throw new Error(`${frame} + ${length} was not announced`)
            },
          }
          new Renderer(plan, strict).render(from, new Float32Array(count), new Float32Array(count))
        },
      ),
      { numRuns: 40 },
    )
  })
})

test('an edit makes anew only the plans that it is about', () => {
  const before = testSession([
    testRegion('a'),
    testRegion('b', { start: 50_000, clipGainDb: 2 }),
    testRegion('c', { start: 100_000 }),
  ])
  const plans = (session: Session) => planSession(session).tracks[0]!.regions
  const first = plans(before)
  const b = { ...before.regions.b!, clipGainDb: -3 }
  const second = plans({ ...before, regions: { ...before.regions, b } })
  expect([second[0], second[2]].map((plan, i) => plan === first[i * 2])).toEqual([true, true])
  expect(second[1]!.gain).toBeCloseTo(10 ** (-3 / 20), 12)
  // A new crossfade beside it, or another gain thread, is something of its own.
  const threaded = plans({
    ...before,
    regions: { ...before.regions, c: { ...before.regions.c!, gainThreadId: 'g' } },
    gainThreads: { g: { id: 'g', knots: [{ frame: 0, value: 0.5, shape: 'line', bend: 0 }] } },
  })
  expect(threaded[2]!.thread).not.toBeNull()
  expect(first[2]!.thread).toBeNull()
})
