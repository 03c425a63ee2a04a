import { createSlice, type PayloadAction } from '@reduxjs/toolkit'
import type { Weave } from '../core/curve/weave'
import type { ThreadRef } from '../core/edit'
import type { Knot } from '../core/model/session'
import type { FrameRange } from '../engine/stream'

/** Stages of the path that can be picked. */
export type Bead = 'clip-gain' | 'gain-thread' | 'fades' | 'volume' | 'pan' | 'mix'

/** What the pointer does. */
export type Hand = 'point' | 'range' | 'draw' | 'plateau' | 'weave'

/** Beads whose stage has threads that can be shaped by hand. */
export const threadBeads: readonly Bead[] = ['gain-thread', 'volume', 'pan', 'mix']

/** The weave that was drawn last: it is drawn anew when its settings change. */
export interface LastWeave {
  ref: ThreadRef
  from: number
  to: number
  /** The thread before it. */
  before: readonly Knot[]
}

/** Listening with or without the shaping. `offsetDb` is by how much the louder one is lowered when both are heard at equal loudness. */
export interface Listen {
  unshaped: boolean
  equal: boolean
  shapedLufs: number | null
  unshapedLufs: number | null
}

/** Dialogs of the editor. */
export type DialogName = 'match' | 'even-out' | 'silence' | 'fades' | 'crossfades' | 'seams' | 'give-way' | 'repeat' | 'rename'

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
  /** The selected crossfade; then the bench shows it. */
  crossfadeId: string | null
  bead: Bead
  hand: Hand
  range: FrameRange | null
  loop: boolean
  follow: boolean
  bench: boolean
  /** Selected knots of a thread, sorted. */
  knots: { ref: ThreadRef; indices: number[] } | null
  /** Length of a plateau's shoulders, in milliseconds. */
  shoulderMs: number
  /** Within how many dB a drawn line is thinned; null keeps every point. */
  thinning: number | null
  /** What ruler and grid follow. */
  timeScale: 'bars' | 'seconds'
  dialog: DialogName | null
  /** Settings of the next weave. */
  weave: Weave
  lastWeave: LastWeave | null
  listen: Listen
}

export const initialView: ViewState = {
  view: { left: 0, framesPerPixel: 1024, top: 0, width: 800, height: 400 },
  selection: [], trackId: null, crossfadeId: null, bead: 'clip-gain', hand: 'point', range: null, loop: false, follow: true, bench: true, knots: null, shoulderMs: 40, thinning: 0.5, timeScale: 'bars', dialog: null,
  weave: { shape: 'triangle', period: { beats: 0.5 }, low: 0.4, high: 0.63, phase: 0, duty: 0.5, seed: 1 }, lastWeave: null,
  listen: { unshaped: false, equal: false, shapedLufs: null, unshapedLufs: null },
}

/** What is seen, selected and picked in the editor; not part of the session and not undone. */
export const viewSlice = createSlice({
  name: 'view',
  initialState: initialView,
  reducers: {
    viewChanged: (state, action: PayloadAction<Partial<View>>) => void Object.assign(state.view, action.payload),
    selected: (state, action: PayloadAction<{ regionIds: string[]; trackId?: string | null }>) => {
      state.selection = action.payload.regionIds
      state.crossfadeId = null
      if (state.knots?.ref.kind === 'region' && !action.payload.regionIds.includes(state.knots.ref.regionId)) state.knots = null
      if (action.payload.trackId !== undefined) state.trackId = action.payload.trackId
    },
    crossfadePicked: (state, action: PayloadAction<{ id: string; trackId: string }>) => {
      state.crossfadeId = action.payload.id
      state.trackId = action.payload.trackId
      state.selection = []
      state.knots = null
      state.bead = 'fades'
    },
    trackPicked: (state, action: PayloadAction<string>) => void (state.trackId = action.payload),
    beadPicked: (state, action: PayloadAction<Bead>) => {
      if (state.bead !== action.payload) {
        state.knots = null
        state.lastWeave = null
      }
      state.bead = action.payload
    },
    handTaken: (state, action: PayloadAction<Hand>) => {
      state.hand = action.payload
      // Plateaus, weaves and drawn lines are made in a thread.
      if (action.payload !== 'point' && action.payload !== 'range' && !threadBeads.includes(state.bead)) state.bead = action.payload === 'weave' ? 'volume' : 'gain-thread'
    },
    knotsSelected: (state, action: PayloadAction<ViewState['knots']>) => {
      state.knots = action.payload
      state.lastWeave = null
    },
    weaveSet: (state, action: PayloadAction<Weave>) => void (state.weave = action.payload),
    weaveDrawn: (state, action: PayloadAction<LastWeave | null>) => ({ ...(state as ViewState), lastWeave: action.payload }),
    listenSet: (state, action: PayloadAction<Partial<Listen>>) => void Object.assign(state.listen, action.payload),
    thinningSet: (state, action: PayloadAction<number | null>) => void (state.thinning = action.payload),
    timeScaleSet: (state, action: PayloadAction<ViewState['timeScale']>) => void (state.timeScale = action.payload),
    dialogShown: (state, action: PayloadAction<DialogName | null>) => void (state.dialog = action.payload),
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

export const { viewChanged, selected, crossfadePicked, trackPicked, beadPicked, handTaken, rangeSet, loopSet, followSet, benchShown, viewReset, knotsSelected, weaveSet, weaveDrawn, listenSet, shouldersSet, thinningSet, timeScaleSet, dialogShown } = viewSlice.actions
