import { hearAlone, hearWithRoll, toggleLoop, togglePlay } from '../../../store/playback/playback'
import { compareRound, listenHere, switchEqual, switchListening } from '../../../store/playback/listening'
import { loopSelected } from '../../../store/actions/region-actions'
import { stopReturnsSet } from '../../../store/view'
import { wasReturnedTo } from '../../parts/focus-return'
import { type CommandContext, type RunsOf } from './context'

/** Playing and listening: what each command does. */
export function playingRuns({
  dispatch,
  state,
  withRegions,
}: CommandContext): RunsOf<'Playing and listening'> {
  return {
    play: (event) => {
      // On a button the browser's own meaning of Space stays, except where the pointer has just left focus on a
      // transport button.
      const button = event?.target instanceof HTMLButtonElement ? event.target : null
      if (button && !button.closest('header') && !wasReturnedTo(button)) return
      event?.preventDefault()
      dispatch(togglePlay())
    },
    loop: () => dispatch(toggleLoop()),
    'loop-selected': withRegions(() => dispatch(loopSelected())),
    'hear-alone': withRegions((first) => dispatch(hearAlone(first))),
    'hear-with-roll': withRegions((first) => dispatch(hearWithRoll(first))),
    compare: () => dispatch(compareRound()),
    'listen-here': () => dispatch(listenHere('alone')),
    unshaped: () => dispatch(switchListening()),
    'equal-loudness': () => void dispatch(switchEqual()),
    'stop-returns': () => void dispatch(stopReturnsSet(!state().preferences.stopReturns)),
  }
}
