import { laneKeysOf } from '../../../core/edit'
import { findCommonParameter } from '../../../core/model/parameters'
import { lanesToggled, travelsSet } from '../../../store/view'
import { toast } from '../../parts/messages/toast'
import { withTracks, type CommandContext, type RunsOf } from './context'

/** Automation: what each command does. */
export function automationRuns({ dispatch, state, session, dialog }: CommandContext): RunsOf<'Automation'> {
  return {
    'give-way': dialog('give-way'),
    travels: () => {
      dispatch(travelsSet(!state().preferences.travels))
      toast({
        text: state().preferences.travels
          ? 'Automation goes with regions now.'
          : 'Automation stays on its track now.',
      })
    },
    lanes: () =>
      dispatch(
        withTracks((trackIds) => (d) => {
          for (const trackId of trackIds)
            d(lanesToggled({ trackId, lanes: laneKeysOf(session(), trackId).filter(findCommonParameter) }))
        }),
      ),
  }
}
