import type { ThreadClip } from '../core/curve/clip'
import {
  automationOf,
  clearAutomation,
  laneKeysOf,
  pasteAutomation,
  sameKindOfLane,
  shiftAutomation,
  type LaneKey,
  type ThreadRef,
} from '../core/edit'
import { commit } from './edits'
import { getPlayer } from './playback'
import { pathTrack } from './selectors'
import type { RootState, Thunk } from './store'
import { rangeSet } from './view-slice'

type LaneRef = Extract<ThreadRef, { kind: 'lane' }>

/** What was copied of lanes, for this and other tracks, as long as the page is open. */
let copied: { lane: LaneKey; clip: ThreadClip }[] = []

export const hasCopiedAutomation = () => copied.length > 0

/** The lanes that are worked on: the one whose knots are selected, else those of the picked bead on the track that the Path shows. */
export function lanesPicked(state: RootState): LaneRef[] {
  const {
    session: { session },
    view: { knots, bead },
  } = state
  if (!session) return []
  if (knots?.ref.kind === 'lane') return [knots.ref]
  if (bead === 'mix' || bead === 'mix-pan')
    return [{ kind: 'lane', trackId: null, lane: bead === 'mix' ? 'volume' : 'pan' }]
  const track = pathTrack(state)
  if (!track || (bead !== 'volume' && bead !== 'pan')) return []
  return laneKeysOf(session, track.id)
    .filter((lane) => (lane === 'volume') === (bead === 'volume'))
    .map((lane) => ({ kind: 'lane', trackId: track.id, lane }))
}

/** Whether copying, cutting and deleting are about a range of automation: a lane is picked and a range is set. */
export const aboutAutomation = (state: RootState): boolean =>
  state.view.range !== null && lanesPicked(state).length > 0

/** Copies what the picked lanes do in the range. Returns whether there is anything to copy. */
export const copyAutomation = (): Thunk<boolean> => (_dispatch, getState) => {
  const state = getState()
  const {
    session: { session },
    view: { range },
  } = state
  if (!session || !range) return false
  const clips = lanesPicked(state).flatMap((ref) => {
    const clip = automationOf(session, ref, range.from, range.to)
    return clip ? [{ lane: ref.lane, clip }] : []
  })
  if (clips.length) copied = clips
  return clips.length > 0
}

/** Takes what the picked lanes do in the range out of them. */
export const clearRange =
  (verb: 'Clear' | 'Cut' = 'Clear'): Thunk =>
  (dispatch, getState) => {
    const { range } = getState().view
    if (range) dispatch(commit(clearAutomation, { lanes: lanesPicked(getState()), ...range, verb }))
  }

export const cutAutomation = (): Thunk => (dispatch) => {
  if (dispatch(copyAutomation())) dispatch(clearRange('Cut'))
}

/** Puts what was copied into the picked lanes of the same kind, `times` one after the other, from a frame on: the playhead when none is given. */
export const putAutomation =
  (times = 1, at?: number): Thunk =>
  (dispatch, getState) => {
    const lanes = lanesPicked(getState())
    const clips = lanes.flatMap((ref, i) => {
      const fitting = copied.filter((c) => sameKindOfLane(c.lane, ref.lane))
      const one = fitting[i] ?? fitting[0]
      return one ? [{ ref, clip: one.clip }] : []
    })
    if (clips.length)
      dispatch(commit(pasteAutomation, { clips, at: at ?? Math.round(getPlayer()?.position() ?? 0), times }))
  }

/** Repeats what the picked lanes do in the range so many times after it. */
export const repeatAutomation =
  (times: number): Thunk =>
  (dispatch, getState) => {
    const { range } = getState().view
    const kept = copied
    if (range && dispatch(copyAutomation())) dispatch(putAutomation(times, range.to))
    copied = kept
  }

/** Moves what the picked lanes do in the range, and the range with it. */
export const shiftRangeBy =
  (byFrames: number): Thunk =>
  (dispatch, getState) => {
    const { range } = getState().view
    if (!range) return
    const by = Math.max(-range.from, Math.round(byFrames))
    if (dispatch(commit(shiftAutomation, { lanes: lanesPicked(getState()), ...range, byFrames: by })))
      dispatch(rangeSet({ from: range.from + by, to: range.to + by }))
  }
