import fc from 'fast-check'
import { PLAYING_SLACK } from '../../dsp/processors'
import { createBus, createTrack } from '../../model/create'
import { testRegion, testSession } from '../../model/fixture.test-util'
import { openSession } from '../../model/check/open'
import { brokenRules, breachLine } from '../../model/check/rules'
import type { Insert, Send, Session, Track } from '../../model/session'
import { newGraphState, type GraphState } from './graph-memory'
import { fileStart, soundingEnd } from '../state/memory'
import { planSession } from '../plan/plan'
import { graphSession, noiseReader } from '../random-graph.test-util'
import { Renderer } from './run'
import type { SourceReader } from '../region/source-reader'
import { runs } from '../../units/runs.test-util'

type Sides = [Float32Array, Float32Array]
const room = (frames: number): Sides => [new Float32Array(frames), new Float32Array(frames)]

/** Renders a range from one call to the next, in blocks of the given lengths, again and again. */
function rendered(renderer: Renderer, from: number, to: number, lengths: readonly number[]): Sides {
  const sides = room(to - from)
  for (let at = from, n = 0; at < to; n++) {
    const count = Math.min(lengths[n % lengths.length]!, to - at)
    renderer.render(
      at,
      sides[0].subarray(at - from, at - from + count),
      sides[1].subarray(at - from, at - from + count),
    )
    at += count
  }
  return sides
}
const whole = (session: Session, frames: number, reader: SourceReader = noiseReader()) =>
  rendered(new Renderer(planSession(session), reader), 0, frames, [4096])

function expectSame(a: Sides, b: Sides, from = 0): void {
  for (const side of [0, 1] as const)
    for (let i = 0; i < b[side].length; i++)
      if (!Object.is(a[side][from + i]! + 0, b[side][i]! + 0))
        throw new Error(`side ${side} differs at ${from + i}: ${a[side][from + i]} and ${b[side][i]}`)
}

const FRAMES = 16_000
/** As what plays can. */
const playing = { slackFrames: PLAYING_SLACK }

describe('random graphs of tracks, buses, sends and inserts', () => {
  test('give the same bits however they are cut, and after saving and opening', () => {
    fc.assert(
      fc.property(
        graphSession,
        fc.array(fc.integer({ min: 1, max: 3000 }), { minLength: 1, maxLength: 6 }),
        (session, cuts) => {
          expect(brokenRules(session).map(breachLine)).toEqual([])
          const once = whole(session, FRAMES)
          expectSame(once, rendered(new Renderer(planSession(session), noiseReader()), 0, FRAMES, cuts))
          expectSame(once, whole(openSession(JSON.parse(JSON.stringify(session))), FRAMES))
          for (const side of once) expect(side.every(Number.isFinite)).toBe(true)
        },
      ),
      { numRuns: runs(20, 120) },
    )
  })

  test('with all inserts bypassed have the bits of graphs without any', () => {
    const each = (session: Session, change: (list: readonly Insert[]) => Insert[]): Session => {
      const of = <S extends { inserts: Insert[]; lanes: Track['lanes'] }>(strip: S): S => ({
        ...strip,
        inserts: change(strip.inserts),
        lanes: Object.fromEntries(Object.entries(strip.lanes).filter(([key]) => !key.startsWith('insert:'))),
      })
      const rows = <S extends Track>(all: Record<string, S>) =>
        Object.fromEntries(Object.entries(all).map(([id, row]) => [id, of(row)]))
      return {
        ...session,
        tracks: rows(session.tracks),
        buses: rows(session.buses) as Session['buses'],
        mix: { ...of(session.mix), lastInserts: change(session.mix.lastInserts ?? []) },
      }
    }
    fc.assert(
      fc.property(graphSession, (session) => {
        const bypassed = each(session, (list) => list.map((i) => ({ ...i, bypassed: true })))
        expectSame(
          whole(bypassed, FRAMES),
          whole(
            each(session, () => []),
            FRAMES,
          ),
        )
      }),
      { numRuns: runs(8, 40) },
    )
  })

  test('a file of a range has the bits of the whole file', () => {
    fc.assert(
      fc.property(graphSession, fc.integer({ min: 1, max: 60_000 }), (session, from) => {
        // A second region long after the first: everything may be forgotten in between.
        const late = {
          ...session.regions['r0-0']!,
          id: 'late',
          start: 55_000,
          length: 3000,
          fadeIn: null,
          fadeOut: null,
        }
        const longer = { ...session, regions: { ...session.regions, late } }
        const plan = planSession(longer)
        const start = fileStart(plan, from)
        expect(start).toBeLessThanOrEqual(from)
        const part = rendered(new Renderer(plan, noiseReader()), start, from + 1500, [777])
        const all = whole(longer, from + 1500)
        expectSame(all, [part[0].subarray(from - start), part[1].subarray(from - start)], from)
      }),
      { numRuns: runs(14, 80) },
    )
  })

  test('rendering goes on from what was remembered, wherever it goes back to', () => {
    fc.assert(
      fc.property(
        graphSession,
        fc.integer({ min: 40, max: 2000 }),
        fc.array(fc.nat(6000), { minLength: 1, maxLength: 4 }),
        (session, block, backs) => {
          const once = whole(session, FRAMES)
          const renderer = new Renderer(planSession(session), noiseReader(), playing)
          const states: { frame: number; state: GraphState }[] = []
          let frame = 0
          for (const back of [...backs, 0]) {
            while (frame < FRAMES) {
              const state = newGraphState()
              const count = Math.min(block, FRAMES - frame)
              renderer.save(state)
              if (frame > 0) states.push({ frame, state })
              const part = room(count)
              renderer.render(frame, ...part)
              expectSame(once, part, frame)
              frame += count
            }
            frame = Math.max(block, FRAMES - back)
            while (states.length && states.at(-1)!.frame > frame) states.pop()
            renderer.resume(
              states.map((s) => s.state),
              frame,
            )
          }
        },
      ),
      { numRuns: runs(14, 80) },
    )
  })

  test('what was kept for long is taken up again, and what lies before it can still be gone back to', () => {
    fc.assert(
      fc.property(
        graphSession,
        fc.integer({ min: 100, max: 6000 }),
        fc.integer({ min: 1, max: 5000 }),
        fc.boolean(),
        (session, from, length, handedOver) => {
          const once = whole(session, FRAMES)
          const renderer = new Renderer(planSession(session), noiseReader(), playing)
          rendered(renderer, 0, from, [500])
          const other = new Renderer(planSession(session), noiseReader())
          if (handedOver) rendered(other, 0, from, [700])
          const kept = handedOver ? other.takeSnapshot() : renderer.snapshot()
          for (let turn = 0; turn < 3; turn++) {
            expectSame(once, rendered(renderer, from, from + length, [333]), from)
            renderer.applySnapshot(kept)
          }
          expectSame(once, rendered(renderer, from, FRAMES, [1024]), from)
        },
      ),
      { numRuns: runs(10, 60) },
    )
  })

  test('from elsewhere it is the file once it has settled', () => {
    fc.assert(
      fc.property(graphSession, fc.integer({ min: 0, max: 4000 }), (session, from) => {
        const plan = planSession(session)
        const { settleFrames } = plan.memory
        const frames = Math.min(60_000, from + settleFrames + 2000)
        const once = whole(session, frames)
        const part = rendered(new Renderer(plan, noiseReader()), from, frames, [1000])
        let worst = 0
        for (const side of [0, 1] as const)
          for (let i = from + settleFrames; i < frames; i++)
            worst = Math.max(worst, Math.abs(once[side][i]! - part[side][i - from]!))
        expect(worst).toBeLessThan(1e-6)
      }),
      { numRuns: runs(14, 80) },
    )
  })
})

const insert = (kind: Insert['kind'], values: Insert['values'] = {}, id: string = kind): Insert => ({
  id,
  kind,
  bypassed: false,
  values,
})
const send = (to: string, more: Partial<Send> = {}): Send => ({
  id: `to-${to}`,
  to,
  levelDb: 0,
  muted: false,
  point: 'post',
  ...more,
})

/** One mono track at 8 kHz with noise, and the buses that are given. */
function one(
  track: Partial<Track>,
  buses: Record<string, Partial<Track>> = {},
  mix: Partial<Session['mix']> = {},
): Session {
  return testSession(
    [testRegion('r', { trackId: 't0', sourceId: 's0', length: 4000 })],
    {},
    {
      sampleRate: 8000,
      trackIds: ['t0'],
      tracks: { t0: { ...createTrack('t0', 'T', 1, 0), ...track } },
      busIds: Object.keys(buses),
      buses: Object.fromEntries(
        Object.entries(buses).map(([id, b]) => [id, { ...createBus(id, id, 0), ...b, channels: 2 as const }]),
      ),
      sources: {
        s0: { id: 's0', name: 's0', channels: 1, frames: 8000, sampleRate: 8000, sha256: '0'.repeat(64) },
      },
      mix: { trimDb: 0, volumeDb: 0, inserts: [], lastInserts: [], lanes: {}, ...mix },
    },
  )
}
const peak = (sides: Sides) => Math.max(...sides.map((s) => s.reduce((m, x) => Math.max(m, Math.abs(x)), 0)))

test('two ways of different latency from one source to the mix cancel when one is inverted', () => {
  const ceiling = (ms: number) => insert('ceiling', { ceilingDbtp: 0, lookAheadMs: ms })
  const session = one(
    { output: 'a', sends: [send('b')] },
    {
      a: { inserts: [ceiling(20), ceiling(7)].map((i, n) => ({ ...i, id: `c${n}` })) },
      b: { polarity: -1, inserts: [ceiling(1)] },
    },
  )
  expect(
    peak(whole({ ...session, tracks: { t0: { ...session.tracks.t0!, sends: [] } } }, 6000)),
  ).toBeGreaterThan(0.2)
  expect(peak(whole(session, 6000))).toBe(0)
})

test('an insert with latency leaves everything in its place', () => {
  const plain = whole(one({}), 6000)
  const ceiling = insert('ceiling', { ceilingDbtp: 0, lookAheadMs: 20 })
  expectSame(plain, whole(one({ inserts: [ceiling] }), 6000))
  expectSame(
    plain,
    whole(one({}, {}, { inserts: [ceiling], lastInserts: [{ ...ceiling, id: 'last' }] }), 6000),
  )
})

test('a send before the fader leaves the fader out, one after it has it, and a mute silences both', () => {
  const to = (point: Send['point'], more: Partial<Track> = {}) =>
    whole(
      one(
        { volumeDb: null, output: 'void', sends: [send('x', { point, levelDb: -6 })], ...more },
        { void: { volumeDb: null }, x: {} },
      ),
      4000,
    )
  const plain = whole(one({}), 4000)
  const pre = to('pre')
  for (let i = 0; i < 4000; i++) expect(pre[0][i]).toBeCloseTo(plain[0][i]! * 10 ** (-6 / 20), 6)
  expect(peak(to('post'))).toBe(0)
  expect(peak(to('pre', { muted: true }))).toBe(0)
})

test('a send level moves by its lane, as heights', () => {
  const lane = {
    knots: [
      { frame: 0, value: 0, shape: 'line' as const, bend: 0 },
      { frame: 4000, value: 1, shape: 'line' as const, bend: 0 },
    ],
    bypassed: false,
    visible: true,
  }
  const sent = whole(
    one(
      { output: 'void', sends: [send('x')], lanes: { 'send:to-x:level': lane } },
      { void: { volumeDb: null }, x: {} },
    ),
    4000,
  )
  const plain = whole(one({}), 4000)
  for (let i = 0; i < 4000; i += 13)
    expect(sent[0][i]).toBeCloseTo(plain[0][i]! * 10 ** (12 / 20) * (i / 4000) ** 3, 6)
})

test('a mono track made stereo by an insert does not jump: its pan is a balance at the centre gain of the law', () => {
  const sides = (values: Insert['values']) => whole(one({ inserts: [insert('delay', values)] }), 4000)
  const mono = sides({ mix: 0 })
  const stereo = sides({ mix: 0, pingPong: true })
  for (let i = 0; i < 4000; i += 7) expect(stereo[0][i]).toBeCloseTo(mono[0][i]!, 7)
  // Bypassed it does not widen: the mono law places the track again.
  const panned = whole(
    one({ pan: 1, inserts: [{ ...insert('delay', { pingPong: true }), bypassed: true }] }),
    4000,
  )
  expectSame(whole(one({ pan: 1 }), 4000), panned)
})

test('what sounds on ends a minute after the last region, in a fade of a second', () => {
  const forever = one({ inserts: [insert('delay', { timeMs: 500, feedback: 0.98, mix: 1 })] })
  const plan = planSession(forever)
  const { end, fadeFrom } = soundingEnd(plan)
  expect([fadeFrom, end]).toEqual([4000 + 60 * 8000, 4000 + 61 * 8000])
  const sides = rendered(new Renderer(plan, noiseReader()), 0, end + 2000, [8192])
  const level = (from: number, to: number) => peak([sides[0].subarray(from, to), sides[1].subarray(from, to)])
  expect(level(fadeFrom! - 4000, fadeFrom!)).toBeGreaterThan(0.01)
  expect(level(end - 40, end)).toBeLessThan(0.001)
  expect(level(end, end + 2000)).toBe(0)
  const short = planSession(one({ inserts: [insert('delay', { timeMs: 10, feedback: 0.5 })] }))
  const sound = rendered(new Renderer(short, noiseReader()), 0, soundingEnd(short).end, [8192])
  expect(soundingEnd(short).fadeFrom).toBeNull()
  expect(peak([sound[0].subarray(-20), sound[1].subarray(-20)])).toBeLessThan(1e-6)
})

test('an edit goes on from what is remembered: only what is changed sounds different, and a new insert begins empty', () => {
  const before = one({ inserts: [insert('delay', { timeMs: 200, feedback: 0.8, mix: 1 })] })
  const louder: Session = { ...before, tracks: { t0: { ...before.tracks.t0!, volumeDb: -20 } } }
  const renderer = new Renderer(planSession(before), noiseReader(), playing)
  const states: GraphState[] = []
  for (let at = 0; at < 6144; at += 1024) {
    const state = newGraphState()
    if (at > 0) {
      renderer.save(state)
      states.push(state)
    }
    renderer.render(at, ...room(1024))
  }
  renderer.plan = planSession(louder)
  renderer.resume(states, 4500)
  expectSame(whole(louder, 9000), rendered(renderer, 4500, 9000, [500]), 4500)
  // A ceiling on the mix: everything is rendered further ahead from now on, and nothing is lost.
  const limited: Session = {
    ...louder,
    mix: { ...louder.mix, lastInserts: [insert('ceiling', { ceilingDbtp: 0, lookAheadMs: 20 })] },
  }
  renderer.plan = planSession(limited)
  renderer.resume(states.slice(0, 3), 4500)
  expectSame(whole(louder, 9000), rendered(renderer, 4500, 9000, [500]), 4500)
  renderer.plan = planSession(louder)
  renderer.resume(states.slice(0, 3), 4500)
  expectSame(whole(louder, 9000), rendered(renderer, 4500, 9000, [500]), 4500)
})

test('a file of a range that begins within what rings ahead of a region has the bits of the whole file', () => {
  const insert = (kind: Insert['kind'], values: Insert['values'] = {}): Insert => ({
    id: kind,
    kind,
    bypassed: false,
    values,
  })
  const base = testSession([testRegion('r', { start: 55_000, length: 1 })])
  const track = Object.values(base.tracks)[0]!
  const session: Session = {
    ...base,
    tracks: { [track.id]: { ...track, inserts: [insert('saturator')] } },
    mix: { ...base.mix, lastInserts: [insert('gain', { removeDc: true })] },
  }
  // The half-bands ring from 49 frames before the region on; the range begins 24 before it.
  const from = 54_976
  const plan = planSession(session)
  const start = fileStart(plan, from)
  const part = rendered(new Renderer(plan, noiseReader()), start, from + 1500, [4096])
  const all = rendered(new Renderer(plan, noiseReader()), 0, from + 1500, [4096])
  expectSame(all, [part[0].subarray(from - start), part[1].subarray(from - start)], from)
  expect(start).toBeGreaterThan(50_000)
})

test('an insert that outputs NaN is left out, and that is said', () => {
  const noNumbers: SourceReader = {
    read: (_id, _c, frame, count, out) => {
      for (let i = 0; i < count; i++) out[i] = frame + i === 100 ? NaN : 1e38
    },
  }
  const faults: string[] = []
  const session = one({
    inserts: [insert('gain', { gainDb: 36, removeDc: true }), insert('delay', { feedback: 0.98, mix: 1 })],
    trimDb: 36,
  })
  const sides = room(4096)
  new Renderer(planSession(session), noNumbers, { onFault: (id) => faults.push(id) }).render(0, ...sides)
  expect(sides[0].every((x) => !Number.isNaN(x))).toBe(true)
})
