import { createSlice, type PayloadAction } from '@reduxjs/toolkit'
import { clamp } from '../../core/units/clamp'
import { FADER } from '../../core/model/parameters'
import { parameterOfBead } from '../beads'
import { beadPicked, lanesToggled, rowHeightSet, soundFactorSet, viewReset } from './actions'
import type { OpenLane, Place, View } from './place'
import { LANE_HEIGHT, rowHeightWithin, soundFactorWithin } from './sizes'

/** Dialogs of the editor. */
export type DialogName =
  | 'match'
  | 'even-out'
  | 'silence'
  | 'fades'
  | 'crossfades'
  | 'seams'
  | 'give-way'
  | 'repeat'
  | 'rename'
  | 'commands'
  | 'insert-time'
  | 'tempo'
  | 'group-tracks'
  | 'rename-track'
  | 'versions'
  | 'strip'
  | 'mix-inserts'
  | 'move-gain'
  | 'sides'
  | 'loudness'

/** Where the session is looked at, and what is opened over it. */
export interface NavigationState {
  view: View
  /** The session that the view is of. */
  sessionId: string | null
  /** Whether the view is where the session was left; else it begins with all of it. */
  placed: boolean
  rowHeights: Record<string, number>
  soundFactors: Record<string, number>
  openLanes: OpenLane[]
  /** Whether the mix would pass full scale anywhere; then its flags have a row. */
  mixFlagged: boolean
  dialog: DialogName | null
}

export const initialNavigation: NavigationState = {
  view: { left: 0, framesPerPixel: 1024, top: 0, width: 800, height: 400 },
  sessionId: null,
  placed: false,
  rowHeights: {},
  soundFactors: {},
  openLanes: [],
  mixFlagged: false,
  dialog: null,
}

/** Where the session is looked at; not part of the session and not undone. */
export const navigationSlice = createSlice({
  name: 'navigation',
  initialState: initialNavigation,
  reducers: {
    viewChanged: (state, action: PayloadAction<Partial<View>>) =>
      void Object.assign(state.view, action.payload),
    dialogShown: (state, action: PayloadAction<DialogName | null>) => void (state.dialog = action.payload),
    laneHeightSet: (state, action: PayloadAction<OpenLane>) => {
      const { trackId, lane, height } = action.payload
      for (const open of state.openLanes)
        if (open.trackId === trackId && open.lane === lane)
          open.height = clamp(Math.round(height), LANE_HEIGHT.min, LANE_HEIGHT.max)
    },
    mixFlaggedSet: (state, action: PayloadAction<boolean>) => void (state.mixFlagged = action.payload),
  },
  extraReducers: (builder) =>
    builder
      .addCase(beadPicked, ({ openLanes }, action) => {
        // The mix's fader lane is always seen, its others once they are picked.
        const picked = parameterOfBead(action.payload)
        const lane = picked?.mix ? picked.parameter.key : FADER
        if (lane !== FADER && !openLanes.some((o) => o.trackId === null && o.lane === lane))
          openLanes.push({ trackId: null, lane, height: LANE_HEIGHT.first })
      })
      .addCase(lanesToggled, (state, { payload: { trackId, lanes } }) => {
        const isOpen = (lane: string) => state.openLanes.some((o) => o.trackId === trackId && o.lane === lane)
        if (lanes.every(isOpen))
          state.openLanes = state.openLanes.filter((o) => o.trackId !== trackId || !lanes.includes(o.lane))
        else
          for (const lane of lanes)
            if (!isOpen(lane)) state.openLanes.push({ trackId, lane, height: LANE_HEIGHT.first })
      })
      .addCase(rowHeightSet, (state, { payload: { trackIds, height } }) => {
        if (trackIds === null) state.rowHeights = {}
        else for (const id of trackIds) state.rowHeights[id] = rowHeightWithin(height)
      })
      .addCase(soundFactorSet, (state, { payload: { trackIds, factor } }) => {
        if (trackIds === null) state.soundFactors = {}
        else for (const id of trackIds) state.soundFactors[id] = soundFactorWithin(factor)
      })
      .addCase(viewReset, (state, { payload: { sessionId, place } }) => {
        const { openLanes = [], rowHeights = {}, soundFactors = {}, ...at }: Partial<Place> = place ?? {}
        const { width, height } = state.view
        return {
          ...initialNavigation,
          view: { ...initialNavigation.view, ...at, width, height },
          sessionId,
          placed: place !== null,
          openLanes,
          rowHeights,
          soundFactors,
        }
      }),
})

export const { viewChanged, dialogShown, laneHeightSet, mixFlaggedSet } = navigationSlice.actions
