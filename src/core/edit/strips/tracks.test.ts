import fc from 'fast-check'
import { createTrack } from '../../model/create'
import { testRegion, testSession } from '../../model/fixture.test-util'
import { applyPatches, diff } from '../../model/patch'
import { breachLine, brokenRules } from '../../model/check/rules'
import type { Knot, Session } from '../../model/session'
import {
  addTrack,
  deleteTracks,
  duplicateTracks,
  groupTracks,
  moveTracks,
  setGiveWay,
  setSolos,
  setTrack,
  setTrackChannels,
  ungroupTracks,
  type Edit,
} from '..'

const knots: Knot[] = [{ frame: 100, value: 0.5, shape: 'line', bend: 0 }]
const giveWay = {
  others: ['u'],
  depthDb: 6,
  attackMs: 1,
  holdMs: 1,
  releaseMs: 1,
  lookAheadMs: 1,
  gapMs: 1,
  thresholdLufs: -40,
  base: knots,
}
const one = testSession(
  [
    testRegion('a', { start: 0, length: 5000, gainThreadId: 'g' }),
    testRegion('b', { start: 4000, length: 5000, offset: 9000, gainThreadId: 'g' }),
    testRegion('c', { trackId: 'u', start: 0, length: 5000 }),
  ],
  { lanes: { volume: { knots, bypassed: false, visible: true, giveWay } } },
  { gainThreads: { g: { id: 'g', knots } } },
)
const session: Session = {
  ...one,
  trackIds: ['t', 'u', 'v'],
  tracks: { ...one.tracks, u: createTrack('u', 'Speech', 2, 1), v: createTrack('v', 'Empty', 1, 2) },
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
}
const good = (s: Session) => expect(brokenRules(s).map(breachLine)).toEqual([])
good(session)

test('a copy of a track has its lanes, its regions with threads of their own that they share, and its crossfades', () => {
  const after = duplicateTracks.apply(session, { trackIds: ['t'], regions: true })
  good(after)
  expect(after.trackIds).toEqual(['t', 't~1', 'u', 'v'])
  expect(after.tracks['t~1']).toMatchObject({ name: 'Track copy', lanes: { volume: { knots } } })
  expect(after.tracks['t~1']!.lanes.volume!.giveWay).toBeUndefined()
  const copies = Object.values(after.regions).filter((r) => r.trackId === 't~1')
  expect(copies.map((r) => r.start)).toEqual([0, 4000])
  expect(new Set(copies.map((r) => r.gainThreadId)).size).toBe(1)
  expect(copies[0]!.gainThreadId).not.toBe('g')
  expect(Object.values(after.crossfades)).toHaveLength(2)
  const bare = duplicateTracks.apply(session, { trackIds: ['t', 'u'], regions: false })
  expect(bare.trackIds).toEqual(['t', 'u', 't~1', 'u~1', 'v'])
  expect(Object.keys(bare.regions)).toHaveLength(3)
})

test('a track that is deleted takes its regions, threads and crossfades; lanes that gave way to it keep their knots', () => {
  const without = deleteTracks.apply(session, { trackIds: ['u'] })
  good(without)
  expect(without.tracks.t!.lanes.volume).toEqual({ knots, bypassed: false, visible: true })
  expect(Object.keys(without.regions)).toEqual(['a', 'b'])
  const empty = deleteTracks.apply(session, { trackIds: ['t'] })
  good(empty)
  expect([empty.trackIds, Object.keys(empty.regions), empty.gainThreads, empty.crossfades]).toEqual([
    ['u', 'v'],
    ['c'],
    {},
    {},
  ])
})

test('tracks go up and down together and stop at the first and the last row', () => {
  const order = (trackIds: string[], byRows: number) =>
    moveTracks.apply(session, { trackIds, byRows }).trackIds
  expect(order(['u'], 1)).toEqual(['t', 'v', 'u'])
  expect(order(['t', 'v'], 1)).toEqual(['u', 't', 'v'])
  expect(order(['v'], -9)).toEqual(['v', 't', 'u'])
  expect(moveTracks.apply(session, { trackIds: ['t'], byRows: -1 })).toBe(session)
})

test('a track is added where it is wanted, made stereo, coloured and trimmed; solos are exclusive', () => {
  const added = addTrack.apply(session, { name: 'New', channels: 1, after: 't' })
  good(added)
  expect(added.trackIds.map((id) => added.tracks[id]!.name)).toEqual(['Track', 'New', 'Speech', 'Empty'])
  expect(setTrackChannels.apply(session, { trackIds: ['t', 'u'], channels: 2 }).tracks.t!.channels).toBe(2)
  const set = setTrack.apply(session, {
    trackIds: ['t'],
    change: { colour: 'rust', trimDb: -3, polarity: -1 },
  })
  good(set)
  expect(set.tracks.t).toMatchObject({ colour: 'rust', trimDb: -3, polarity: -1 })
  expect(() => setTrack.apply(session, { trackIds: ['t'], change: { trimDb: 40 } })).toThrow(
    /40 dB is outside/,
  )
  const solo = setSolos.apply(setSolos.apply(session, { trackIds: ['t', 'u'] }), { trackIds: ['v'] })
  expect(solo.trackIds.filter((id) => solo.tracks[id]!.soloed)).toEqual(['v'])
})

test('after any sequence of changes of tracks the rules hold, and undoing all gives the same session', () => {
  const some = fc.array(fc.nat(5), { minLength: 1, maxLength: 3 })
  const step = <A>(edit: Edit<A>, args: (s: Session, rows: number[], n: number) => A) =>
    fc.tuple(some, fc.integer({ min: -4, max: 4 })).map(
      ([rows, n]) =>
        (s: Session) =>
          edit.apply(s, args(s, rows, n)),
    )
  const ids = (s: Session, rows: number[]) => rows.flatMap((r) => s.trackIds[r] ?? [])
  const steps = fc.oneof(
    step(addTrack, (s, rows, n) => ({
      name: `n${n}`,
      channels: n < 0 ? (1 as const) : (2 as const),
      after: ids(s, rows)[0] ?? null,
    })),
    step(duplicateTracks, (s, rows, n) => ({ trackIds: ids(s, rows), regions: n > 0 })),
    step(deleteTracks, (s, rows) => ({ trackIds: ids(s, rows) })),
    step(moveTracks, (s, rows, byRows) => ({ trackIds: ids(s, rows), byRows })),
    step(setTrackChannels, (s, rows, n) => ({
      trackIds: ids(s, rows),
      channels: n > 0 ? (1 as const) : (2 as const),
    })),
    step(groupTracks, (s, rows, n) => ({ trackIds: ids(s, rows), name: `g${n}` })),
    step(ungroupTracks, (s, rows) => ({ trackIds: ids(s, rows) })),
    step(setSolos, (s, rows) => ({ trackIds: ids(s, rows) })),
    step(setGiveWay, (s, rows) => {
      const [id, other] = ids(s, rows)
      return {
        lanes:
          id && other && id !== other ? { [id]: { knots, giveWay: { ...giveWay, others: [other] } } } : {},
      }
    }),
  )
  fc.assert(
    fc.property(fc.array(steps, { maxLength: 10 }), (applied) => {
      let now = session
      const back = []
      for (const apply of applied) {
        const next = apply(now)
        good(next)
        back.push(diff(now, next).inverse)
        now = next
      }
      for (const patches of back.reverse()) now = applyPatches(now, patches)
      expect(now).toEqual(session)
    }),
    { numRuns: 200 },
  )
})
