import { copyRegions, deleteRegions, duplicateRegions, joinRegions, moveRegions, pasteRegions, setRegion, splitRegions, trimRegions, unlinkRegions, type Clip } from '../core/edit'
import { regionEnd, regionsOf } from '../core/model/queries'
import type { Region } from '../core/model/session'
import { commit } from './edits'
import { getPlayer } from './playback'
import { pathTrack, selectedRegions } from './selectors'
import type { Thunk } from './store'
import { noticed } from './transport-slice'
import { selected } from './view-slice'

const CLIPBOARD = 'oaken-thread/clip'

const ids = (regions: readonly Region[]) => regions.map((r) => r.id)

/** Splits the selected regions at the ends of the range if there is one, else at the playhead; without a selection every region there. */
export const splitHere = (): Thunk => (dispatch, getState) => {
  const state = getState()
  const { session } = state.session
  if (!session) return
  const frames = state.view.range ? [state.view.range.from, state.view.range.to] : [Math.round(getPlayer()?.position() ?? 0)]
  const chosen = selectedRegions(state)
  const track = pathTrack(state)
  const regions = chosen.length ? chosen : track ? regionsOf(session, track.id) : []
  dispatch(commit(splitRegions, { regionIds: ids(regions), frames }))
}

/** Trims the start or the end of the selected regions to the playhead, where it lies inside them (or in their hidden sound). */
export const trimToPlayhead = (edge: 'start' | 'end'): Thunk => (dispatch, getState) => {
  const regions = selectedRegions(getState())
  const first = regions[0]
  if (!first) return
  const frame = Math.round(getPlayer()?.position() ?? 0)
  dispatch(commit(trimRegions, { regionIds: ids(regions), edge, byFrames: frame - (edge === 'start' ? first.start : regionEnd(first)) }))
}

/** Does something that makes new regions, and selects these. */
const andSelectNew = (action: Thunk<boolean>): Thunk => (dispatch, getState) => {
  const before = getState().session.session!.regions
  if (!dispatch(action)) return
  const made = Object.keys(getState().session.session!.regions).filter((id) => !(id in before))
  if (made.length) dispatch(selected({ regionIds: made }))
}

export const duplicateSelected = (linked: boolean, times = 1): Thunk => (dispatch, getState) => {
  const regionIds = ids(selectedRegions(getState()))
  if (regionIds.length) dispatch(andSelectNew(commit(duplicateRegions, { regionIds, times, linked })))
}

export const joinSelected = (): Thunk => (dispatch, getState) => void dispatch(commit(joinRegions, { regionIds: ids(selectedRegions(getState())) }))

export const deleteSelected = (closeGap: boolean): Thunk => (dispatch, getState) => void dispatch(commit(deleteRegions, { regionIds: ids(selectedRegions(getState())), closeGap }))

export const unlinkSelected = (): Thunk => (dispatch, getState) => void dispatch(commit(unlinkRegions, { regionIds: ids(selectedRegions(getState())) }))

/** Switches mute, direction or lock of the selected regions, all to what the first one becomes. */
export const switchSelected = (key: 'muted' | 'reversed' | 'locked'): Thunk => (dispatch, getState) => {
  const regions = selectedRegions(getState())
  if (regions.length) dispatch(commit(setRegion, { regionIds: ids(regions), change: { [key]: !regions[0]![key] } }))
}

/** Moves the selected regions by so many frames. */
export const nudgeSelected = (byFrames: number): Thunk => (dispatch, getState) => void dispatch(commit(moveRegions, { regionIds: ids(selectedRegions(getState())), byFrames, byTracks: 0 }))

/** Copies the selected regions, for this session and any other in this browser. */
export const copySelected = (): Thunk<boolean> => (dispatch, getState) => {
  const { session } = getState().session
  const clip = session && copyRegions(session, getState().view.selection)
  if (!clip) return false
  try {
    localStorage.setItem(CLIPBOARD, JSON.stringify(clip))
    return true
  } catch {
    dispatch(noticed({ id: 'copy', text: 'There are too many regions to copy at once; select fewer.' }))
    return false
  }
}

export const cutSelected = (): Thunk => (dispatch) => {
  if (dispatch(copySelected())) dispatch(deleteSelected(false))
}

/** Pastes what was copied at the playhead, on the picked track and below. */
export const pasteHere = (): Thunk => (dispatch, getState) => {
  const text = localStorage.getItem(CLIPBOARD)
  const { session } = getState().session
  if (!text || !session) return
  const clip = JSON.parse(text) as Clip
  if (clip.sampleRate !== session.sampleRate) {
    dispatch(noticed({ id: 'paste', text: `The copied regions are at ${clip.sampleRate / 1000} kHz and this session is at ${session.sampleRate / 1000} kHz. Import their files here instead; they are then resampled.` }))
    return
  }
  dispatch(andSelectNew(commit(pasteRegions, { clip, at: Math.round(getPlayer()?.position() ?? 0), trackId: pathTrack(getState())?.id ?? null })))
}
