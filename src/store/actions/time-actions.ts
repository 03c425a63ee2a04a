import { insertTime, insertTimeRefusal, removeTime, removeTimeRefusal } from '../../core/edit'
import { commit } from '../edits'
import { getPlayer } from '../playback/playback'
import { shownSession } from '../selectors'
import type { Thunk } from '../store'
import { rangeSet } from '../view'
import { sayWhyNot } from '../why-not'

/** Where time is inserted: at the start of the marked range, else at the playhead. */
export const insertionFrame = (): Thunk<number> => (_dispatch, getState) =>
  getState().selection.range?.from ?? Math.round(getPlayer()?.position() ?? 0)

/** Inserts so many frames on all tracks, at the start of the marked range or at the playhead; says why where it cannot be. */
export const insertTimeHere =
  (frames: number): Thunk<boolean> =>
  (dispatch, getState) => {
    const session = shownSession(getState())
    if (!session) return false
    const at = dispatch(insertionFrame())
    const refusal = insertTimeRefusal(session, at, frames)
    if (refusal) sayWhyNot(refusal)
    return refusal === null && dispatch(commit(insertTime, { at, frames }))
  }

/** Removes the time of the marked range from all tracks, with what lies in it; says why where it cannot be. */
export const removeTimeOfRange = (): Thunk<boolean> => (dispatch, getState) => {
  const session = shownSession(getState())
  const { range } = getState().selection
  if (!session) return false
  const refusal = range
    ? removeTimeRefusal(session, range.from, range.to)
    : 'Mark a range first: hold R and sweep, or drag on the ruler with Shift.'
  if (refusal) sayWhyNot(refusal)
  if (refusal !== null || !range || !dispatch(commit(removeTime, range))) return false
  dispatch(rangeSet(null))
  return true
}
