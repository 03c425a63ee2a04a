import { FADER } from '../../core/model/parameters'
import { hasThreads } from '../beads'
import type { Thunk } from '../store'
import { handTaken, type Hand } from '../view'

/** Takes a tool. Plateaus, weaves and drawn lines are made in a thread: one is shown, unless lanes are open. */
export const takeHand =
  (hand: Hand): Thunk =>
  (dispatch, getState) => {
    const { navigation, selection } = getState()
    const hasThread = navigation.openLanes.length > 0 || hasThreads(selection.bead)
    const bead = hand === 'weave' ? FADER : 'gain-thread'
    dispatch(
      handTaken({
        hand,
        bead: hand === 'point' || hand === 'range' || hasThread ? selection.bead : bead,
      }),
    )
  }
