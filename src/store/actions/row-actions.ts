import { rowIds } from '../../core/model/strips'
import { shownSession } from '../selectors'
import type { Thunk } from '../store'
import { ROW_HEIGHT, rowHeightSet, soundFactorSet, viewChanged } from '../view'

/** How much taller a row, and how much larger a sound, becomes with one step. */
const STEP = { height: 1.25, sound: 1.5 }

/** Makes the rows of the selected heads taller or shorter, or all rows where none is selected. */
export const resizeRows =
  (direction: 1 | -1): Thunk =>
  (dispatch, getState) => {
    const {
      selection: { trackIds },
      preferences: { rowHeight },
      navigation: { rowHeights },
    } = getState()
    const factor = STEP.height ** direction
    if (trackIds.length === 0) dispatch(rowHeightSet({ trackIds: null, height: rowHeight * factor }))
    else
      for (const id of trackIds)
        dispatch(rowHeightSet({ trackIds: [id], height: (rowHeights[id] ?? rowHeight) * factor }))
  }

/** Gives all rows the height at which they fit into the window, with the lanes that are opened. */
export const fitTracks = (): Thunk => (dispatch, getState) => {
  const session = shownSession(getState())
  const { view, openLanes } = getState().navigation
  if (!session || rowIds(session).length === 0) return
  const lanes = openLanes.reduce((sum, o) => (o.trackId === null ? sum : sum + o.height), 0)
  const height = Math.floor((view.height - lanes) / rowIds(session).length)
  dispatch(rowHeightSet({ trackIds: null, height }))
  dispatch(viewChanged({ top: 0 }))
}

/** Gives all rows their usual height. */
export const usualRows = (): Thunk => (dispatch) =>
  void dispatch(rowHeightSet({ trackIds: null, height: ROW_HEIGHT.first }))

/** Draws the sound of the given tracks larger or smaller, or with null that of all. */
export const scaleSound =
  (trackIds: readonly string[] | null, steps: number): Thunk =>
  (dispatch, getState) => {
    const {
      preferences: { soundScale },
      navigation: { soundFactors },
    } = getState()
    const stepped = (factor: number) => {
      const next = factor * STEP.sound ** steps
      // Rounding must not keep it from its plain size.
      return Math.abs(next - 1) < 0.02 ? 1 : next
    }
    if (trackIds === null || trackIds.length === 0)
      dispatch(soundFactorSet({ trackIds: null, factor: stepped(soundScale.factor) }))
    else
      for (const id of trackIds)
        dispatch(soundFactorSet({ trackIds: [id], factor: stepped(soundFactors[id] ?? soundScale.factor) }))
  }
