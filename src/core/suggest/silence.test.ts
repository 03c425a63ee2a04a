import { createTrack } from '../model/create'
import { cutAndClose, closeGapsRefusal, gapsOf, groupTracks, setRegion } from '../edit'
import { testRegion, testSession } from '../model/fixture.test-util'
import { seededRandom } from '../units/random'
import { proposedThreshold, soundingParts, soundingRegions } from './silence'

const OPTIONS = { thresholdDb: -40, before: 0, after: 0, shortest: 0.3 }

/** The millisecond peaks of noise at a level (dBFS, RMS), with words of a louder noise between two times in seconds. */
function peaksOf(roomDb: number, seconds: number, words: readonly (readonly [number, number])[]) {
  const random = seededRandom(5)
  const normal = () => Array.from({ length: 12 }, random).reduce((a, b) => a + b, -6)
  const amount = (db: number) => 10 ** (db / 20)
  return Float32Array.from({ length: seconds * 1000 }, (_, ms) => {
    const speaks = words.some(([from, to]) => ms >= from * 1000 && ms < to * 1000)
    const level = amount(speaks ? -20 : roomDb)
    let peak = 0
    for (let i = 0; i < 48; i++) peak = Math.max(peak, Math.abs(normal()) * level)
    return peak
  })
}

test.each([-65, -55, -45])(
  'in a room of %d dBFS the threshold lies above the room and below the words',
  (room) => {
    const words = [
      [0.5, 1.5],
      [2.5, 3.2],
      [4.5, 6],
    ] as const
    const peaks = peaksOf(room, 7, words)
    const { thresholdDb, roomDb } = proposedThreshold(peaks)
    // Of 48 normal samples the largest is about 2.4 times the RMS, 7 to 8 dB more.
    expect(roomDb! - room).toBeGreaterThan(6)
    expect(roomDb! - room).toBeLessThan(9)
    expect(thresholdDb).toBeLessThan(-20)
    const parts = soundingParts(peaks, 48_000, 7 * 48_000, { ...OPTIONS, thresholdDb })
    expect(parts.map(({ from, to }) => [from / 48_000, to / 48_000])).toEqual(
      words.map(([from, to]) => [expect.closeTo(from, 1), expect.closeTo(to, 1)]),
    )
  },
)

test('without room tone the usual threshold is proposed', () => {
  expect(proposedThreshold(new Float32Array(4000))).toEqual({ thresholdDb: -54, roomDb: null })
})

/** One second of two microphones of a group, the second of which hears a little longer; a third track that is not in it. */
const session = groupTracks.apply(
  {
    ...testSession([
      testRegion('a', { start: 1000, length: 48_000 }),
      testRegion('b', { trackId: 'u', start: 1000, length: 48_000 }),
      testRegion('c', { trackId: 'v', start: 0, length: 96_000 }),
    ]),
    trackIds: ['t', 'u', 'v'],
    tracks: {
      ...testSession([]).tracks,
      u: createTrack('u', 'Left', 1, 1),
      v: createTrack('v', 'Other', 1, 2),
    },
  },
  { trackIds: ['t', 'u'], name: 'Pair' },
)
const until = (ms: number, from = 1000) =>
  Float32Array.from({ length: 1000 }, (_, i) => (i < ms || i >= from ? 0.5 : 0))

test('regions of a group are silent where all of them are', () => {
  const peaks = new Map([
    ['a', until(200, 700)],
    ['b', until(300, 800)],
  ])
  const parts = soundingRegions(session, peaks, OPTIONS)
  const shared = [
    { from: 1000, to: 1000 + 300 * 48 },
    { from: 1000 + 700 * 48, to: 49_000 },
  ]
  expect(parts.get('a')).toEqual(shared)
  expect(parts.get('b')).toEqual(shared)
})

test('gaps are closed on all tracks: what follows moves up and other tracks are cut there', () => {
  const parts = {
    a: [
      { from: 1000, to: 11_000 },
      { from: 21_000, to: 49_000 },
    ],
  }
  expect(gapsOf(session, parts)).toEqual([{ from: 11_000, to: 21_000 }])
  // Where one of two still sounds there is no gap.
  expect(
    gapsOf(session, {
      ...parts,
      b: [
        { from: 1000, to: 16_000 },
        { from: 21_000, to: 49_000 },
      ],
    }),
  ).toEqual([{ from: 16_000, to: 21_000 }])
  const after = cutAndClose.apply(session, cutAndClose.together!(session, { parts }).args)
  const row = (trackId: string) =>
    Object.values(after.regions)
      .filter((r) => r.trackId === trackId)
      .sort((x, y) => x.start - y.start)
      .map((r) => [r.start, r.length, r.offset])
  expect(row('t')).toEqual([
    [1000, 10_000, 0],
    [11_000, 28_000, 20_000],
  ])
  expect(row('u')).toEqual(row('t'))
  expect(row('v')).toEqual([
    [0, 11_000, 0],
    [11_000, 75_000, 21_000],
  ])
  const locked = setRegion.apply(session, { regionIds: ['c'], change: { locked: true } })
  expect(closeGapsRefusal(locked, gapsOf(locked, parts))).toContain('“c” is locked')
  expect(cutAndClose.apply(locked, { parts })).toBe(locked)
})
