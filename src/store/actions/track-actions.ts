import {
  addTrack,
  deleteTracks,
  duplicateTracks,
  groupTracks,
  moveBus,
  moveTracks,
  removeBuses,
  setSolos,
  setTrack,
  setTrackChannels,
  ungroupTracks,
  type TrackChange,
} from '../../core/edit'
import type { Session } from '../../core/model/session'
import { commit } from '../edits'
import type { RootState, Thunk } from '../store'
import { headPicked, headsReleased, selected } from '../view'
import { sayWhyNot } from '../why-not'

/** The tracks that a command at the head of one is about: all selected heads where it is among them, else it alone. */
export const tracksMeant = ({ selection }: RootState, trackId: string): string[] =>
  selection.trackIds.includes(trackId) ? selection.trackIds : [trackId]

/** A name that no track has yet: "Track 8". */
function freeName({ tracks, trackIds }: Session): string {
  const names = new Set(Object.values(tracks).map((t) => t.name))
  for (let n = trackIds.length + 1; ; n++) if (!names.has(`Track ${n}`)) return `Track ${n}`
}

/** Runs an edit that makes tracks, and lets the last of them lead. */
const andPickNew =
  (action: Thunk<boolean>): Thunk =>
  (dispatch, getState) => {
    const before = getState().session.session!.tracks
    if (!dispatch(action)) return
    const made = getState().session.session!.trackIds.filter((id) => !(id in before))
    made.forEach((trackId, i) => dispatch(headPicked({ trackId, add: i > 0 })))
  }

/** Adds an empty track below another, or with null at the end. */
export const addTrackBelow =
  (after: string | null, channels: 1 | 2): Thunk =>
  (dispatch, getState) => {
    const { session } = getState().session
    if (session) dispatch(andPickNew(commit(addTrack, { name: freeName(session), channels, after })))
  }

/** Whether only buses are meant, for what can be done to tracks alone; then it is said why nothing happens. */
const onlyBuses =
  (trackIds: readonly string[], why: string): Thunk<boolean> =>
  (_dispatch, getState) => {
    const { session } = getState().session
    const only = session !== null && trackIds.every((id) => session.buses[id])
    if (only) sayWhyNot(why)
    return only
  }

export const duplicateHeads =
  (trackIds: readonly string[], regions: boolean): Thunk =>
  (dispatch) => {
    if (dispatch(onlyBuses(trackIds, 'A bus cannot be duplicated: add one, and give it the same inserts.')))
      return
    dispatch(andPickNew(commit(duplicateTracks, { trackIds, regions })))
  }

/** Deletes tracks with their regions. */
export const deleteHeads =
  (trackIds: readonly string[]): Thunk<boolean> =>
  (dispatch, getState) => {
    const busIds = trackIds.filter((id) => getState().session.session?.buses[id])
    const removed = busIds.length > 0 && dispatch(commit(removeBuses, { busIds }))
    if (!dispatch(commit(deleteTracks, { trackIds })) && !removed) return false
    const { session } = getState().session
    const left = getState().selection.regionIds.filter((id) => session!.regions[id])
    dispatch(selected({ regionIds: left, trackId: session!.trackIds[0] ?? null }))
    dispatch(headsReleased())
    return true
  }

/** Moves tracks, or a bus, up or down past so many others of their kind. */
export const moveHeads =
  (trackIds: readonly string[], byRows: number): Thunk<boolean> =>
  (dispatch, getState) => {
    const busId = trackIds.find((id) => getState().session.session?.buses[id])
    return dispatch(
      busId === undefined ? commit(moveTracks, { trackIds, byRows }) : commit(moveBus, { busId, byRows }),
    )
  }

export const changeTracks = (trackIds: readonly string[], change: TrackChange): Thunk<boolean> =>
  commit(setTrack, { trackIds, change })

export const setChannels =
  (trackIds: readonly string[], channels: 1 | 2): Thunk<boolean> =>
  (dispatch) =>
    !dispatch(onlyBuses(trackIds, 'A bus is always stereo.')) &&
    dispatch(commit(setTrackChannels, { trackIds, channels }))

/** Solos only these tracks; without any, all are heard again. */
export const soloOnly = (trackIds: readonly string[]): Thunk<boolean> => commit(setSolos, { trackIds })

/** Selects all regions of tracks. */
export const selectRegionsOf =
  (trackIds: readonly string[]): Thunk =>
  (dispatch, getState) => {
    const { session } = getState().session
    if (!session) return
    const on = new Set(trackIds)
    const regionIds = Object.values(session.regions)
      .filter((r) => on.has(r.trackId))
      .map((r) => r.id)
    dispatch(selected({ regionIds, ...(trackIds[0] === undefined ? {} : { trackId: trackIds[0] }) }))
  }

/** Puts tracks into an edit group of their own. */
export const groupHeads = (trackIds: readonly string[], name: string): Thunk<boolean> =>
  commit(groupTracks, { trackIds, name })

/** Takes tracks out of their groups. */
export const ungroupHeads = (trackIds: readonly string[]): Thunk<boolean> =>
  commit(ungroupTracks, { trackIds })
