import type { Edit } from '../../core/edit'
import { commit } from '../edits'
import type { Thunk } from '../store'

/** Applies an edit to all selected regions if the given one is among them, else to that one alone. */
export const commitToSelected =
  <Args extends { regionIds: readonly string[] }>(
    regionId: string,
    edit: Edit<Args>,
    args: Omit<Args, 'regionIds'>,
  ): Thunk =>
  (dispatch, getState) => {
    const { regionIds: selection } = getState().selection
    dispatch(
      commit(edit, {
        ...args,
        regionIds: selection.includes(regionId) ? selection : [regionId],
      } as unknown as Args),
    )
  }
