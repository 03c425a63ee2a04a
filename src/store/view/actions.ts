import { createAction } from '@reduxjs/toolkit'
import type { Bead } from '../beads'
import type { InsertRef, Place } from './place'
import type { FrameRange } from '../../engine/playback'

/** Actions that change more than one part of the view. */

export const beadPicked = createAction<Bead>('view/beadPicked')

/** The bead of an insert was pressed, in the Path of a track. */
export const insertPicked = createAction<InsertRef & { trackId: string }>('view/insertPicked')

/** Opens lanes of a track below it, or closes those that are open. */
export const lanesToggled = createAction<{ trackId: string | null; lanes: string[] }>('view/lanesToggled')

/** Sets the range that is played and edited; null for none. */
export const rangeSet = createAction<FrameRange | null>('view/rangeSet')

/** Gives tracks a height of their own, or with null all rows one height; heights of their own are then forgotten. */
export const rowHeightSet = createAction<{ trackIds: readonly string[] | null; height: number }>(
  'view/rowHeightSet',
)

/** Draws the sound of tracks so many times as large, or with null that of all. */
export const soundFactorSet = createAction<{ trackIds: readonly string[] | null; factor: number }>(
  'view/soundFactorSet',
)

/** Another session is shown, which begins where it was left. */
export const viewReset = createAction<{ sessionId: string; place: Place | null }>('view/viewReset')
