import { createBus, createTrack } from '../model/create'
import { testRegion, testSession } from '../model/fixture.test-util'
import type { Insert, Session, Track } from '../model/session'
import { planSession, type PlanOptions } from './plan/plan'
import { Renderer } from './graph/run'
import type { SourceReader } from './region/source-reader'
import { deleteTracks, setInsertKey } from '../edit'

const RATE = 48_000
const FRAMES = 3 * RATE

/** The music is DC of 0.1 throughout, the narrator DC of 0.5 where his region is: levels are the samples themselves. */
const reader: SourceReader = {
  read(id, _channel, _frame, count, out) {
    out.fill(id === 'music' ? 0.1 : 0.5, 0, count)
  },
}
const source = (id: string) => ({
  id,
  name: `${id}.wav`,
  channels: 1 as const,
  frames: 480_000,
  sampleRate: RATE,
  sha256: '0'.repeat(64),
})
const compressor = (more: Partial<Insert> = {}, values: Insert['values'] = {}): Insert => ({
  id: 'c',
  kind: 'compressor',
  bypassed: false,
  values: { thresholdDb: -26, ratio: 4, kneeDb: 0, attackMs: 10, releaseMs: 100, ...values },
  key: 'n',
  ...more,
})

function session(music: Partial<Track>, narrator: Partial<Track> = {}, more: Partial<Session> = {}): Session {
  return testSession(
    [
      testRegion('rm', { trackId: 'm', sourceId: 'music', length: FRAMES }),
      testRegion('rn', { trackId: 'n', sourceId: 'voice', start: RATE, length: RATE }),
    ],
    {},
    {
      trackIds: ['m', 'n'],
      tracks: {
        m: { ...createTrack('m', 'Music', 1, 0), ...music },
        n: { ...createTrack('n', 'Narrator', 1, 1), ...narrator },
      },
      sources: { music: source('music'), voice: source('voice') },
      ...more,
    },
  )
}

/** What leaves the inserts of the music. */
function music(of: Session, options: PlanOptions = { trackId: 'm' }): Float32Array {
  const out = new Float32Array(FRAMES)
  new Renderer(planSession(of, options), reader).renderStage('insert', 0, out, new Float32Array(FRAMES))
  return out
}
/** How far two sounds are apart between frames, at most. */
const apart = (a: Float32Array, b: Float32Array, from: number, to: number) => {
  let most = 0
  for (let i = from; i < to; i++) most = Math.max(most, Math.abs(a[i]! - b[i]!))
  return most
}
const reduction = (x: number) => 20 * Math.log10(0.1 / x)
// 20 lg 0.5 = -6.02 dB, 19.98 dB above the threshold: three quarters of it.
const FULL = 0.75 * (20 * Math.log10(0.5) + 26)

test('a key turns the music down as its own level says, from its own frame on', () => {
  const out = music(session({ inserts: [compressor()] }))
  expect(reduction(out[RATE - 1]!)).toBeCloseTo(0, 6)
  // An attack after it began it has come 1 - 1/e of its way.
  expect(reduction(out[RATE + 479]!) / FULL).toBeCloseTo(1 - 1 / Math.E, 2)
  expect(reduction(out[2 * RATE - 1]!)).toBeCloseTo(FULL, 3)
  // It falls again once the peak has been held for 5 ms.
  expect(reduction(out[2 * RATE + 240 + 4799]!) / FULL).toBeCloseTo(1 / Math.E, 2)
})

test('what comes before the insert looks ahead: the key is heard at its frame all the same', () => {
  const ceiling: Insert = {
    id: 'l',
    kind: 'ceiling',
    bypassed: false,
    values: { ceilingDbtp: 0, lookAheadMs: 20 },
  }
  const plain = music(session({ inserts: [compressor()] }))
  const late = music(session({ inserts: [ceiling, compressor()] }))
  // The ceiling looks at the music only, and leaves it as it is: what is left is the same reduction at the same frame.
  expect(apart(late, plain, RATE / 2, FRAMES - 2000)).toBeLessThan(1e-7)
  const keyLate = music(session({ inserts: [compressor()] }, { inserts: [ceiling] }))
  expect(apart(keyLate, plain, RATE + 200, 2 * RATE)).toBeLessThan(1e-4)
})

test.each<[string, Session, PlanOptions?]>([
  ['muted', session({ inserts: [compressor()] }, { muted: true })],
  ['not among the soloed', session({ inserts: [compressor()], soloed: true })],
  [
    'without its region being asked for',
    session({ inserts: [compressor()] }),
    { regionId: 'rm', trackId: 'm' },
  ],
  ['turned down by its fader', session({ inserts: [compressor()] }, { volumeDb: null })],
  [
    'through a muted bus',
    session(
      { inserts: [compressor({ key: 'b' })] },
      { output: 'b' },
      { busIds: ['b'], buses: { b: { ...createBus('b', 'Voices', 0), muted: true } } },
    ),
  ],
])('a key steers, %s', (_, of, options = { trackId: 'm' }) => {
  const out = music(of, options)
  // Through the bus the mono narrator is in the centre by equal power: 3.01 dB less, of which three quarters count.
  const less = of.busIds.length ? 0.75 * 10 * Math.log10(2) : 0
  expect(reduction(out[2 * RATE - 1]!)).toBeCloseTo(FULL - less, 2)
})

test('music that begins in the middle of the key is held down from its first frame', () => {
  const of = session({ inserts: [compressor()] })
  const start = RATE + RATE / 2
  const out = music({
    ...of,
    regions: { ...of.regions, rm: { ...of.regions.rm!, start, length: RATE } },
  })
  expect(reduction(out[start]!)).toBeCloseTo(FULL, 3)
})

test('a gate opens to its key', () => {
  const gate: Insert = {
    id: 'g',
    kind: 'gate',
    bypassed: false,
    values: { thresholdDb: -10, ratio: 100, rangeDb: 30, holdMs: 0 },
    key: 'n',
  }
  const out = music(session({ inserts: [gate] }))
  // It closes with a release of 150 ms from frame 0 on.
  expect(reduction(out[RATE - 500]!)).toBeCloseTo(30 * (1 - Math.exp(-(RATE - 500) / (0.15 * RATE))), 2)
  expect(reduction(out[2 * RATE - 1]!)).toBeCloseTo(0, 2)
})

test('the mix is steered, too, by a track that is not heard', () => {
  const of = session({}, { muted: true })
  const keyed: Session = { ...of, mix: { ...of.mix, inserts: [compressor()] } }
  const [left, plain] = [of, keyed].map((s) => {
    const out = new Float32Array(FRAMES)
    new Renderer(planSession(s), reader).render(0, out, new Float32Array(FRAMES))
    return out
  }) as [Float32Array, Float32Array]
  expect(20 * Math.log10(left[2 * RATE - 1]! / plain[2 * RATE - 1]!)).toBeCloseTo(FULL, 3)
})

test('a strip that is deleted steers nothing more, and a key that would form a circle is not taken', () => {
  const of = session({ inserts: [compressor()] })
  expect(deleteTracks.apply(of, { trackIds: ['n'] }).tracks.m!.inserts[0]!.key).toBeNull()
  expect(setInsertKey.apply(of, { id: 'm', insertId: 'c', key: 'm' })).toBe(of)
  const both: Session = {
    ...of,
    tracks: { ...of.tracks, n: { ...of.tracks.n!, inserts: [compressor({ id: 'd', key: null })] } },
  }
  expect(setInsertKey.apply(both, { id: 'n', insertId: 'd', key: 'm' })).toBe(both)
  expect(setInsertKey.apply(both, { id: 'm', insertId: 'c', key: null }).tracks.m!.inserts[0]!.key).toBeNull()
})
