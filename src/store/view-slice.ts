import { createSlice, type PayloadAction } from '@reduxjs/toolkit'
import type { FrameRange } from '../engine/stream'

/** Stages of the path that can be picked. */
export type Bead = 'clip-gain' | 'gain-thread' | 'fades' | 'volume' | 'pan' | 'mix'

/** What the pointer does. */
export type Hand = 'point' | 'range' | 'plateau'

/** What part of the session is seen. `left` is a session frame (may be a fraction), `top` is in pixels. */
export interface View {
  left: number
  framesPerPixel: number
  top: number
  width: number
  height: number
}

export interface ViewState {
  view: View
  selection: string[]
  trackId: string | null
  bead: Bead
  hand: Hand
  range: FrameRange | null
  loop: boolean
  follow: boolean
  bench: boolean
  /** Selected knots of a region's gain thread. */
  knots: { regionId: string; indices: number[] } | null
  /** Length of a plateau's shoulders, in milliseconds. */
  shoulderMs: number
}

export const initialView: ViewState = {
  view: { left: 0, framesPerPixel: 1024, top: 0, width: 800, height: 400 },
  selection: [], trackId: null, bead: 'clip-gain', hand: 'point', range: null, loop: false, follow: true, bench: true, knots: null, shoulderMs: 40,
}

/** What is seen, selected and picked in the editor; not part of the session and not undone. */
export const viewSlice = createSlice({
  name: 'view',
  initialState: initialView,
  reducers: {
    viewChanged: (state, action: PayloadAction<Partial<View>>) => void Object.assign(state.view, action.payload),
    selected: (state, action: PayloadAction<{ regionIds: string[]; trackId?: string | null }>) => {
      state.selection = action.payload.regionIds
      if (state.knots && !action.payload.regionIds.includes(state.knots.regionId)) state.knots = null
      if (action.payload.trackId !== undefined) state.trackId = action.payload.trackId
    },
    trackPicked: (state, action: PayloadAction<string>) => void (state.trackId = action.payload),
    beadPicked: (state, action: PayloadAction<Bead>) => void (state.bead = action.payload),
    handTaken: (state, action: PayloadAction<Hand>) => {
      state.hand = action.payload
      // A plateau is one of the gain thread.
      if (action.payload === 'plateau') state.bead = 'gain-thread'
    },
    knotsSelected: (state, action: PayloadAction<ViewState['knots']>) => void (state.knots = action.payload),
    shouldersSet: (state, action: PayloadAction<number>) => void (state.shoulderMs = action.payload),
    rangeSet: (state, action: PayloadAction<FrameRange | null>) => {
      state.range = action.payload
      if (!action.payload) state.loop = false
    },
    loopSet: (state, action: PayloadAction<boolean>) => void (state.loop = action.payload),
    followSet: (state, action: PayloadAction<boolean>) => void (state.follow = action.payload),
    benchShown: (state, action: PayloadAction<boolean>) => void (state.bench = action.payload),
    viewReset: (state) => ({ ...initialView, view: { ...initialView.view, width: state.view.width, height: state.view.height } }),
  },
})

export const { viewChanged, selected, trackPicked, beadPicked, handTaken, rangeSet, loopSet, followSet, benchShown, viewReset, knotsSelected, shouldersSet } = viewSlice.actions
