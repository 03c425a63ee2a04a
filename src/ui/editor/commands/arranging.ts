import { weaveOf } from '../../../core/edit'
import { least } from '../../../core/units/extremes'
import {
  clearRange,
  copyAutomation,
  cutAutomation,
  putAutomation,
} from '../../../store/actions/automation-actions'
import { current } from '../../../store/current'
import {
  copySelected,
  cutSelected,
  deleteSelected,
  joinSelected,
  moveSelectedToTrack,
  nudgeSelected,
  pasteHere,
  putBackSelected,
  renderPart,
  slipSelected,
  splitAt,
  splitHere,
  switchSelected,
  trimToPlayhead,
  trimToRange,
  unlinkSelected,
} from '../../../store/actions/region-actions'
import type { Thunk } from '../../../store/store'
import { dropInsert, shiftInsert } from '../../../store/actions/strip-actions'
import { dropKnots } from '../../../store/actions/thread-actions'
import { removeTimeOfRange } from '../../../store/actions/time-actions'
import { sayWhyNot } from '../../../store/why-not'
import { dropWeave, moveWeave } from '../../../store/actions/weave-actions'
import { toast } from '../../parts/messages/toast'
import { keyWordsOf } from '../../parts/commands/use-key-words'
import { duplicateHere } from '../hands/duplicate'
import { underPointer } from '../hands/pointed'
import { gridFrames, toNextGrid } from '../hands/snap'
import { stepKnots } from '../hands/step-knots'
import { type CommandContext, type RunsOf } from './context'

/** Moves the picked insert earlier or later in its chain; false where none is picked. */
const shiftPicked =
  (by: number): Thunk<boolean> =>
  (dispatch, getState) => {
    const { keys } = current(getState())
    if (keys?.kind !== 'insert') return false
    dispatch(shiftInsert(keys.ref.stripId, keys.ref.insertId, by))
    return true
  }

/** Arranging: what each command does. */
export function arrangingRuns({
  dispatch,
  state,
  session,
  dialog,
  turn,
  withRegions,
}: CommandContext): RunsOf<'Arranging'> {
  const small = () => Math.round(session().sampleRate / 1000)
  const onGrid = (frame: number, time: 1 | -1) =>
    toNextGrid(session(), frame, time, state().navigation.view.framesPerPixel, state().preferences.timeScale)
  const grid = () =>
    gridFrames(session(), state().navigation.view.framesPerPixel, state().preferences.timeScale)
  /**
   * Moves selected knots, or the selected regions, in time; without any, scrolls. With Alt and nothing to be
   * moved the keys are the browser's.
   */
  const stepOrTurn = (time: 1 | -1) => (event?: KeyboardEvent) => {
    const fine = event?.altKey ?? false
    const { keys, regionIds } = current(state())
    const moves = keys?.kind === 'regions' && regionIds.length > 0
    if (keys?.kind !== 'knots' && keys?.kind !== 'weave' && !moves && fine) return
    event?.preventDefault()
    const weave = keys?.kind === 'weave' ? weaveOf(session(), keys.weave) : undefined
    if (keys?.kind === 'weave' && weave) {
      const by = Math.max(-weave.from, fine ? time * small() : onGrid(weave.from, time))
      return void dispatch(moveWeave(keys.weave, weave.from + by, weave.to + by))
    }
    if (keys?.kind === 'knots') {
      const { framesPerPixel } = state().navigation.view
      dispatch(stepKnots(keys.ref, keys.indices, { time, fine }, framesPerPixel))
    } else if (moves) {
      const first = least(
        regionIds.map((id) => session().regions[id]!),
        (r) => r.start,
      )
      dispatch(nudgeSelected(fine ? time * small() : onGrid(first, time)))
    } else turn(time * 0.1)
  }
  const slip = (time: 1 | -1) => (event?: KeyboardEvent) =>
    dispatch(slipSelected(time * (event?.altKey ? small() : grid())))
  // With a lane picked and a range set these are about what the lane does there.
  let lastCopied: 'regions' | 'automation' = 'regions'
  return {
    split: () => dispatch(splitHere()),
    'split-here': () => {
      const at = underPointer.get()
      if (at) dispatch(splitAt(at.frame))
    },
    join: withRegions(() => dispatch(joinSelected())),
    'trim-start': withRegions(() => dispatch(trimToPlayhead('start'))),
    'trim-end': withRegions(() => dispatch(trimToPlayhead('end'))),
    'trim-to-range': withRegions(() =>
      state().selection.range
        ? dispatch(trimToRange())
        : sayWhyNot(keyWordsOf(state().preferences).in('Mark a range first: hold [hand-range] and sweep.')),
    ),
    silence: dialog('silence'),
    duplicate: withRegions(() => dispatch(duplicateHere(false))),
    'duplicate-linked': withRegions(() => dispatch(duplicateHere(true))),
    repeat: withRegions(dialog('repeat')),
    copy: () => {
      lastCopied = current(state()).copies
      dispatch(lastCopied === 'automation' ? copyAutomation() : copySelected())
    },
    cut: () => {
      lastCopied = current(state()).copies
      dispatch(lastCopied === 'automation' ? cutAutomation() : cutSelected())
    },
    paste: () => dispatch(lastCopied === 'automation' ? putAutomation() : pasteHere()),
    delete: () => {
      const { keys, removes } = current(state())
      if (keys?.kind === 'knots') dispatch(dropKnots(keys.ref, keys.indices))
      else if (keys?.kind === 'weave' && removes === 'weave') dispatch(dropWeave(keys.weave))
      else if (keys?.kind === 'insert') dispatch(dropInsert(keys.ref.stripId, keys.ref.insertId))
      else if (removes === 'automation') dispatch(clearRange())
      else withRegions(() => dispatch(deleteSelected(false)))()
    },
    'delete-closing': () => dispatch(deleteSelected(true)),
    left: stepOrTurn(-1),
    right: stepOrTurn(1),
    'to-track-above': withRegions(() => dispatch(moveSelectedToTrack(-1))),
    'to-track-below': withRegions(() => dispatch(moveSelectedToTrack(1))),
    'slip-left': () => void (dispatch(shiftPicked(-1)) || slip(-1)()),
    'slip-right': () => void (dispatch(shiftPicked(1)) || slip(1)()),
    'insert-time': dialog('insert-time'),
    'remove-time': () => void dispatch(removeTimeOfRange()),
    reverse: withRegions(() => dispatch(switchSelected('reversed'))),
    lock: withRegions(() => dispatch(switchSelected('locked'))),
    unlink: withRegions(() => dispatch(unlinkSelected())),
    'rename-region': withRegions(dialog('rename')),
    render: () =>
      void dispatch(renderPart('clip')).then(
        (outcome) => outcome?.done === false && toast({ text: outcome.message }),
      ),
    'render-after': () =>
      void dispatch(renderPart('insert')).then(
        (outcome) => outcome?.done === false && toast({ text: outcome.message }),
      ),
    'put-back': withRegions(() => dispatch(putBackSelected())),
  }
}
