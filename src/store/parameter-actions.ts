import { setParameter, stripOf } from '../core/edit'
import { steppedValue, type Parameter } from '../core/model/parameters'
import { commit } from './edits'
import type { Thunk } from './store'

/** Gives a parameter of a track, or with null of the mix, another static value; one step of the history. */
export const giveValue =
  (trackId: string | null, { key }: Parameter, value: number | null): Thunk<boolean> =>
  (dispatch) =>
    dispatch(commit(setParameter, { key, trackIds: [trackId], value }))

/** Moves it by a step up (1) or down (-1), finely by the small one. */
export const stepValue =
  (trackId: string | null, parameter: Parameter, direction: 1 | -1, fine: boolean): Thunk<boolean> =>
  (dispatch, getState) => {
    const { session } = getState().session
    const strip = session && stripOf(session, trackId)
    const { value } = parameter
    return strip && value
      ? dispatch(giveValue(trackId, parameter, steppedValue(value, value.read(strip), direction, fine)))
      : false
  }

/** Puts it back to where it changes nothing. */
export const resetValue =
  (trackId: string | null, parameter: Parameter): Thunk<boolean> =>
  (dispatch) =>
    parameter.value ? dispatch(giveValue(trackId, parameter, parameter.value.plain)) : false
