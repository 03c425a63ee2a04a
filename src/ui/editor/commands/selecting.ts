import { selectFrom } from '../../../store/actions/region-actions'
import { pathTrack } from '../../../store/selectors'
import { selectRegionsOf } from '../../../store/actions/track-actions'
import { headsReleased, knotsSelected, rangeSet, selected, weavePicked } from '../../../store/view'
import { withTracks, type CommandContext, type RunsOf } from './context'

/** Selecting: what each command does. */
export function selectingRuns({ dispatch, state, session, playhead }: CommandContext): RunsOf<'Selecting'> {
  const stepBack = (event?: KeyboardEvent) => {
    // It closes a dialog or a menu first.
    if (state().navigation.dialog || event?.defaultPrevented) return
    // One step back with each press.
    const { knots, pickedWeave, range, regionIds, crossfadeId } = state().selection
    if (knots) dispatch(knotsSelected(null))
    else if (pickedWeave) dispatch(weavePicked(null))
    else if (range) dispatch(rangeSet(null))
    else if (regionIds.length || crossfadeId !== null) dispatch(selected({ regionIds: [] }))
    else dispatch(headsReleased())
  }
  return {
    'select-all': () => void dispatch(selected({ regionIds: Object.keys(session().regions) })),
    'select-after': () => dispatch(selectFrom(playhead(), null)),
    'select-after-on-track': () => dispatch(selectFrom(playhead(), pathTrack(state())?.id ?? null)),
    'select-on-tracks': () => dispatch(withTracks(selectRegionsOf)),
    'step-back': stepBack,
  }
}
