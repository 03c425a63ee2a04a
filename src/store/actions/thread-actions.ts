import {
  knotsBetween,
  mapValues,
  moveKnots,
  plateau,
  removeKnots,
  reshapeStretch,
  thinKnots,
  type ThreadKind,
} from '../../core/curve/knots'
import { weaveContextOf, shapeThread, shapeThreads, threadOf, type ThreadRef } from '../../core/edit'
import { mapLane } from '../../core/curve/weave'
import { regionEnd } from '../../core/model/queries'
import type { Knot, Region } from '../../core/model/session'
import { showTime } from '../../core/units/typed'
import { scaleChange } from '../../core/units/typed-change'
import { commit } from '../edits'
import type { Thunk } from '../store'
import { knotsSelected } from '../view'

/** Changes the knots of a thread, as one step. */
export const changeKnots =
  (
    ref: ThreadRef,
    what: string,
    change: (knots: readonly Knot[], kind: ThreadKind) => readonly Knot[],
  ): Thunk<boolean> =>
  (dispatch, getState) => {
    const { session } = getState().session
    const thread = session && threadOf(session, ref)
    return thread
      ? dispatch(commit(shapeThread, { ref, knots: change(thread.knots, thread.kind), what }))
      : false
  }

const counted = (knots: number) => (knots === 1 ? 'knot' : `${knots} knots`)

/** Changes the values of knots, or of a whole thread when none are chosen: of its weaves by their limits. */
const changeValues =
  (
    ref: ThreadRef,
    indices: readonly number[],
    what: string,
    change: (kind: ThreadKind) => (value: number) => number,
  ): Thunk =>
  (dispatch, getState) => {
    const { session } = getState().session
    const thread = session && threadOf(session, ref)
    if (!thread) return
    const { knots, weaves, kind } = thread
    const changed = indices.length
      ? { knots: mapValues(kind, knots, indices, change(kind)) }
      : mapLane(knots, weaves, weaveContextOf(session, kind), change(kind))
    dispatch(commit(shapeThread, { ref, ...changed, what }))
  }

/** Moves knots by so many thread frames. */
export const nudgeKnots =
  (ref: ThreadRef, indices: readonly number[], byFrames: number): Thunk =>
  (dispatch) =>
    void dispatch(
      changeKnots(ref, 'Move knot', (knots, kind) => moveKnots(knots, indices, byFrames, 0, kind)),
    )

/** Shifts knots (all when none are chosen) by dB, or hundredths of pan. */
export const shiftKnots = (ref: ThreadRef, indices: readonly number[], by: number): Thunk =>
  changeValues(
    ref,
    indices,
    indices.length === 1 ? 'Level of knot' : 'Shift',
    (kind) => (v) => kind.shift(v, by),
  )

/** The same unless one of them would leave its range. Returns why nothing was changed, null when all were shifted. */
export const shiftKnotsWithin =
  (ref: ThreadRef, indices: readonly number[], by: number): Thunk<string | null> =>
  (dispatch, getState) => {
    const { session } = getState().session
    const thread = session && threadOf(session, ref)
    if (!thread) return null
    for (const i of indices) {
      const { value, frame } = thread.knots[i]!
      const moved = scaleChange(thread.kind, value).add!(by)
      const at = showTime(frame, session.sampleRate)
      if (!moved.ok) return `The knot at ${at} cannot: ${moved.message} Nothing was changed.`
    }
    dispatch(shiftKnots(ref, indices, by))
    return null
  }

/** Gives knots one value. */
export const setKnots =
  (ref: ThreadRef, indices: readonly number[], value: number): Thunk =>
  (dispatch) =>
    void dispatch(
      changeKnots(ref, `Level of ${counted(indices.length)}`, (knots, kind) =>
        mapValues(kind, knots, indices, () => value),
      ),
    )

/** Scales knots (all when none are chosen) about 0 dB, or the centre. */
export const scaleKnots = (ref: ThreadRef, indices: readonly number[], factor: number): Thunk =>
  changeValues(ref, indices, 'Scale', (kind) => (v) => kind.scaled(v, factor))

/** Removes knots and clears their selection. */
export const dropKnots =
  (ref: ThreadRef, indices: readonly number[]): Thunk =>
  (dispatch) => {
    dispatch(
      changeKnots(ref, indices.length > 1 ? `Remove ${indices.length} knots` : 'Remove knot', (knots) =>
        removeKnots(knots, indices),
      ),
    )
    dispatch(knotsSelected(null))
  }

/** Thins knots (all when none are chosen) within a tolerance. */
export const thinThread =
  (ref: ThreadRef, indices: readonly number[], tolerance: number): Thunk<boolean> =>
  (dispatch) => {
    const done = dispatch(
      changeKnots(ref, 'Thin', (knots, kind) => thinKnots(knots, indices, tolerance, kind)),
    )
    if (done) dispatch(knotsSelected(null))
    return done
  }

/** Gives the stretches that begin at knots another shape or bend. */
export const shapeStretches =
  (ref: ThreadRef, indices: readonly number[], change: Partial<Pick<Knot, 'shape' | 'bend'>>): Thunk =>
  (dispatch) =>
    void dispatch(
      changeKnots(ref, 'Curve of stretch', (knots) =>
        indices.reduce<readonly Knot[]>((now, i) => reshapeStretch(now, i, change), knots),
      ),
    )

/** Resets the chosen knots to neutral, or the whole thread when none are chosen. */
export const resetKnots =
  (ref: ThreadRef, indices: readonly number[]): Thunk =>
  (dispatch) => {
    dispatch(
      changeKnots(ref, 'Reset', (knots, kind) =>
        indices.length === 0 ? [] : mapValues(kind, knots, indices, () => kind.neutral),
      ),
    )
    if (indices.length === 0) dispatch(knotsSelected(null))
  }

/** The part of a session range that lies in a region, in the region's source frames; null where there is none. */
export function rangeInRegion(
  region: Region,
  range: { from: number; to: number } | null,
): { from: number; to: number } | null {
  if (!range) return null
  const [from, to] = [Math.max(range.from, region.start), Math.min(range.to, regionEnd(region))]
  if (to <= from) return null
  const first = from - region.start
  const last = to - region.start
  return region.reversed
    ? { from: region.offset + region.length - last, to: region.offset + region.length - first }
    : { from: region.offset + first, to: region.offset + last }
}

/** Shifts the gain of regions by dB in the range only: a plateau in the gain thread of each, so that nothing is cut. */
export const shiftRange =
  (regions: readonly Region[], byDb: number): Thunk =>
  (dispatch, getState) => {
    const state = getState()
    const { session } = state.session
    const shoulder = Math.round((state.preferences.shoulderMs / 1000) * (session?.sampleRate ?? 48000))
    const done = new Set<string>()
    const threads = regions.flatMap((region) => {
      const part = rangeInRegion(region, state.selection.range)
      // Linked copies share the thread: it is shaped once.
      if (!part || !session || (region.gainThreadId !== null && done.has(region.gainThreadId))) return []
      if (region.gainThreadId !== null) done.add(region.gainThreadId)
      const ref: ThreadRef = { kind: 'region', regionId: region.id }
      const { knots, kind } = threadOf(session, ref)!
      const bounds = { from: region.offset, to: region.offset + region.length }
      return [{ ref, knots: plateau(knots, part.from, part.to, byDb, shoulder, kind, false, bounds) }]
    })
    if (threads.length) dispatch(commit(shapeThreads, { threads, what: 'Gain in the range' }))
  }

/** Chooses the knots of a thread that lie in a stretch of its frames. */
export const chooseKnots =
  (ref: ThreadRef, from: number, to: number): Thunk =>
  (dispatch, getState) => {
    const { session } = getState().session
    const thread = session && threadOf(session, ref)
    const indices = thread ? knotsBetween(thread.knots, from, to) : []
    dispatch(knotsSelected(indices.length ? { ref, indices } : null))
  }
