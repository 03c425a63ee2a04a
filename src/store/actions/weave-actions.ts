import { clamp } from '../../core/units/clamp'
import type { ThreadKind } from '../../core/curve/knots'
import {
  detachWeave,
  placedWeave,
  removeWeave,
  resizedWeave,
  sameRef,
  setWeave,
  threadOf,
  weaveOf,
  type LaneRef,
  type WeaveRef,
} from '../../core/edit'
import type { LaneWeave, Weave } from '../../core/model/session'
import { current } from '../current'
import { commit } from '../edits'
import type { Thunk } from '../store'
import { weavePicked, weaveSet } from '../view'

const valuesOf = ({ from: _from, to: _to, origin: _origin, ...values }: LaneWeave): Weave => values

/** Changes a weave of a lane; the next one that is woven begins with the same values. */
export const changeWeave =
  (
    picked: WeaveRef,
    what: string,
    change: (weave: LaneWeave, kind: ThreadKind) => LaneWeave,
  ): Thunk<boolean> =>
  (dispatch, getState) => {
    const { session } = getState().session
    const before = session && weaveOf(session, picked)
    if (!session || !before) return false
    const weave = change(before, threadOf(session, picked.ref)!.kind)
    const done = dispatch(commit(setWeave, { ref: picked.ref, weave, replaces: picked.from, what }))
    if (done) {
      dispatch(weaveSet(valuesOf(weave)))
      dispatch(weavePicked({ ref: picked.ref, from: weave.from }))
    }
    return done
  }

/** Shifts both limits of a weave by dB, or hundredths of pan. */
export const shiftWeave = (picked: WeaveRef, by: number): Thunk<boolean> =>
  changeWeave(picked, 'Level of a weave', (weave, kind) => ({
    ...weave,
    low: kind.shift(weave.low, by),
    high: kind.shift(weave.high, by),
  }))

/** Lets a weave begin or end elsewhere, or moves it as a whole. */
export const moveWeave = (picked: WeaveRef, from: number, to: number): Thunk<boolean> =>
  changeWeave(picked, 'Place of a weave', (weave) =>
    to - from === weave.to - weave.from
      ? { ...weave, from, to, origin: weave.origin + from - weave.from }
      : resizedWeave(weave, from, to),
  )

export const dropWeave =
  (picked: WeaveRef): Thunk =>
  (dispatch) => {
    if (dispatch(commit(removeWeave, picked))) dispatch(weavePicked(null))
  }

/**
 * Weaves over a range of a lane, and of the same lane of all selected heads, with the values that were used last, kept within its
 * own limits.
 */
export const weaveRange =
  (ref: LaneRef, { from, to }: { from: number; to: number }): Thunk =>
  (dispatch, getState) => {
    const {
      session: { session },
      preferences: { weave },
    } = getState()
    const thread = session && threadOf(session, ref)
    if (!thread) return
    const { min, max } = thread.kind
    const within = (value: number) => clamp(value, min, max)
    const placed = placedWeave({ ...weave, low: within(weave.low), high: within(weave.high) }, from, to)
    const also = current(getState()).lanes.filter((l) => l.lane === ref.lane && !sameRef(l, ref))
    if (dispatch(commit(setWeave, { ref, weave: placed, replaces: null, also })))
      dispatch(weavePicked({ ref, from }))
  }

/** Makes the knots of a weave ordinary ones. */
export const looseWeave =
  (picked: WeaveRef): Thunk =>
  (dispatch) => {
    if (dispatch(commit(detachWeave, picked))) dispatch(weavePicked(null))
  }
