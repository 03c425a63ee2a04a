import { setParameter, setParameters, stripOf, stripWords } from '../../core/edit'
import { steppedValue, type Parameter } from '../../core/model/parameters'
import { commit } from '../edits'
import type { Thunk } from '../store'

/** Tracks, by their ids; null is the mix. */
type TrackIds = readonly (string | null)[]

/** Gives a parameter of tracks another static value; one step of the history. */
export const giveValue =
  (trackIds: TrackIds, { key }: Parameter, value: number | null): Thunk<boolean> =>
  (dispatch) =>
    dispatch(commit(setParameter, { key, trackIds: [...trackIds], value }))

/** Moves it by a step up (1) or down (-1), finely by the small one; the tracks keep their differences. */
export const stepValue =
  (trackIds: TrackIds, parameter: Parameter, direction: 1 | -1, fine: boolean): Thunk<boolean> =>
  (dispatch, getState) => {
    const { session } = getState().session
    const { value } = parameter
    if (!session || !value) return false
    const values = trackIds.flatMap((trackId) => {
      const strip = stripOf(session, trackId)
      return strip ? [{ trackId, value: steppedValue(value, value.read(strip), direction, fine) }] : []
    })
    return dispatch(commit(setParameters, { key: parameter.key, values }))
  }

/** Changes it by an amount; the tracks keep their differences. Returns why it was not, null when it was. */
export const changeValue =
  (trackIds: TrackIds, parameter: Parameter, by: number): Thunk<string | null> =>
  (dispatch, getState) => {
    const { session } = getState().session
    const { value } = parameter
    if (!session || !value) return null
    const values: { trackId: string | null; value: number | null }[] = []
    for (const trackId of trackIds) {
      const strip = stripOf(session, trackId)
      const now = strip && value.read(strip)
      if (!strip || now === undefined) continue
      const to = now === null ? null : value.parse(value.show(now! + by))
      const whose = stripWords(session, trackId)
      if (to === null) return `${whose} is silent, so there is nothing to add to. Nothing was changed.`
      if (!to.ok) return `${whose}: ${to.message} Nothing was changed.`
      values.push({ trackId, value: to.value })
    }
    dispatch(commit(setParameters, { key: parameter.key, values }))
    return null
  }

/** Puts it back to where it changes nothing. */
export const resetValue =
  (trackIds: TrackIds, parameter: Parameter): Thunk<boolean> =>
  (dispatch) =>
    parameter.value ? dispatch(giveValue(trackIds, parameter, parameter.value.defaultValue)) : false
