import { editingEnded } from '../session-slice'
import type { Thunk } from '../store'
import { noticed } from '../transport-slice'

const TAKEN_OVER =
  'Another tab took this session over while this one did not answer, so nothing is written from here any more.'

/** Another tab took the open session without being given it: steps that are not saved stay in this one only. */
export const sessionTaken = (): Thunk => (dispatch, getState) => {
  dispatch(editingEnded('taken'))
  if (getState().session.unsaved) dispatch(noticed({ id: 'taken over', text: TAKEN_OVER }))
}
