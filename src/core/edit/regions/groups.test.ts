import { createTrack } from '../../model/create'
import { testRegion, testSession } from '../../model/fixture.test-util'
import { breachLine, brokenRules, checkSession } from '../../model/check/rules'
import type { Knot, Session } from '../../model/session'
import {
  alone,
  crossfadeJoins,
  deleteTracks,
  groupTracks,
  keepParts,
  moveRegions,
  renameGroup,
  setClipGains,
  setRegion,
  shapeThread,
  splitRegions,
  ungroupTracks,
  type Edit,
} from '..'

/** Three microphones of one event; the third began 240 frames (5 ms) later, and has another first region. */
const one = testSession([
  testRegion('a', { start: 1000, length: 20_000, offset: 500 }),
  testRegion('a2', { start: 21_000, length: 9000, offset: 20_500 }),
  testRegion('b', { trackId: 'u', start: 1240, length: 20_000, offset: 740, clipGainDb: -3 }),
  testRegion('b2', { trackId: 'u', start: 21_240, length: 9000, offset: 20_740 }),
  testRegion('c', { trackId: 'v', start: 1241, length: 20_000 }),
])
const session: Session = groupTracks.apply(
  {
    ...one,
    trackIds: ['t', 'u', 'v', 'w'],
    tracks: {
      ...one.tracks,
      u: createTrack('u', 'Left', 1, 1),
      v: createTrack('v', 'Right', 1, 2),
      w: createTrack('w', 'Other', 1, 3),
    },
  },
  { trackIds: ['v', 'u', 't'], name: 'Room' },
)

/** An edit as the screen makes it, with what goes along. */
const made = <A>(edit: Edit<A>, args: A) => {
  const { args: all, missing } = edit.together!(session, args)
  const after = edit.apply(session, all)
  expect(brokenRules(after).map(breachLine)).toEqual([])
  return { after, missing }
}
const starts = (s: Session) => Object.fromEntries(Object.values(s.regions).map((r) => [r.id, r.start]))

test('a group keeps the order of the tracks, and takes along what begins and ends within 5 ms', () => {
  expect(session.groups).toEqual([{ id: 'group~1', name: 'Room', trackIds: ['t', 'u', 'v'] }])
  const { after, missing } = made(moveRegions, { regionIds: ['a'], byFrames: 50_000, byTracks: 0 })
  // 240 frames are 5 ms, 241 are more.
  expect(starts(after)).toMatchObject({ a: 51_000, b: 51_240, c: 1241 })
  expect(missing).toEqual(['v'])
})

test('silences are cut out of the whole group, and its edges stay where they are; what is set against another goes alone', () => {
  const parts = {
    a: [
      { from: 1000, to: 5000 },
      { from: 9000, to: 21_000 },
    ],
  }
  const { after, missing } = made(keepParts, { parts })
  const pieces = (track: string) =>
    Object.values(after.regions)
      .filter((r) => r.trackId === track && r.start < 21_000)
      .map((r) => [r.start, r.start + r.length])
      .sort((x, y) => x[0]! - y[0]!)
  expect(pieces('t')).toEqual([
    [1000, 5000],
    [9000, 21_000],
  ])
  // "b" begins and ends 240 frames later.
  expect(pieces('u')).toEqual([
    [1240, 5000],
    [9000, 21_240],
  ])
  expect(missing).toEqual(['v'])
  expect(alone(moveRegions).together).toBeUndefined()
  const shift = { regionIds: ['b'], byFrames: 12, byTracks: 0 }
  expect(starts(alone(moveRegions).apply(session, shift))).toMatchObject({ a: 1000, b: 1252 })
})

test('regions that go along keep their differences in gain', () => {
  const { after } = made(setClipGains, { gains: { a: -8 }, what: 'Match' })
  expect([after.regions.a!.clipGainDb, after.regions.b!.clipGainDb]).toEqual([-8, -11])
})

test('a split, a crossfade and a mute go along; a name does not', () => {
  const split = made(splitRegions, { regionIds: ['a'], frames: [9000] })
  expect(Object.keys(split.after.regions)).toHaveLength(7)
  const joined = made(crossfadeJoins, {
    joins: [{ leftId: 'a', rightId: 'a2' }],
    lengthFrames: 400,
    law: 'equal-power',
  })
  expect(Object.values(joined.after.crossfades).map((x) => [x.leftId, x.rightId])).toEqual([
    ['a', 'a2'],
    ['b', 'b2'],
  ])
  const muted = made(setRegion, { regionIds: ['a'], change: { muted: true } })
  expect(muted.after.regions.b!.muted).toBe(true)
  const named = made(setRegion, { regionIds: ['a'], change: { name: 'x' } })
  expect(named.after.regions.b!.name).toBe('b')
})

test('a gain thread goes along at the same time of the session, unless the other has one of its own', () => {
  const knots: Knot[] = [{ frame: 700, value: 0.5, shape: 'line', bend: 0 }]
  const ref = { kind: 'region' as const, regionId: 'a' }
  const { after } = made(shapeThread, { ref, knots })
  // "a" plays frame 700 at 1200; "b" plays the same frame there.
  expect(after.gainThreads[after.regions.b!.gainThreadId!]!.knots).toEqual(knots)
  const own = shapeThread.apply(session, { ref: { kind: 'region', regionId: 'b' }, knots })
  expect(shapeThread.together!(own, { ref, knots: [{ ...knots[0]!, value: 0.2 }] }).args.also).toBeUndefined()
})

test('a track is in one group; one of a single track is none; deleted tracks leave theirs', () => {
  const again = groupTracks.apply(session, { trackIds: ['v', 'w'], name: 'Pair' })
  expect(again.groups!.map((g) => g.trackIds)).toEqual([
    ['t', 'u'],
    ['v', 'w'],
  ])
  expect(deleteTracks.apply(again, { trackIds: ['w'] }).groups).toHaveLength(1)
  expect(ungroupTracks.apply(session, { trackIds: ['t', 'u'] }).groups).toBeUndefined()
  expect(groupTracks.apply(session, { trackIds: ['w'], name: 'Alone' })).toBe(session)
  expect(renameGroup.apply(session, { id: 'group~1', name: 'Hall' }).groups![0]!.name).toBe('Hall')
  const twice = {
    ...session,
    groups: [...session.groups!, { id: 'x', name: 'X', trackIds: ['t', 'nobody'] }],
  }
  expect(checkSession(twice).map((b) => b.entity)).toEqual(['groups.x', 'groups.x'])
})
