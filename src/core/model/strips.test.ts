import { testRegion, testSession } from './fixture.test-util'
import { createBus, createTrack } from './create'
import { openSession } from './check/open'
import { breachLine, checkSession } from './check/rules'
import { LIMITS, type Insert, type Send, type Session, type Track } from './session'
import { canFeed, rowIds, soundingFeeds, sortedRows } from './strips'

const send = (to: string, more: Partial<Send> = {}): Send => ({
  id: `to-${to}`,
  to,
  levelDb: -12,
  muted: false,
  point: 'post',
  ...more,
})
const insert = (kind: Insert['kind'], values: Insert['values'] = {}, more: Partial<Insert> = {}): Insert => ({
  id: 'i',
  kind,
  bypassed: false,
  values,
  ...more,
})

/** Tracks a and b, buses x and y: b goes through x, a sends to y, x goes through y. */
function session(change: { a?: Partial<Track>; b?: Partial<Track>; x?: object; y?: object } = {}): Session {
  return testSession(
    [testRegion('r', { trackId: 'a' })],
    {},
    {
      trackIds: ['a', 'b'],
      tracks: {
        a: { ...createTrack('a', 'Narrator', 1, 0), sends: [send('y')], ...change.a },
        b: { ...createTrack('b', 'Wheel', 2, 1), output: 'x', ...change.b },
      },
      busIds: ['y', 'x'],
      buses: {
        x: { ...createBus('x', 'mill', 0), output: 'y', ...change.x },
        y: { ...createBus('y', 'room', 1), ...change.y },
      },
    },
  )
}
const lines = (s: Session) => checkSession(s).map(breachLine)

test('a session with buses, sends and inserts keeps the rules, and buses come after all that feed them', () => {
  const whole = session({
    a: { inserts: [insert('delay', { timeMs: 250, noteValue: null, pingPong: true })] },
  })
  expect(lines(whole)).toEqual([])
  expect(openSession(JSON.parse(JSON.stringify(whole)))).toEqual(whole)
  expect(rowIds(whole)).toEqual(['a', 'b', 'y', 'x'])
  expect(sortedRows(whole)).toEqual({ order: ['a', 'b', 'x', 'y'] })
  expect([canFeed(whole, 'y', 'x'), canFeed(whole, 'x', 'y'), canFeed(whole, 'a', 'x')]).toEqual([
    false,
    true,
    true,
  ])
})

test.each<[string, Session, RegExp]>([
  [
    'a circle',
    session({ y: { output: 'x' } }),
    /^ways: buses\..* = (mill → room → mill|room → mill → room): forms a circle/,
  ],
  [
    'a strip that feeds itself',
    session({ x: { sends: [send('x')] } }),
    /^ways: buses\.x = mill → mill: forms a circle/,
  ],
  [
    'an output that is not there',
    session({ b: { output: 'z' } }),
    /^ways: tracks\.b\.output = z: is neither "mix" nor a bus$/,
  ],
  ['an output to a track', session({ b: { output: 'a' } }), /^ways: tracks\.b\.output = a/],
  [
    'a send to the mix',
    session({ a: { sends: [send('mix')] } }),
    /^ways: tracks\.a\.sends\.to-mix\.to = mix: is not a bus$/,
  ],
  [
    'two sends of one name',
    session({ a: { sends: [send('y'), send('y')] } }),
    /^ids: tracks\.a\.sends = to-y: names two sends$/,
  ],
  [
    'two inserts of one name',
    session({ a: { inserts: [insert('gain'), insert('delay')] } }),
    /names two inserts$/,
  ],
  [
    'an unknown kind',
    session({ a: { inserts: [insert('flux' as 'gain')] } }),
    /^shape: tracks\.a\.inserts\.0\.kind = flux: must be/,
  ],
  [
    'an unknown key',
    session({ a: { inserts: [insert('gain', { wetness: 1 })] } }),
    /^inserts: tracks\.a\.inserts\.i\.values\.wetness = 1: is not a value of a gain$/,
  ],
  [
    'a key of every object',
    session({ a: { inserts: [insert('gain', { constructor: 1 } as never)] } }),
    /is not a value of a gain/,
  ],
  [
    'a value out of range',
    session({ y: { inserts: [insert('delay', { feedback: 0.99 })] } }),
    /^inserts: buses\.y\.inserts\.i\.values\.feedback = 0\.99: must be a number in 0…0\.98$/,
  ],
  [
    'a switch that is none',
    session({ a: { inserts: [insert('gain', { swap: 1 })] } }),
    /must be true or false$/,
  ],
  [
    'a key where none is heard',
    session({ a: { inserts: [insert('gain', {}, { key: 'b' })] } }),
    /^inserts: tracks\.a\.inserts\.i\.key = b: steers a gain, which listens to no other strip$/,
  ],
  [
    'a lane of what never moves',
    session({
      a: {
        inserts: [insert('ceiling')],
        lanes: { 'insert:i:lookAheadMs': { knots: [], bypassed: false, visible: true } },
      },
    }),
    /is not a lane of this version$/,
  ],
  [
    'a knot out of range',
    session({
      a: {
        inserts: [insert('delay')],
        lanes: {
          'insert:i:timeMs': {
            knots: [{ frame: 0, value: 5000, shape: 'line', bend: 0 }],
            bypassed: false,
            visible: true,
          },
        },
      },
    }),
    /^knots: tracks\.a\.lanes\.insert:i:timeMs\.knots\.0 = 5000: must lie in 1…4000$/,
  ],
  [
    'a bus called as a track',
    {
      ...session(),
      tracks: { ...session().tracks, x: createTrack('x', 'X', 1, 0) },
      trackIds: ['a', 'b', 'x'],
    },
    /is the id of a track, too$/,
  ],
  [
    'more inserts than a strip may have',
    session({
      a: {
        inserts: Array.from({ length: LIMITS.inserts + 1 }, (_, i) => insert('gain', {}, { id: `i${i}` })),
      },
    }),
    /^shape: tracks\.a\.inserts/,
  ],
])('%s is refused in one sentence', (_name, bad, words) => {
  expect(lines(bad)[0]).toMatch(words)
  expect(() => openSession(bad)).toThrow(/breaks/)
})

test('version 1 gets no buses, and its tracks go to the mix', () => {
  const { busIds: _, buses: __, ...old } = session()
  const track = ({ output: ___, sends: ____, ...rest }: Track) => ({ ...rest, sends: [] })
  const { trimDb: _____, lastInserts: ______, ...mix } = old.mix
  const first = { ...old, version: 1, mix, tracks: { a: track(old.tracks.a!), b: track(old.tracks.b!) } }
  expect(openSession(JSON.parse(JSON.stringify(first)))).toEqual({
    ...old,
    busIds: [],
    buses: {},
    tracks: { a: { ...track(old.tracks.a!), output: 'mix' }, b: { ...track(old.tracks.b!), output: 'mix' } },
  })
})

describe('what sounds', () => {
  const heard = (s: Session) =>
    [...soundingFeeds(s)]
      .map((key) => (JSON.parse(key) as (string | null)[]).filter(Boolean).join(' '))
      .sort()
  test('all of it, without mutes and solos', () =>
    expect(heard(session())).toEqual(['a', 'a to-y', 'b', 'x', 'y']))
  test('a muted strip feeds nothing, neither its output nor its sends', () =>
    expect(heard(session({ a: { muted: true } }))).toEqual(['b', 'x', 'y']))
  test('a muted send alone is silent', () =>
    expect(heard(session({ a: { sends: [send('y', { muted: true })] } }))).toEqual(['a', 'b', 'x', 'y']))
  test('a soloed track is heard on all its ways, and nothing else on them', () =>
    expect(heard(session({ a: { soloed: true } }))).toEqual(['a', 'a to-y', 'y']))
  test('of a soloed bus all that feeds it is heard, on its way there only', () =>
    expect(heard(session({ y: { soloed: true } }))).toEqual(['a to-y', 'b', 'x', 'y']))
})

test('empty values of strips, as earlier programs wrote them, are dropped; others are refused', () => {
  const session = testSession([testRegion('a')])
  const written = (values: object) => ({
    ...session,
    tracks: { t: { ...session.tracks.t, values } },
    mix: { ...session.mix, values },
  })
  expect(openSession(written({}))).toEqual(session)
  expect(() => openSession(written({ width: 2 }))).toThrow(/breaks/)
})
