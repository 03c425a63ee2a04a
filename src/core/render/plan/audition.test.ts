import { createBus, createTrack } from '../../model/create'
import { testRegion, testSession } from '../../model/fixture.test-util'
import type { Insert, Session, Track } from '../../model/session'
import { heardSession, isOnlyHeard, type Heard } from './audition'
import { planSession } from './plan'
import { Renderer } from '../graph/run'
import type { SourceReader } from '../region/source-reader'

const FRAMES = 24_000
/** A sine of 500 Hz at 0.4 of full scale, the other source at 0.1. */
const reader: SourceReader = {
  read(id, _channel, frame, count, out) {
    const size = id === 's' ? 0.4 : 0.1
    for (let i = 0; i < count; i++) out[i] = size * Math.sin((2 * Math.PI * 500 * (frame + i)) / 48_000)
  },
}
const insert = (kind: Insert['kind'], values: Insert['values'] = {}, id: string = kind): Insert => ({
  id,
  kind,
  bypassed: false,
  values,
})
const gain = (gainDb: number, id = 'gain') => insert('gain', { gainDb }, id)

function session(track: Partial<Track>, more: Partial<Session> = {}): Session {
  const base = testSession(
    [
      testRegion('r', { length: FRAMES, clipGainDb: -2, gainThreadId: 'g' }),
      testRegion('o', { trackId: 'o', sourceId: 'o', length: FRAMES }),
    ],
    { volumeDb: -3, pan: 0.4, ...track },
    more,
  )
  return {
    ...base,
    gainThreads: { g: { id: 'g', knots: [{ frame: 0, value: 0.5, shape: 'line', bend: 0 }] } },
    sources: { ...base.sources, o: { ...base.sources.s!, id: 'o' } },
    trackIds: ['t', 'o'],
    tracks: { ...base.tracks, o: createTrack('o', 'Other', 1, 1) },
  }
}

function rendered(of: Session, heard?: Heard): Float32Array[] {
  const sides = [new Float32Array(FRAMES), new Float32Array(FRAMES)] as const
  const plan = planSession(heard ? heardSession(of, heard) : of)
  new Renderer(plan, reader).render(0, ...sides)
  return [...sides]
}
/** The largest sample of a stretch in which everything has settled, in dB of what the source has. */
const level = (side: Float32Array, of = 0.4) =>
  20 * Math.log10(side.subarray(12_000, 22_000).reduce((a, x) => Math.max(a, Math.abs(x)), 0) / of)

/** The gain thread of 0.5: its height in dB by the taper. */
const THREAD_DB = 60 * Math.log10(0.5) + 12

test.each<[string, Heard, number]>([
  ['clip gain', { kind: 'at', stripId: 't', place: 'clip-gain', alone: true }, -2],
  ['gain thread', { kind: 'at', stripId: 't', place: 'gain-thread', alone: true }, -2 + THREAD_DB],
  ['an insert', { kind: 'at', stripId: 't', place: { insertId: 'a' }, alone: true }, -2 + THREAD_DB + 4],
  [
    'the last insert',
    { kind: 'at', stripId: 't', place: { insertId: 'b' }, alone: true },
    -2 + THREAD_DB - 1,
  ],
  ['volume', { kind: 'at', stripId: 't', place: 'volume', alone: true }, -2 + THREAD_DB - 1 - 3],
])(
  'alone, a strip is heard as it leaves %s: at its own level, without the others, pan and mix',
  (_, heard, db) => {
    const of = session({ inserts: [gain(4, 'a'), gain(-5, 'b')] })
    const sides = rendered({ ...of, mix: { ...of.mix, volumeDb: -10, inserts: [gain(-20)] } }, heard)
    for (const side of sides) expect(level(side)).toBeCloseTo(db, 2)
  },
)

test('in the mix, what comes after the place is left out of the strip, and all else stays', () => {
  const of = session({ inserts: [gain(4, 'a'), gain(-5, 'b')] })
  const heard = rendered(of, { kind: 'at', stripId: 't', place: { insertId: 'a' }, alone: false })
  const without = rendered(session({ inserts: [gain(4, 'a')] }))
  expect(heard).toEqual(without)
})

test.each<[string, Session, readonly string[], string | null]>([
  ['a track', session({ inserts: [insert('ceiling', { ceilingDbtp: 0 }), gain(6, 'g')] }), ['g'], 't'],
  [
    'a bus with a feed at a lower level',
    session(
      { output: 'b' },
      {
        busIds: ['b'],
        buses: {
          b: { ...createBus('b', 'B', 0), inserts: [insert('ceiling', { ceilingDbtp: 0 }), gain(6, 'g')] },
        },
      },
    ),
    ['g'],
    'b',
  ],
])('the difference of an insert on %s is what it adds, latencies included', (_, of, ids, stripId) => {
  const difference = rendered(of, { kind: 'difference', stripId, insertIds: ids })
  const plain = rendered(of, { kind: 'at', stripId, place: { insertId: 'ceiling' }, alone: true })
  const added = 10 ** (6 / 20) - 1
  let most = 0
  for (const c of [0, 1])
    for (let i = 0; i < FRAMES; i++)
      most = Math.max(most, Math.abs(difference[c]![i]! - added * plain[c]![i]!))
  expect(most).toBeLessThan(1e-6)
  expect(level(plain[0]!)).toBeGreaterThan(-40)
})

test.each(['inserts', 'lastInserts'] as const)('the difference of one of the %s of the mix, too', (chain) => {
  const of = session({})
  const mixed: Session = { ...of, mix: { ...of.mix, volumeDb: -4, [chain]: [gain(-6, 'g')] } }
  const difference = rendered(mixed, { kind: 'difference', stripId: null, insertIds: ['g'] })
  const plain = rendered(of)
  // As it leaves the insert: before its fader the volume does not count yet.
  const factor = (1 - 10 ** (-6 / 20)) * (chain === 'inserts' ? 1 : 10 ** (-4 / 20))
  let most = 0
  for (const c of [0, 1])
    for (let i = 0; i < FRAMES; i++)
      most = Math.max(most, Math.abs(difference[c]![i]! + factor * plain[c]![i]!))
  expect(most).toBeLessThan(1e-6)
})

test('what changes nothing has no difference at all, in a strip that remembers', () => {
  const of = session({
    inserts: [insert('compressor'), insert('equaliser', { 'b1.on': true }), insert('room')],
  })
  const [left, right] = rendered(of, { kind: 'difference', stripId: 't', insertIds: ['equaliser'] })
  for (const side of [left!, right!]) expect(side.every((x) => Math.abs(x) < 1e-9)).toBe(true)
})

test('what is there only to be heard can be told from the rows of the session', () => {
  const of = session({ inserts: [gain(4, 'a')] })
  const heard = heardSession(of, { kind: 'difference', stripId: 't', insertIds: ['a'] })
  expect(heard.trackIds.filter((id) => !isOnlyHeard(id))).toEqual(of.trackIds)
  const ofMix = heardSession(
    { ...of, mix: { ...of.mix, lastInserts: [gain(2, 'g')] } },
    { kind: 'difference', stripId: null, insertIds: ['g'] },
  )
  expect(ofMix.busIds.every(isOnlyHeard)).toBe(true)
})

test('without all, or without some', () => {
  const of = session({ inserts: [gain(4, 'a'), gain(-5, 'b')] })
  const bare = { ...of, mix: { ...of.mix, lastInserts: [gain(3)] } }
  expect(rendered(bare, { kind: 'without', stripId: null, insertIds: null })).toEqual(rendered(session({})))
  expect(rendered(of, { kind: 'without', stripId: 't', insertIds: ['b'] })).toEqual(
    rendered(session({ inserts: [gain(4, 'a')] })),
  )
  expect(rendered(of, { kind: 'without', stripId: 'nobody', insertIds: ['b'] })).toEqual(rendered(of))
})
