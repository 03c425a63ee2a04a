import type { Edit, EditTogether } from '../core/edit'
import { applyPatches, diff } from '../core/model/patch'
import { openSession } from '../core/model/check/open'
import { breachLine, limitBreaches } from '../core/model/check/rules'
import type { Session } from '../core/model/session'
import { observable } from './observable'
import { moved, previewDropped, previewed, stepped, type SessionState } from './session-slice'
import type { RootState, Thunk } from './store'
import { noticed } from './transport-slice'
import { sayWhyNot } from './why-not'

/** Why nothing can be changed in a second tab. */
export const READ_ONLY = 'Nothing can be changed here: the session is edited in another tab.'

/** Whether the session cannot be edited here, which is then said. */
const refusedHere = (): Thunk<boolean> => (_dispatch, getState) => {
  const { readOnly } = getState().session
  if (readOnly) sayWhyNot(READ_ONLY)
  return readOnly !== null
}

/**
 * Applies an edit as one step of the history. Does nothing when the edit changes nothing or the session is
 * read-only; an edit beyond the limits of a session is refused with a notice.
 */
export const commit =
  <Args>(edit: Edit<Args>, args: Args): Thunk<boolean> =>
  (dispatch, getState) => {
    const { session, base } = getState().session
    const before = base ?? session
    return before !== null && dispatch(step(before, edit, args, false)) !== null
  }

/**
 * Applies an edit in place of the last step, where that is still the last one and has the given number.
 * Resolves to the number of the new step; null, without a change, where it is not, or nothing was changed.
 */
export const amend =
  <Args>(number: number, edit: Edit<Args>, args: Args): Thunk<number | null> =>
  (dispatch, getState) => {
    const { session, base, steps, done } = getState().session
    const last = steps[done - 1]
    if (!session || base || done !== steps.length || last?.number !== number) return null
    return dispatch(step(applyPatches(session, last.inverse), edit, args, true))
  }

/** The number of the last step, by which it can be amended. */
export const lastStep = (): Thunk<number> => (_dispatch, getState) => {
  const { steps, done } = getState().session
  return steps[done - 1]?.number ?? -1
}

/** An edit's arguments with what goes along because its tracks are in a group, unless the group is left for a moment. */
const ofGroup = <Args>(
  state: RootState,
  before: Session,
  edit: Edit<Args>,
  args: Args,
): EditTogether<Args> =>
  before.groups?.length && edit.together && !state.selection.leavesGroups
    ? edit.together(before, args)
    : { args, missing: [] }

/** Makes a step of an edit; resolves to its number, null when it was not made. */
const step =
  <Args>(before: Session, edit: Edit<Args>, given: Args, amends: boolean): Thunk<number | null> =>
  (dispatch, getState) => {
    if (dispatch(refusedHere())) return null
    const { args, missing } = ofGroup(getState(), before, edit, given)
    const after = edit.apply(before, args)
    if (after === before) {
      dispatch(previewDropped())
      return null
    }
    const [tooLarge] = limitBreaches(after)
    if (tooLarge) {
      dispatch(previewDropped())
      const text = `Nothing was changed, since the session would be too large to be opened again (${breachLine(tooLarge)}).`
      dispatch(noticed({ id: 'limit', text }))
      return null
    }
    const number = getState().session.lastNumber + 1
    const label = edit.label(before, args)
    dispatch(
      stepped({ session: after, step: { number, label, at: Date.now(), ...diff(before, after) }, amends }),
    )
    if (missing.length) {
      const names = missing.map((id) => `“${before.tracks[id]!.name}”`)
      sayWhyNot(
        `Not changed on ${names.slice(0, 3).join(', ')}${names.length > 3 ? ` and ${names.length - 3} more` : ''}: ` +
          'no region there begins and ends with this one.',
      )
    }
    return number
  }

/** Shows and plays an edit during a gesture. The next preview starts from the same session again. */
export const preview =
  <Args>(edit: Edit<Args>, args: Args): Thunk =>
  (dispatch, getState) => {
    const { session, base } = getState().session
    const before = base ?? session
    if (!before || dispatch(refusedHere())) return
    const after: Session = edit.apply(before, ofGroup(getState(), before, edit, args).args)
    if (after !== session) dispatch(previewed(after))
  }

/** Cancels the gesture in progress. */
export const dropPreview = (): Thunk => (dispatch, getState) => {
  if (getState().session.base) dispatch(previewDropped())
}

/**
 * The session with `done` steps in effect. Throws when a step does not fit, or when steps of an earlier visit
 * lead to a session that cannot be opened.
 */
function walked({ session, steps, done: from, earlier }: SessionState, done: number): Session {
  let now = session!
  const way = from > done ? steps.slice(done, from).reverse() : steps.slice(from, done)
  for (const step of way) now = applyPatches(now, from > done ? step.inverse : step.forward)
  return way.some(({ number }) => number <= earlier) ? openSession(now) : now
}

/** What undo, redo or a press in the history changed last, so that the editor can show it. */
export const lastHistoryJump = observable<{ before: Session; after: Session } | null>(null)

/** Goes to a place in the history: `done` steps in effect. */
export const jumpTo =
  (done: number): Thunk =>
  (dispatch, getState) => {
    dispatch(dropPreview())
    const state = getState().session
    if (!state.session || done < 0 || done > state.steps.length || done === state.done) return
    if (dispatch(refusedHere())) return
    try {
      const session = walked(state, done)
      dispatch(moved({ session, done }))
      lastHistoryJump.set({ before: state.session, after: session })
    } catch {
      const text =
        'This step was kept in an earlier visit and does not fit the session any more, so nothing was changed. The session itself is whole.'
      dispatch(noticed({ id: 'history', text }))
    }
  }

/** Undoes the last step. */
export const undo = (): Thunk => (dispatch, getState) => dispatch(jumpTo(getState().session.done - 1))

/** Redoes the step that was undone last. */
export const redo = (): Thunk => (dispatch, getState) => dispatch(jumpTo(getState().session.done + 1))
