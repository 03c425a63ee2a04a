import { least, most } from '../../core/units/extremes'
import { openClip, type Clip } from '../../core/model/clip'
import {
  addMarker,
  carrying,
  copyRegions,
  crossfadeJoins,
  crossfadeOf,
  deleteRegions,
  duplicateRegions,
  fitsTracks,
  freePlace,
  joinRegions,
  joinsOf,
  keepParts,
  moveRegions,
  pasteRegions,
  putBackRendered,
  partToRender,
  renderInPlace,
  setClipGain,
  setRegion,
  slipRegions,
  splitRegions,
  trimRegions,
  unlinkRegions,
} from '../../core/edit'
import { regionEnd, regionsOf } from '../../core/model/queries'
import type { Dye, Region, Source } from '../../core/model/session'
import { renderToSound } from '../../engine/export'
import type { AudioRecord } from '../../engine/storage'
import { amend, commit, lastStep, undo } from '../edits'
import { runJob, type JobOutcome } from '../jobs'
import { getPlayer, loopOver } from '../playback/playback'
import { pathTrack, selectedRegions } from '../selectors'
import type { KeptStep } from '../session-slice'
import type { Thunk } from '../store'
import { noticed } from '../transport-slice'
import { sayWhyNot } from '../why-not'
import { crossfadePicked, selected } from '../view'

/** Length of a crossfade when nothing else is said, in seconds. */
export const DEFAULT_CROSSFADE_SECONDS = 0.03

const CLIPBOARD = 'oaken-thread/clip'

const ids = (regions: readonly Region[]) => regions.map((r) => r.id)

/**
 * Splits the selected regions at the ends of the range if there is one, else at the playhead; without a
 * selection every region there.
 */
export const splitHere = (): Thunk => (dispatch, getState) => {
  const state = getState()
  const { session } = state.session
  if (!session) return
  const frames = state.selection.range
    ? [state.selection.range.from, state.selection.range.to]
    : [Math.round(getPlayer()?.position() ?? 0)]
  const chosen = selectedRegions(state)
  const track = pathTrack(state)
  const regions = chosen.length ? chosen : track ? regionsOf(session, track.id) : []
  dispatch(commit(splitRegions, { regionIds: ids(regions), frames }))
}

/**
 * Trims the start or the end of the selected regions to the playhead, where it lies inside them (or in their
 * hidden sound).
 */
export const trimToPlayhead =
  (edge: 'start' | 'end'): Thunk =>
  (dispatch, getState) => {
    const regions = selectedRegions(getState())
    const first = regions[0]
    if (!first) return
    const frame = Math.round(getPlayer()?.position() ?? 0)
    dispatch(
      commit(trimRegions, {
        regionIds: ids(regions),
        edge,
        byFrames: frame - (edge === 'start' ? first.start : regionEnd(first)),
      }),
    )
  }

/** Runs an action that creates regions, and selects them. */
export const andSelectNew =
  (action: Thunk<boolean>): Thunk<boolean> =>
  (dispatch, getState) => {
    const before = getState().session.session!.regions
    if (!dispatch(action)) return false
    const made = Object.keys(getState().session.session!.regions).filter((id) => !(id in before))
    if (made.length) dispatch(selected({ regionIds: made }))
    return true
  }

/**
 * Copies the selected regions behind themselves, and selects the copies. Where something lies there they go to the next
 * free place; then this resolves to how to insert them instead, so that the rest moves on.
 */
export const duplicateSelected =
  (linked: boolean, times = 1): Thunk<{ insert(): void } | null> =>
  (dispatch, getState) => {
    const { session } = getState().session
    const regions = selectedRegions(getState())
    if (!session || regions.length === 0) return null
    const regionIds = ids(regions)
    const span = most(regions, regionEnd) - least(regions, (r) => r.start)
    const further = freePlace(session, regions, span, times) > span
    const edit = carrying(duplicateRegions, getState().preferences.travels)
    dispatch(andSelectNew(commit(edit, { regionIds, times, linked })))
    if (!further || getState().session.session === session) return null
    const number = dispatch(lastStep())
    return {
      insert: () =>
        void dispatch(
          andSelectNew(
            () => dispatch(amend(number, edit, { regionIds, times, linked, insert: true })) !== null,
          ),
        ),
    }
  }

export const joinSelected = (): Thunk => (dispatch, getState) =>
  void dispatch(commit(joinRegions, { regionIds: ids(selectedRegions(getState())) }))

export const deleteSelected =
  (closeGap: boolean): Thunk =>
  (dispatch, getState) =>
    void dispatch(
      commit(carrying(deleteRegions, getState().preferences.travels), {
        regionIds: ids(selectedRegions(getState())),
        closeGap,
      }),
    )

export const unlinkSelected = (): Thunk => (dispatch, getState) =>
  void dispatch(commit(unlinkRegions, { regionIds: ids(selectedRegions(getState())) }))

/** Switches mute, direction or lock of the selected regions, all to what the first one becomes. */
export const switchSelected =
  (key: 'muted' | 'reversed' | 'locked'): Thunk =>
  (dispatch, getState) => {
    const regions = selectedRegions(getState())
    if (regions.length)
      dispatch(commit(setRegion, { regionIds: ids(regions), change: { [key]: !regions[0]![key] } }))
  }

/** Moves the selected regions by so many frames. */
export const nudgeSelected =
  (byFrames: number): Thunk =>
  (dispatch, getState) =>
    void dispatch(
      commit(carrying(moveRegions, getState().preferences.travels), {
        regionIds: ids(selectedRegions(getState())),
        byFrames,
        byTracks: 0,
      }),
    )

/** The step that took regions to another track last, and how far down. */
let onTheWay: { step: KeptStep; regionIds: readonly string[]; byTracks: number } | null = null

/**
 * Moves the selected regions so many tracks down, at the same time; says so where there is no such track. Done again it goes on
 * from where they came from, as one step: what lies on the tracks between is not cut by what only passes.
 */
export const moveSelectedToTrack =
  (byTracks: number): Thunk =>
  (dispatch, getState) => {
    const { session } = getState().session
    if (!session) return
    const stepNow = () => getState().session.steps[getState().session.done - 1]
    const regionIds = ids(selectedRegions(getState()))
    const edit = carrying(moveRegions, getState().preferences.travels)
    const before =
      onTheWay?.step === stepNow() && onTheWay?.regionIds.join() === regionIds.join() ? onTheWay : null
    const all = byTracks + (before?.byTracks ?? 0)
    if (!fitsTracks(session, regionIds, byTracks))
      return sayWhyNot(`There is no track ${byTracks < 0 ? 'above' : 'below'}.`)
    if (before && all === 0) return dispatch(undo())
    const args = { regionIds, byFrames: 0, byTracks: all }
    const done = before
      ? dispatch(amend(before.step.number, edit, args)) !== null
      : dispatch(commit(edit, args))
    const step = stepNow()
    if (done && step) onTheWay = { step, regionIds, byTracks: all }
  }

/** Copies the selected regions, for this session and any other in this browser. */
export const copySelected = (): Thunk<boolean> => (dispatch, getState) => {
  const { session } = getState().session
  const clip = session && copyRegions(session, getState().selection.regionIds)
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
  let clip: Clip
  try {
    clip = openClip(text)
  } catch (error) {
    dispatch(noticed({ id: 'paste', text: (error as Error).message }))
    return
  }
  if (clip.sampleRate !== session.sampleRate) {
    dispatch(
      noticed({
        id: 'paste',
        text:
          `The copied regions are at ${clip.sampleRate / 1000} kHz and this session is ` +
          `at ${session.sampleRate / 1000} kHz. Import their files here instead; they ` +
          'are then resampled.',
      }),
    )
    return
  }
  dispatch(
    andSelectNew(
      commit(carrying(pasteRegions, getState().preferences.travels), {
        clip,
        at: Math.round(getPlayer()?.position() ?? 0),
        trackId: pathTrack(getState())?.id ?? null,
      }),
    ),
  )
}

const playhead = () => Math.round(getPlayer()?.position() ?? 0)

/** Splits the selected regions (without any, those of the picked track) at a frame. */
export const splitAt =
  (frame: number): Thunk =>
  (dispatch, getState) => {
    const state = getState()
    const track = pathTrack(state)
    const chosen = selectedRegions(state)
    const regions = chosen.length
      ? chosen
      : track && state.session.session
        ? regionsOf(state.session.session, track.id)
        : []
    dispatch(commit(splitRegions, { regionIds: ids(regions), frames: [Math.round(frame)] }))
  }

/** Trims the selected regions to what lies in the range. */
export const trimToRange = (): Thunk => (dispatch, getState) => {
  const { range } = getState().selection
  if (!range) return
  const parts = Object.fromEntries(
    selectedRegions(getState())
      .filter((r) => r.start < range.to && regionEnd(r) > range.from)
      .map((r) => [r.id, [range]]),
  )
  dispatch(commit(keepParts, { parts, what: 'Trim to the range' }))
}

/** Loops over the selected regions. */
export const loopSelected = (): Thunk => (dispatch, getState) => {
  const regions = selectedRegions(getState())
  if (regions.length)
    dispatch(
      loopOver(
        least(regions, (r) => r.start),
        most(regions, regionEnd),
      ),
    )
}

/** Moves only the sound inside the selected regions. */
export const slipSelected =
  (byFrames: number): Thunk =>
  (dispatch, getState) =>
    void dispatch(commit(slipRegions, { regionIds: ids(selectedRegions(getState())), byFrames }))

/** Crossfades the joins of the selected regions, and selects the one if there is one. */
export const crossfadeSelected = (): Thunk => (dispatch, getState) => {
  const { session } = getState().session
  const joins = session ? joinsOf(session, getState().selection.regionIds) : []
  if (!session || joins.length === 0) return
  dispatch(
    commit(crossfadeJoins, {
      joins,
      lengthFrames: Math.round(session.sampleRate * DEFAULT_CROSSFADE_SECONDS),
      law: 'equal-power',
    }),
  )
  const made = joins.length === 1 ? crossfadeOf(getState().session.session!, joins[0]!) : null
  if (made) dispatch(crossfadePicked({ id: made.id, trackId: session.regions[made.leftId]!.trackId }))
}

/** Selects all regions that begin at a frame or later, on one track or, with null, on all. */
export const selectFrom =
  (frame: number, trackId: string | null): Thunk =>
  (dispatch, getState) => {
    const { session } = getState().session
    if (!session) return
    const found = Object.values(session.regions).filter(
      (r) => r.start >= frame && (trackId === null || r.trackId === trackId),
    )
    if (found.length === 0) sayWhyNot('No region begins after that place.')
    else dispatch(selected({ regionIds: ids(found), trackId: found[0]!.trackId }))
  }

/** Gives all selected regions the clip gain of one of them. */
export const likeRegion =
  (regionId: string): Thunk =>
  (dispatch, getState) => {
    const regions = selectedRegions(getState())
    const db = regions.find((r) => r.id === regionId)?.clipGainDb
    if (db !== undefined) dispatch(commit(setClipGain, { regionIds: ids(regions), db }))
  }

export const colourSelected =
  (colour: Dye | undefined): Thunk =>
  (dispatch, getState) =>
    void dispatch(commit(setRegion, { regionIds: ids(selectedRegions(getState())), change: { colour } }))

export const renameSelected =
  (name: string): Thunk =>
  (dispatch, getState) =>
    void dispatch(commit(setRegion, { regionIds: ids(selectedRegions(getState())), change: { name } }))

const newId = () => crypto.randomUUID().slice(0, 13)

/** Puts a marker at the playhead. */
export const markHere = (): Thunk => (dispatch, getState) => {
  const { session } = getState().session
  if (session)
    dispatch(
      commit(addMarker, { id: newId(), frame: playhead(), name: `marker ${session.markers.length + 1}` }),
    )
}

/** Goes to the marker before or after the playhead; beyond the last to the start or the end. */
export const jumpMarker =
  (direction: 1 | -1): Thunk =>
  (_dispatch, getState) => {
    const { session } = getState().session
    if (!session) return
    const at = playhead()
    // While playing, the marker just passed is not gone back to.
    const slack = getPlayer()?.playing ? session.sampleRate / 2 : 0
    const marker =
      direction === 1
        ? session.markers.find((m) => m.frame > at)
        : session.markers.findLast((m) => m.frame < at - slack)
    if (marker || direction === -1) getPlayer()?.seek(marker?.frame ?? 0)
  }

/**
 * Renders the selected regions of the picked track, or what it plays in the range, or without both, or with `trackId`, all of a track, into a new
 * sound in their place, before or after its inserts. A job; resolves to null when there is nothing to render.
 */
export const renderPart =
  (stage: 'clip' | 'insert', trackId?: string): Thunk<Promise<JobOutcome<AudioRecord> | null>> =>
  async (dispatch, getState) => {
    const state = getState()
    const { session } = state.session
    const track = session?.tracks[trackId ?? pathTrack(state)?.id ?? '']
    if (!session || !track) return null
    const whole = trackId !== undefined
    const selected = whole ? [] : selectedRegions(state).filter((r) => r.trackId === track.id && !r.locked)
    const range = whole ? null : state.selection.range
    const chosen = range && selected.length < 2 ? [] : selected
    const all = regionsOf(session, track.id)
    const part = partToRender(
      session,
      track.id,
      chosen.length
        ? { regionIds: ids(chosen) }
        : (range ?? { from: least(all, (r) => r.start), to: most(all, regionEnd) }),
    )
    if (!part) return null
    const { from, to } = part
    const outcome = await dispatch(
      runJob('render', session.id, (onProgress, signal) =>
        renderToSound(part.session, { trackId: track.id, from, to, stage }, onProgress, signal),
      ),
    )
    if (!outcome.done) return outcome
    const record = outcome.value
    const name = `${regionsOf(part.session, track.id)[0]!.name}, rendered`.slice(0, 255)
    const source: Source = {
      id: newId(),
      name: `${name}.wav`,
      channels: record.channels,
      frames: record.frames,
      sampleRate: session.sampleRate,
      sha256: record.sha256,
      origin: {
        fileName: `rendered from ${session.title}`.slice(0, 255),
        sampleRate: session.sampleRate,
        format: '32-bit float',
      },
    }
    if (getState().session.session?.id === session.id)
      dispatch(
        andSelectNew(
          commit(renderInPlace, {
            source,
            regionId: newId(),
            trackId: track.id,
            keptId: newId(),
            newTrackId: stage === 'insert' ? newId() : null,
            from,
            to,
            name,
            regionIds: chosen.length ? ids(chosen) : null,
          }),
        ),
      )
    return outcome
  }

/** Puts back what the selected rendered regions were made from. */
export const putBackSelected = (): Thunk => (dispatch, getState) => {
  for (const { id } of selectedRegions(getState()))
    if (getState().session.session?.regions[id]) void dispatch(commit(putBackRendered, { regionId: id }))
}
