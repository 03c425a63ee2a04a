import { crossfadeSelected } from '../../../store/actions/region-actions'
import { dialogShown } from '../../../store/view'
import { type CommandContext, type RunsOf } from './context'

/** Edges and joins: what each command does. */
export function edgesRuns({
  dispatch,
  state,
  dialog,
  withRegions,
}: CommandContext): RunsOf<'Edges and joins'> {
  return {
    fades: dialog('fades'),
    crossfade: withRegions(() => dispatch(crossfadeSelected())),
    crossfades: dialog('crossfades'),
    seams: () => void dispatch(dialogShown(state().navigation.dialog === 'seams' ? null : 'seams')),
  }
}
