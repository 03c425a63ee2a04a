import { sessionLength } from '../../../core/model/queries'
import { rowIds } from '../../../core/model/strips'
import { shownSession } from '../../../store/selectors'
import type { Thunk } from '../../../store/store'
import { addBusFor } from '../../../store/actions/strip-actions'
import { viewChanged } from '../../../store/view'
import { boundedView } from '../drawing/geometry'

/** Adds a bus, which is the last row, and brings it into sight. */
export const addBusInSight = (): Thunk => (dispatch, getState) => {
  dispatch(addBusFor())
  const session = shownSession(getState())
  const { view } = getState().navigation
  if (session)
    dispatch(
      viewChanged(boundedView({ ...view, top: Infinity }, sessionLength(session), rowIds(session).length)),
    )
}
