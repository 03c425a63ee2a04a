import { currentField } from './current-field'
import {
  changeClipGain,
  isAutomated,
  resetClipGain,
  resetThreads,
  setFades,
  shiftLanes,
  type LaneRef,
} from '../../../core/edit'
import { parameterOf } from '../../../core/model/parameters'
import type { Session } from '../../../core/model/session'
import { stripOf } from '../../../core/model/strips'
import { current } from '../../../store/current'
import { commit } from '../../../store/edits'
import { resetValue, stepValue } from '../../../store/actions/parameter-actions'
import { switchSelected } from '../../../store/actions/region-actions'
import { rideBy } from '../../../store/actions/riding'
import type { Thunk } from '../../../store/store'
import { resetKnots } from '../../../store/actions/thread-actions'
import { sayWhyNot } from '../../../store/why-not'
import { dropWeave, shiftWeave } from '../../../store/actions/weave-actions'
import { LANE_PLAYS } from '../hands/whole-lane'
import { stepKnots } from '../hands/step-knots'
import { KEY_HELD_MS } from '../parts/fields/live-field'
import { type CommandContext, type RunsOf } from './context'

const scaleOf = (session: Session, { trackId, lane }: LaneRef) =>
  parameterOf(stripOf(session, trackId)!, lane).scale

/**
 * Changes what is current by a step, or finely: a lane being ridden, the selected knots, else the value of
 * the picked bead.
 */
const nudge =
  (direction: 1 | -1, fine: boolean): Thunk =>
  (dispatch, getState) => {
    const state = getState()
    const { keys, lanes } = current(state)
    const by = direction * (fine ? 0.1 : 1)
    const ridden = lanes.some((ref) =>
      dispatch(rideBy(ref, by * scaleOf(state.session.session!, ref).step, KEY_HELD_MS)),
    )
    if (ridden || !keys) return
    if (keys.kind === 'knots') {
      const { framesPerPixel } = state.navigation.view
      dispatch(stepKnots(keys.ref, keys.indices, { level: direction, fine }, framesPerPixel))
    } else if (keys.kind === 'weave') {
      const { step, upwards } = scaleOf(state.session.session!, keys.weave.ref)
      dispatch(shiftWeave(keys.weave, by * step * (upwards ? 1 : -1)))
    } else if (keys.kind === 'parameter') {
      // What a lane moves has no static value that is heard: the whole lane goes, as by its fader.
      const moved = lanes.filter((ref) => isAutomated(state.session.session!, ref))
      const { step, upwards } = keys.parameter.scale
      if (moved.length === 0) dispatch(stepValue(keys.trackIds, keys.parameter, direction, fine))
      else if (state.transport.playing) sayWhyNot(LANE_PLAYS)
      else dispatch(commit(shiftLanes, { lanes: moved, by: by * step * (upwards ? 1 : -1) }))
    } else if (keys.kind === 'insert') sayWhyNot(INSERT_LEADS)
    else dispatch(commit(changeClipGain, { regionIds: state.selection.regionIds, byDb: by }))
  }

const INSERT_LEADS =
  'An insert is picked: press one of its fields, and arrow keys, Enter and Backspace are about that value.'

/** Resets what is current: the selected knots, or the value of the picked bead. */
const reset = (): Thunk => (dispatch, getState) => {
  const state = getState()
  const { keys } = current(state)
  const regionIds = state.selection.regionIds
  if (keys?.kind === 'knots') dispatch(resetKnots(keys.ref, keys.indices))
  else if (keys?.kind === 'weave') dispatch(dropWeave(keys.weave))
  else if (keys?.kind === 'parameter') dispatch(resetValue(keys.trackIds, keys.parameter))
  else if (keys?.kind === 'insert') sayWhyNot(INSERT_LEADS)
  else if (keys?.bead === 'clip-gain') dispatch(commit(resetClipGain, { regionIds }))
  else if (keys?.bead === 'gain-thread') dispatch(commit(resetThreads, { regionIds }))
  else if (keys?.bead === 'fades')
    dispatch(commit(setFades, { regionIds, edges: ['in', 'out'], change: { lengthFrames: 0 } }))
}

/** Levels: what each command does. */
export function levelsRuns({ dispatch, state, dialog, withRegions }: CommandContext): RunsOf<'Levels'> {
  return {
    up: (event) => dispatch(nudge(1, event?.altKey ?? false)),
    down: (event) => dispatch(nudge(-1, event?.altKey ?? false)),
    'type-value': (event) => {
      const field = document.querySelector<HTMLInputElement>(`[data-field="${currentField(state())}"]`)
      if (!field || event?.target instanceof HTMLButtonElement || event?.target instanceof HTMLAnchorElement)
        return
      event?.preventDefault()
      field.focus()
    },
    reset: () => dispatch(reset()),
    loudness: dialog('loudness'),
    sides: dialog('sides'),
    match: dialog('match'),
    'even-out': dialog('even-out'),
    'mute-regions': withRegions(() => dispatch(switchSelected('muted'))),
  }
}
