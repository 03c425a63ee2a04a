import { takeHand } from '../../../store/actions/take-hand'
import { groupsLeft, type Hand } from '../../../store/view'
import { type CommandContext, type RunsOf } from './context'

/** Hands: what each command does. */
export function handsRuns({ dispatch, state }: CommandContext): RunsOf<'Hands'> {
  const hand = (name: Hand) => () => void dispatch(takeHand(state().selection.hand === name ? 'point' : name))
  return {
    'hand-point': () => void dispatch(takeHand('point')),
    'hand-range': hand('range'),
    'hand-draw': hand('draw'),
    'hand-plateau': hand('plateau'),
    'hand-weave': hand('weave'),
    'leave-groups': () => void dispatch(groupsLeft(!state().selection.leavesGroups)),
  }
}
