import { plateau } from '../../core/curve/knots'
import {
  automationOf,
  clearAutomation,
  pasteAutomation,
  laneScaleName,
  shapeThreads,
  shiftAutomation,
  threadOf,
  type LaneClip,
} from '../../core/edit'
import { current } from '../current'
import { commit } from '../edits'
import { getPlayer } from '../playback/playback'
import type { Thunk } from '../store'
import { rangeSet } from '../view'

/** Copied automation; kept as long as the page is open, for all tracks. */
let copied: { scale: string | undefined; clip: LaneClip }[] = []

export const hasCopiedAutomation = () => copied.length > 0

/** Copies the automation of the current lanes in the range. Returns whether there was anything to copy. */
export const copyAutomation = (): Thunk<boolean> => (_dispatch, getState) => {
  const state = getState()
  const {
    session: { session },
    selection: { range },
  } = state
  if (!session || !range) return false
  const clips = current(state).lanes.flatMap((ref) => {
    const clip = automationOf(session, ref, range.from, range.to)
    return clip ? [{ scale: laneScaleName(session, ref), clip }] : []
  })
  if (clips.length) copied = clips
  return clips.length > 0
}

/** Removes the automation of the current lanes in the range. */
export const clearRange =
  (verb: 'Clear' | 'Cut' = 'Clear'): Thunk =>
  (dispatch, getState) => {
    const { range } = getState().selection
    if (range) dispatch(commit(clearAutomation, { lanes: current(getState()).lanes, ...range, verb }))
  }

export const cutAutomation = (): Thunk => (dispatch) => {
  if (dispatch(copyAutomation())) dispatch(clearRange('Cut'))
}

/**
 * Pastes the copied automation into the current lanes of the same kind, `times` in a row from a frame on
 * (default: the playhead).
 */
export const putAutomation =
  (times = 1, at?: number): Thunk =>
  (dispatch, getState) => {
    const { session } = getState().session
    if (!session) return
    const { lanes } = current(getState())
    const clips = lanes.flatMap((ref, i) => {
      const scale = laneScaleName(session, ref)
      const fitting = copied.filter((c) => c.scale === scale)
      const one = fitting[i] ?? fitting[0]
      return one ? [{ ref, clip: one.clip }] : []
    })
    if (clips.length)
      dispatch(commit(pasteAutomation, { clips, at: at ?? Math.round(getPlayer()?.position() ?? 0), times }))
  }

/** Repeats the automation of the current lanes in the range, so many times after it. */
export const repeatAutomation =
  (times: number): Thunk =>
  (dispatch, getState) => {
    const { range } = getState().selection
    const kept = copied
    if (range && dispatch(copyAutomation())) dispatch(putAutomation(times, range.to))
    copied = kept
  }

/** Changes what the current lanes do in the range by dB, or hundredths of pan: a plateau in each of them. */
export const shiftLevelInRange =
  (by: number): Thunk =>
  (dispatch, getState) => {
    const state = getState()
    const {
      session: { session },
      selection: { range },
      preferences: { shoulderMs },
    } = state
    if (!session || !range) return
    const shoulder = Math.round((shoulderMs / 1000) * session.sampleRate)
    const threads = current(state).lanes.map((ref) => {
      const { knots, kind } = threadOf(session, ref)!
      return { ref, knots: plateau(knots, range.from, range.to, by, shoulder, kind) }
    })
    const [first] = threads
    if (!first) return
    const amount = threadOf(session, first.ref)!.kind.showChange(by)
    dispatch(commit(shapeThreads, { threads, what: `Level ${amount} in a range` }))
  }

/** Moves the automation of the current lanes in the range, and the range with it. */
export const shiftRangeBy =
  (byFrames: number): Thunk =>
  (dispatch, getState) => {
    const { range } = getState().selection
    if (!range) return
    const by = Math.max(-range.from, Math.round(byFrames))
    if (dispatch(commit(shiftAutomation, { lanes: current(getState()).lanes, ...range, byFrames: by })))
      dispatch(rangeSet({ from: range.from + by, to: range.to + by }))
  }
