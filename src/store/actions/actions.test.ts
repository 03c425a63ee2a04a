import { dbToHeight, heightToDb } from '../../core/units/taper'
import { setGiveWay, type ThreadRef } from '../../core/edit'
import { createTrack } from '../../core/model/create'
import { testRegion, testSession } from '../../core/model/fixture.test-util'
import { checkSession } from '../../core/model/check/rules'
import type { Knot, Session } from '../../core/model/session'
import { current } from '../current'
import {
  clearRange,
  copyAutomation,
  cutAutomation,
  putAutomation,
  repeatAutomation,
  shiftRangeBy,
} from './automation-actions'
import { commit, undo } from '../edits'
import {
  copySelected,
  crossfadeSelected,
  duplicateSelected,
  joinSelected,
  likeRegion,
  moveSelectedToTrack,
  nudgeSelected,
  pasteHere,
  selectFrom,
  splitAt,
  switchSelected,
  trimToRange,
} from './region-actions'
import { opened } from '../session-slice'
import { createStore } from '../store'
import {
  chooseKnots,
  dropKnots,
  rangeInRegion,
  resetKnots,
  scaleKnots,
  setKnots,
  shiftKnots,
  shiftRange,
} from './thread-actions'
import { beadPicked, knotsSelected, rangeSet, selected, shouldersSet, trackPicked } from '../view'

const kept = new Map<string, string>()
beforeAll(() => {
  Object.assign(globalThis, {
    localStorage: {
      getItem: (key: string) => kept.get(key) ?? null,
      setItem: (key: string, text: string) => void kept.set(key, text),
    },
  })
})
beforeEach(() => kept.clear())

const line = (frame: number, db: number): Knot => ({ frame, value: dbToHeight(db), shape: 'line', bend: 0 })

/** Two mono tracks; on the first a take in two pieces that touch, with sound beyond the cut. */
const takes = testSession(
  [
    testRegion('a', { length: 48000, offset: 1000, clipGainDb: -2 }),
    testRegion('b', { start: 48000, offset: 49000, clipGainDb: -8 }),
    testRegion('c', { trackId: 'u', start: 10_000 }),
  ],
  {
    lanes: {
      volume: {
        knots: [line(0, 0), line(10_000, 0), line(12_000, -12), line(20_000, -12), line(22_000, 0)],
        bypassed: false,
        visible: true,
      },
    },
  },
)
const session: Session = {
  ...takes,
  trackIds: ['t', 'u'],
  tracks: { ...takes.tracks, u: createTrack('u', 'Other', 1, 1) },
}

function open(given: Session = session) {
  const store = createStore()
  store.dispatch(opened({ session: given, steps: [], done: 0, savedAt: 0, readOnly: false }))
  return {
    dispatch: store.dispatch,
    state: store.getState,
    session: () => store.getState().session.session!,
    steps: () => store.getState().session.steps.map((s) => s.label),
    /**
     * Takes everything back and looks whether the session is what it was, to the last value; on the way no
     * rule may be broken.
     */
    takenBack() {
      expect(checkSession(store.getState().session.session)).toEqual([])
      while (store.getState().session.done > 0) store.dispatch(undo())
      expect(store.getState().session.session).toEqual(given)
    },
  }
}

const lane = (trackId: string | null, of: Session) =>
  (trackId === null ? of.mix : of.tracks[trackId]!).lanes.volume?.knots ?? []
const levels = (knots: readonly Knot[]) =>
  knots.map((k) => [k.frame, Math.round(heightToDb(k.value) * 1000) / 1000])

describe('a range of automation', () => {
  test('is what copy and delete are about only while a lane is picked and a range is set', () => {
    const { dispatch, state } = open()
    expect(current(state()).copies === 'automation').toBe(false)
    dispatch(rangeSet({ from: 8000, to: 24_000 }))
    expect(current(state()).copies === 'automation').toBe(false)
    dispatch(beadPicked('volume'))
    expect([current(state()).copies === 'automation', current(state()).lanes]).toEqual([
      true,
      [{ kind: 'lane', trackId: 't', lane: 'volume' }],
    ])
    dispatch(beadPicked('mix'))
    expect(current(state()).lanes).toEqual([{ kind: 'lane', trackId: null, lane: 'volume' }])
    // Selected knots say best which lane is meant.
    dispatch(knotsSelected({ ref: { kind: 'lane', trackId: 'u', lane: 'pan' }, indices: [0] }))
    expect(current(state()).lanes).toEqual([{ kind: 'lane', trackId: 'u', lane: 'pan' }])
  })

  test('is copied onto another track, at another place, as often as wished', () => {
    const { dispatch, session, steps, takenBack } = open()
    dispatch(beadPicked('volume'))
    dispatch(rangeSet({ from: 8000, to: 24_000 }))
    expect(dispatch(copyAutomation())).toBe(true)
    dispatch(trackPicked('u'))
    dispatch(putAutomation(2, 100_000))
    // The dip of 2000 to 14,000 frames after the range's start, twice, 16,000 frames apart.
    const dips = levels(lane('u', session()))
      .filter(([, db]) => db === -12)
      .map(([frame]) => frame)
    expect(dips).toEqual([104_000, 112_000, 120_000, 128_000])
    expect(lane('t', session())).toBe(session().tracks.t!.lanes.volume!.knots)
    expect(steps()).toHaveLength(1)
    takenBack()
  })

  test('is cut, repeated and shifted; what a pan lane holds does not go into a volume lane', () => {
    const { dispatch, session, state, takenBack } = open()
    dispatch(beadPicked('volume'))
    dispatch(rangeSet({ from: 8000, to: 24_000 }))
    dispatch(repeatAutomation(1))
    expect(
      levels(lane('t', session()))
        .filter(([, db]) => db === -12)
        .map(([f]) => f),
    ).toEqual([12_000, 20_000, 28_000, 36_000])
    dispatch(shiftRangeBy(500))
    expect(state().selection.range).toEqual({ from: 8500, to: 24_500 })
    expect(
      levels(lane('t', session()))
        .filter(([, db]) => db === -12)
        .map(([f]) => f),
    ).toEqual([12_500, 20_500, 28_000, 36_000])
    dispatch(cutAutomation())
    expect(
      levels(lane('t', session()))
        .filter(([, db]) => db === -12)
        .map(([f]) => f),
    ).toEqual([28_000, 36_000])
    const before = session()
    dispatch(beadPicked('pan'))
    dispatch(putAutomation(1, 0))
    expect(session()).toBe(before)
    dispatch(clearRange())
    expect(session()).toBe(before)
    takenBack()
  })
})

describe('gain in a range', () => {
  test('makes knots in the thread of every region that it touches, on the frames of the source, forwards and backwards', () => {
    expect(
      rangeInRegion(testRegion('r', { start: 100, offset: 1000, length: 500 }), { from: 200, to: 900 }),
    ).toEqual({ from: 1100, to: 1500 })
    expect(
      rangeInRegion(testRegion('r', { start: 100, offset: 1000, length: 500, reversed: true }), {
        from: 200,
        to: 900,
      }),
    ).toEqual({ from: 1000, to: 1400 })
    expect(rangeInRegion(testRegion('r', { start: 100, length: 500 }), { from: 600, to: 900 })).toBeNull()
    expect(rangeInRegion(testRegion('r'), null)).toBeNull()
  })

  test('shapes linked copies once, however many of them the range touches', () => {
    const { dispatch, session, steps, takenBack } = open()
    dispatch(selected({ regionIds: ['c'] }))
    dispatch(duplicateSelected(true, 2))
    const copies = Object.values(session().regions).filter((r) => r.trackId === 'u')
    expect(new Set(copies.map((r) => r.gainThreadId)).size).toBe(1)
    expect(copies.map((r) => r.start).sort((a, b) => a - b)).toEqual([10_000, 58_000, 106_000])
    dispatch(shouldersSet(10))
    dispatch(rangeSet({ from: 20_000, to: 80_000 }))
    dispatch(shiftRange(copies, -6))
    const { knots } = session().gainThreads[copies[0]!.gainThreadId!]!
    // 10,000 frames into the first copy up to its end, with a shoulder of 480 before it; behind it there is no room for one.
    expect(levels(knots)).toEqual([
      [9520, 0],
      [10_000, -6],
      [48_000, -6],
      [48_000, 0],
    ])
    expect(steps()).toEqual(['Repeat “c” 2 times, linked', expect.stringMatching(/^Gain in the range/)])
    takenBack()
  })
})

test('knots of a lane are chosen, set, shifted, scaled, reset and removed by the same actions as those of a region', () => {
  const ref: ThreadRef = { kind: 'lane', trackId: 't', lane: 'volume' }
  const { dispatch, session, state, takenBack } = open()
  const now = () => levels(lane('t', session())).map(([, db]) => db)
  dispatch(chooseKnots(ref, 11_000, 21_000))
  expect(state().selection.knots).toEqual({ ref, indices: [2, 3] })
  dispatch(shiftKnots(ref, [2, 3], 3))
  expect(now()).toEqual([0, 0, -9, -9, 0])
  dispatch(scaleKnots(ref, [], 0.5))
  expect(now()).toEqual([0, 0, -4.5, -4.5, 0])
  dispatch(setKnots(ref, [0], dbToHeight(2)))
  dispatch(resetKnots(ref, [2]))
  expect(now()).toEqual([2, 0, 0, -4.5, 0])
  dispatch(dropKnots(ref, [2, 3]))
  expect([now(), state().selection.knots]).toEqual([[2, 0, 0], null])
  dispatch(resetKnots(ref, []))
  expect(now()).toEqual([])
  takenBack()
})

describe('regions', () => {
  test('get the gain of one of them, are muted and turned together, joined and split', () => {
    const { dispatch, session, takenBack } = open()
    dispatch(selected({ regionIds: ['b', 'a'] }))
    dispatch(likeRegion('b'))
    expect([session().regions.a!.clipGainDb, session().regions.b!.clipGainDb]).toEqual([-8, -8])
    dispatch(switchSelected('muted'))
    expect([session().regions.a!.muted, session().regions.b!.muted, session().regions.c!.muted]).toEqual([
      true,
      true,
      false,
    ])
    dispatch(joinSelected())
    expect(
      Object.values(session().regions)
        .filter((r) => r.trackId === 't')
        .map((r) => [r.start, r.offset, r.length]),
    ).toEqual([[0, 1000, 96_000]])
    dispatch(selected({ regionIds: [] }))
    dispatch(trackPicked('t'))
    dispatch(splitAt(60_000.4))
    expect(
      Object.values(session().regions)
        .filter((r) => r.trackId === 't')
        .map((r) => [r.start, r.offset, r.length])
        .sort((x, y) => x[0]! - y[0]!),
    ).toEqual([
      [0, 1000, 60_000],
      [60_000, 61_000, 36_000],
    ])
    takenBack()
  })

  test('are trimmed to the range and crossfaded at their join, which is then selected', () => {
    const { dispatch, session, state, takenBack } = open()
    dispatch(selected({ regionIds: ['a', 'b'] }))
    dispatch(crossfadeSelected())
    const [made] = Object.values(session().crossfades)
    expect(state().selection.crossfadeId).toBe(made!.id)
    const [left, right] = [session().regions.a!, session().regions.b!]
    // 30 ms, half on each side of the join.
    expect([right.start, left.start + left.length]).toEqual([48_000 - 720, 48_000 + 720])
    dispatch(selected({ regionIds: ['c'] }))
    dispatch(rangeSet({ from: 20_000, to: 30_000 }))
    dispatch(trimToRange())
    expect([session().regions.c!.start, session().regions.c!.offset, session().regions.c!.length]).toEqual([
      20_000, 10_000, 10_000,
    ])
    takenBack()
  })

  test('from a place on are selected on one track or on all; where none is, nothing changes', () => {
    const { dispatch, state } = open()
    dispatch(selectFrom(10_000, null))
    expect([...state().selection.regionIds].sort()).toEqual(['b', 'c'])
    dispatch(selectFrom(0, 't'))
    expect(state().selection.regionIds).toEqual(['a', 'b'])
    dispatch(selectFrom(500_000, null))
    expect(state().selection.regionIds).toEqual(['a', 'b'])
  })

  test('are copied into another session with all they need, unless its rate is another', () => {
    const from = open()
    from.dispatch(selected({ regionIds: ['a', 'b'] }))
    expect(from.dispatch(copySelected())).toBe(true)
    const into = open(testSession([], {}, { sources: {}, id: 'other' }))
    into.dispatch(trackPicked('t'))
    into.dispatch(pasteHere())
    const pasted = Object.values(into.session().regions)
    expect(pasted.map((r) => [r.start, r.length, r.clipGainDb]).sort((x, y) => x[0]! - y[0]!)).toEqual([
      [0, 48_000, -2],
      [48_000, 48_000, -8],
    ])
    expect([...into.state().selection.regionIds].sort()).toEqual(pasted.map((r) => r.id).sort())
    expect(Object.values(into.session().sources).map((s) => s.sha256)).toEqual([session.sources.s!.sha256])
    into.takenBack()
    const slower = open({ ...testSession([], {}, { sources: {} }), sampleRate: 44_100 })
    slower.dispatch(pasteHere())
    expect(Object.keys(slower.session().regions)).toEqual([])
    expect(
      slower
        .state()
        .transport.notices.map((n) => n.text)
        .join(),
    ).toMatch(/48 kHz .* 44\.1 kHz/)
  })

  test('a lane that gives way is let go when its knots are changed by hand, and moving a region leaves it alone', () => {
    const settings = {
      others: ['u'],
      depthDb: 9,
      attackMs: 50,
      holdMs: 100,
      releaseMs: 300,
      lookAheadMs: 20,
      gapMs: 500,
      thresholdLufs: -50,
      base: [],
    }
    const { dispatch, session, takenBack } = open()
    dispatch(commit(setGiveWay, { lanes: { t: { knots: [line(0, 0), line(100, -9)], giveWay: settings } } }))
    expect(session().tracks.t!.lanes.volume!.giveWay).toEqual(settings)
    dispatch(selected({ regionIds: ['c'] }))
    dispatch(nudgeSelected(700))
    expect(session().tracks.t!.lanes.volume!.giveWay).toEqual(settings)
    dispatch(shiftKnots({ kind: 'lane', trackId: 't', lane: 'volume' }, [1], 2))
    expect(session().tracks.t!.lanes.volume!.giveWay).toBeUndefined()
    takenBack()
  })
})

test('regions that are taken past a track by keys leave what lies there whole: one step, from where they came from', () => {
  const three: Session = {
    ...session,
    trackIds: ['t', 'u', 'v'],
    tracks: { ...session.tracks, v: createTrack('v', 'Third', 1, 1) },
  }
  const { dispatch, session: now, steps, state, takenBack } = open(three)
  dispatch(selected({ regionIds: ['a'] }))
  dispatch(moveSelectedToTrack(1))
  // It meets what lies there.
  expect([now().regions.c, now().crossfades]).not.toEqual([three.regions.c, three.crossfades])
  dispatch(moveSelectedToTrack(1))
  expect(now().regions.a).toMatchObject({ trackId: 'v', start: 0 })
  expect([now().regions.c, now().crossfades]).toEqual([three.regions.c, three.crossfades])
  expect(steps()).toEqual(['Move “a”'])
  dispatch(moveSelectedToTrack(1))
  expect(now().regions.a!.trackId).toBe('v')
  dispatch(moveSelectedToTrack(-1))
  dispatch(moveSelectedToTrack(-1))
  expect([now(), state().session.done]).toEqual([three, 0])
  // After another step it is a move of its own.
  dispatch(moveSelectedToTrack(1))
  dispatch(nudgeSelected(100))
  dispatch(moveSelectedToTrack(1))
  expect(steps()).toHaveLength(3)
  takenBack()
})
