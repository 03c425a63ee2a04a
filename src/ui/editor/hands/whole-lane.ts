import { setLanes, shiftLanes, threadOf, threadWords, type LaneRef } from '../../../core/edit'
import { amend, commit, lastStep } from '../../../store/edits'
import type { Thunk } from '../../../store/store'
import { toast } from '../../parts/messages/toast'

/** Why a value that a lane moves cannot be changed while it plays. */
export const LANE_PLAYS =
  'A lane moves this value. Choose touch or latch under “ride” to write it while it plays, or stop to shift the whole lane.'

/**
 * Shifts all of a lane by dB (hundredths of pan), as its fader was moved to a value while nothing played; the message
 * offers to put that value in the lane's place instead.
 */
export const shiftWholeLane =
  (ref: LaneRef, by: number, value: number): Thunk =>
  (dispatch, getState) => {
    const { session } = getState().session
    if (!session || !dispatch(commit(shiftLanes, { lanes: [ref], by }))) return
    const number = dispatch(lastStep())
    const { kind } = threadOf(session, ref)!
    toast({
      text: `The whole ${threadWords(session, ref)} was shifted by ${kind.showChange(by)}.`,
      action: {
        label: `Replace by ${kind.show(value)} instead`,
        run: () => void dispatch(amend(number, setLanes, { lanes: [ref], value, scope: 'whole' })),
      },
      stays: 8000,
    })
  }
