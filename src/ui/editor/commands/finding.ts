import { getPlayer } from '../../../store/playback/playback'
import { jumpMarker, markHere } from '../../../store/actions/region-actions'
import { rangeSet } from '../../../store/view'
import { sayWhyNot } from '../../../store/why-not'
import { type CommandContext, type RunsOf } from './context'

/** Finding the place: what each command does. */
export function findingRuns({
  dispatch,
  state,
  length,
  playhead,
}: CommandContext): RunsOf<'Finding the place'> {
  /** Lets the marked range begin or end at the playhead. */
  const rangeEnd = (edge: 'from' | 'to') => () => {
    const at = playhead()
    const { range } = state().selection
    const other = edge === 'from' ? (range?.to ?? length()) : (range?.from ?? 0)
    if (edge === 'from' ? other > at : other < at)
      dispatch(rangeSet(edge === 'from' ? { from: at, to: other } : { from: other, to: at }))
    else sayWhyNot('The range would have no length: move the playhead first.')
  }
  return {
    'to-start': () => getPlayer()?.seek(0),
    'to-end': () => getPlayer()?.seek(length()),
    marker: () => dispatch(markHere()),
    'marker-before': () => dispatch(jumpMarker(-1)),
    'marker-after': () => dispatch(jumpMarker(1)),
    'range-from': rangeEnd('from'),
    'range-to': rangeEnd('to'),
  }
}
