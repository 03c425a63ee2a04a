import fc from 'fast-check'
import { createTrack } from '../model/create'
import { testRegion, testSession } from '../model/fixture.test-util'
import { openSession } from '../model/check/open'
import { breachLine, brokenRules } from '../model/check/rules'
import type { Knot, Region, Session } from '../model/session'
import { planSession, Renderer, type SourceReader } from '.'
import { dbToHeight, UNITY_HEIGHT } from '../units/taper'
import { lastMove, movedGain, moveGain, moveGainBack, type GainMove } from '../edit'

const RATE = 48_000
const FRAMES = 2 * RATE
/** DC of 0.25: what comes out is the gain. */
const reader: SourceReader = { read: (_id, _channel, _frame, count, out) => void out.fill(0.25, 0, count) }

const knot = (frame: number, db: number, shape: Knot['shape'] = 'line', bend = 0): Knot => ({
  frame,
  value: dbToHeight(db),
  shape,
  bend,
})

function session(regions: Partial<Region>[], thread?: Knot[], lane?: Knot[]): Session {
  const base = testSession(
    regions.map((more, n) =>
      testRegion(`r${n}`, { length: RATE, gainThreadId: thread ? 'g' : null, ...more }),
    ),
  )
  return {
    ...base,
    gainThreads: thread ? { g: { id: 'g', knots: thread } } : {},
    tracks: {
      t: {
        ...createTrack('t', 'T', 1, 0),
        volumeDb: -3,
        lanes: lane ? { volume: { knots: lane, bypassed: false, visible: true } } : {},
      },
    },
  }
}

function rendered(of: Session): Float32Array {
  const out = new Float32Array(FRAMES)
  new Renderer(planSession(of), reader).render(0, out, new Float32Array(FRAMES))
  return out
}

/** How far two renders are apart outside of the ms after each of some frames. */
function apart(a: Session, b: Session, steps: readonly number[]): number {
  const [x, y] = [rendered(a), rendered(b)]
  let most = 0
  for (let i = 0; i < FRAMES; i++)
    if (!steps.some((s) => i >= s && i <= s + 49)) most = Math.max(most, Math.abs(x[i]! - y[i]!))
  return most
}

/** Moves, checks that the rules hold, and that the way back gives the same session. */
function moved(of: Session, move: GainMove): Session {
  const there = moveGain.apply(of, move)
  expect(brokenRules(there).map(breachLine)).toEqual([])
  expect(openSession(JSON.parse(JSON.stringify(there)))).toEqual(there)
  expect(there).not.toBe(of)
  expect(moveGainBack.apply(there, { trackId: 't' })).toEqual(of)
  return there
}

test('the clip gain of a region becomes a plateau of the volume lane: the same sound', () => {
  const of = session([{ start: 4000, clipGainDb: -7.3 }])
  const there = moved(of, { what: 'clip-gain', regionIds: ['r0'] })
  expect(there.regions.r0!.clipGainDb).toBe(0)
  expect(there.tracks.t!.lanes.volume!.knots).toHaveLength(4)
  expect(apart(of, there, [4000, 4000 + RATE])).toBeLessThan(1e-6)
})

test('also onto a lane that moves, and of several regions that touch', () => {
  const lane = [knot(0, -20), knot(30_000, 0, 's-curve'), knot(60_000, -12, 'line', 0.4), knot(90_000, -3)]
  const of = session([{ clipGainDb: 4 }, { start: RATE, length: 20_000, clipGainDb: -9 }], undefined, lane)
  const there = moved(of, { what: 'clip-gain', regionIds: ['r0', 'r1'] })
  expect(apart(of, there, [0, RATE, RATE + 20_000])).toBeLessThan(1e-6)
})

test('a gain thread onto a level fader, whole or a stretch of it: the same sound', () => {
  const thread = [knot(0, -3), knot(10_000, 4, 's-curve'), knot(30_000, -15, 'line', -0.3), knot(44_000, 0)]
  const of = session([{ start: 2000 }], thread)
  const whole = moved(of, { what: 'thread', regionIds: ['r0'], stretch: null })
  expect(whole.regions.r0!.gainThreadId).toBeNull()
  expect(apart(of, whole, [2000, 2000 + RATE])).toBeLessThan(1e-6)
  const part = moved(of, { what: 'thread', regionIds: ['r0'], stretch: { from: 15_000, to: 38_000 } })
  expect(part.regions.r0!.gainThreadId).not.toBeNull()
  expect(apart(of, part, [15_000, 38_000])).toBeLessThan(1e-6)
})

test('a thread that links hold on to is left as it is for the others', () => {
  const of = session([{}, { start: RATE }], [knot(0, -6), knot(RATE, -12)])
  const there = moved(of, { what: 'thread', regionIds: ['r0'], stretch: { from: 1000, to: 20_000 } })
  expect(there.regions.r1!.gainThreadId).toBe('g')
  expect(there.gainThreads.g).toBe(of.gainThreads.g)
  expect(there.regions.r0!.gainThreadId).not.toBe('g')
})

test('a stretch of the volume lane to the regions: a level one as clip gain, a moving one as a thread', () => {
  const lane = [
    knot(0, -3),
    knot(10_000, -3),
    knot(10_000, -9),
    knot(10_000 + RATE, -9),
    knot(10_000 + RATE, -3),
  ]
  const of = session([{ start: 10_000 }], undefined, lane)
  const level = moved(of, { what: 'volume', trackId: 't', from: 10_000, to: 10_000 + RATE })
  expect(level.regions.r0!.clipGainDb).toBeCloseTo(-6, 6)
  expect(apart(of, level, [10_000, 10_000 + RATE])).toBeLessThan(1e-6)
  const moving = session([{ start: 5000 }], undefined, [
    knot(0, -3),
    knot(20_000, -14, 's-curve'),
    knot(50_000, 2),
  ])
  const thread = moved(moving, { what: 'volume', trackId: 't', from: 12_000, to: 40_000 })
  expect(thread.regions.r0!.gainThreadId).not.toBeNull()
  expect(apart(moving, thread, [12_000, 40_000])).toBeLessThan(1e-6)
})

test('of a region that plays backwards, too', () => {
  const thread = [knot(0, -3), knot(10_000, 4), knot(30_000, -15), knot(44_000, 0)]
  const of = session([{ start: 2000, reversed: true }], thread)
  const there = moved(of, { what: 'thread', regionIds: ['r0'], stretch: { from: 12_000, to: 40_000 } })
  // Mirrored places lie a frame apart, and steps in the sound take the ms before them.
  expect(apart(of, there, [12_000 - 49, 12_000, 40_000 - 49, 40_000])).toBeLessThan(1e-4)
})

test('where both sides move, the level is the same within a hundredth of a dB', () => {
  const height = fc.double({ min: 0.2, max: 0.79, noNaN: true })
  const knots = fc
    .array(fc.record({ frame: fc.integer({ min: 0, max: RATE }), value: height }), {
      minLength: 2,
      maxLength: 4,
    })
    .map((list) =>
      list
        .sort((a, b) => a.frame - b.frame)
        .filter((k, i, all) => i === 0 || k.frame > all[i - 1]!.frame + 2000)
        .map((k): Knot => ({ ...k, shape: 'line', bend: 0 })),
    )
  fc.assert(
    fc.property(knots, knots, (thread, lane) => {
      const of = session([{}], thread, lane)
      const there = moveGain.apply(of, {
        what: 'thread',
        regionIds: ['r0'],
        stretch: { from: 3000, to: 40_000 },
      })
      const [a, b] = [rendered(of), rendered(there)]
      for (let i = 3100; i < 39_900; i += 97)
        if (Math.abs(20 * Math.log10(a[i]! / b[i]!)) > 0.01) throw new Error(`at ${i}: ${a[i]} and ${b[i]}`)
    }),
    { numRuns: 20 },
  )
})

test('what cannot be is said, and limits are told', () => {
  const problem = (of: Session, move: GainMove) => {
    const result = movedGain(of, move)
    return 'problem' in result ? result.problem : `limited by ${result.limitedDb.toFixed(1)}`
  }
  const faded = session([
    { clipGainDb: -3, length: RATE },
    { start: RATE - 4000, clipGainDb: -6 },
  ])
  const crossfades = {
    x: {
      id: 'x',
      leftId: 'r0',
      rightId: 'r1',
      law: 'equal-gain' as const,
      out: { curve: 'linear' as const, bend: 0 },
      in: { curve: 'linear' as const, bend: 0 },
    },
  }
  expect(problem({ ...faded, crossfades }, { what: 'clip-gain', regionIds: ['r0'] })).toMatch(
    /crossfaded and have different clip gains/,
  )
  // With the same gain both go, though only one was asked for.
  const same = session([{ clipGainDb: -6 }, { start: RATE - 4000, clipGainDb: -6 }])
  const both = moved({ ...same, crossfades }, { what: 'clip-gain', regionIds: ['r1'] })
  expect([both.regions.r0!.clipGainDb, both.regions.r1!.clipGainDb]).toEqual([0, 0])
  expect(problem(session([{}]), { what: 'clip-gain', regionIds: ['r0'] })).toMatch(/nothing to move/)
  expect(problem(session([{ clipGainDb: 20 }]), { what: 'clip-gain', regionIds: ['r0'] })).toBe(
    'limited by 5.0',
  )
  expect(problem(session([{}]), { what: 'volume', trackId: 't', from: 0, to: 4000 })).toMatch(/no lane/)
})

test('the way back is there only while nothing of it has changed', () => {
  const there = moveGain.apply(session([{ clipGainDb: -6 }]), { what: 'clip-gain', regionIds: ['r0'] })
  expect(lastMove(there, 't')).not.toBeNull()
  const changed = { ...there, regions: { r0: { ...there.regions.r0!, clipGainDb: 1 } } }
  expect(lastMove(changed, 't')).toBeNull()
  expect(moveGainBack.apply(changed, { trackId: 't' })).toBe(changed)
  expect(UNITY_HEIGHT).toBeCloseTo(0.63096, 5)
})
