import { createSlice, type Draft, type PayloadAction } from '@reduxjs/toolkit'
import { sameRef, type LaneRef, type ThreadRef, type WeaveRef } from '../../core/edit'
import { FADER } from '../../core/model/parameters'
import type { Knot } from '../../core/model/session'
import type { FrameRange } from '../../engine/playback'
import { beadOf, isTrackBead, parameterOfBead, type Bead } from '../beads'
import { beadPicked, insertPicked, lanesToggled, rangeSet, viewReset } from './actions'
import type { InsertRef } from './place'

/** What the pointer does. */
export type Hand = 'point' | 'range' | 'draw' | 'plateau' | 'weave'

/** The last weave of a gain thread; it is redrawn when its settings change. Lanes keep their weaves themselves. */
export interface LastWeave {
  ref: ThreadRef
  from: number
  to: number
  /** The thread before it. */
  before: readonly Knot[]
}

/**
 * What was pressed last, where that is not the stage which the rows show: tracks, by their heads, a lane that
 * is opened below its track, or an insert in the Path.
 */
export type Lead =
  { kind: 'stage' } | { kind: 'tracks' } | { kind: 'lane'; ref: LaneRef } | { kind: 'insert'; ref: InsertRef }

/** What is picked, and the tool in the hand. */
export interface SelectionState {
  /** The selected regions, by their ids. */
  regionIds: string[]
  /** The track that was pressed last. */
  trackId: string | null
  /** The tracks whose heads are selected. */
  trackIds: string[]
  lead: Lead
  /** The selected crossfade; then the bench shows it. */
  crossfadeId: string | null
  /** The stage that the rows show and gestures on them shape. */
  bead: Bead
  /** The beads that were picked last among those of regions and those of tracks. */
  lastBeads: { regions: Bead; tracks: Bead }
  hand: Hand
  range: FrameRange | null
  /** Whether edits go to one region alone though its track is in a group. */
  leavesGroups: boolean
  /** Selected knots of a thread, sorted. */
  knots: { ref: ThreadRef; indices: number[] } | null
  lastWeave: LastWeave | null
  /** The weave of a lane that is picked. */
  pickedWeave: WeaveRef | null
}

export const initialSelection: SelectionState = {
  regionIds: [],
  trackId: null,
  trackIds: [],
  lead: { kind: 'stage' },
  crossfadeId: null,
  bead: 'clip-gain',
  lastBeads: { regions: 'clip-gain', tracks: FADER },
  hand: 'point',
  range: null,
  leavesGroups: false,
  knots: null,
  lastWeave: null,
  pickedWeave: null,
}

/** Something in the rows was pressed: they lead again, and where a bead of the mix was picked, one of theirs is. */
function leadRows(state: Draft<SelectionState>): void {
  state.lead = { kind: 'stage' }
  if (parameterOfBead(state.bead)?.mix) state.bead = state.lastBeads.regions
}

function letGoOfWeave(state: Draft<SelectionState>): void {
  state.lastWeave = null
  state.pickedWeave = null
}

/** What is selected and picked in the editor; not part of the session and not undone. */
export const selectionSlice = createSlice({
  name: 'selection',
  initialState: initialSelection,
  reducers: {
    selected: (state, action: PayloadAction<{ regionIds: string[]; trackId?: string | null }>) => {
      state.regionIds = action.payload.regionIds
      state.crossfadeId = null
      if (state.regionIds.length) {
        leadRows(state)
        state.pickedWeave = null
      }
      if (state.knots?.ref.kind === 'region' && !action.payload.regionIds.includes(state.knots.ref.regionId))
        state.knots = null
      if (action.payload.trackId !== undefined) state.trackId = action.payload.trackId
    },
    crossfadePicked: (state, action: PayloadAction<{ id: string; trackId: string }>) => {
      state.crossfadeId = action.payload.id
      state.trackId = action.payload.trackId
      state.regionIds = []
      state.knots = null
      state.bead = 'fades'
      leadRows(state)
    },
    trackPicked: (state, action: PayloadAction<string>) => {
      state.trackId = action.payload
      leadRows(state)
    },
    /**
     * A track's head was pressed: it leads. `add` puts it to the other heads, or takes it away; `bead` is that of
     * the value which was pressed.
     */
    headPicked: (state, action: PayloadAction<{ trackId: string; add?: boolean; bead?: Bead }>) => {
      const { trackId, add, bead } = action.payload
      const others = state.trackIds.filter((id) => id !== trackId)
      state.trackIds = !add ? [trackId] : state.trackIds.includes(trackId) ? others : [...others, trackId]
      state.trackId = trackId
      state.lead = { kind: 'tracks' }
      state.knots = null
      letGoOfWeave(state)
      state.crossfadeId = null
      if (bead) state.lastBeads.tracks = bead
      else if (isTrackBead(state.bead)) state.lastBeads.tracks = state.bead
    },
    /** A lane that is opened below its track, or its head, was pressed. */
    lanePicked: (state, action: PayloadAction<LaneRef>) => {
      const ref = action.payload
      if (state.lead.kind !== 'lane' || !sameRef(state.lead.ref, ref)) letGoOfWeave(state)
      if (state.knots && !sameRef(state.knots.ref, ref)) state.knots = null
      if (ref.trackId !== null) state.trackId = ref.trackId
      state.lead = { kind: 'lane', ref }
      state.crossfadeId = null
    },
    /** Nothing leads but what the rows show; heads are no longer selected. */
    headsReleased: (state) => {
      state.trackIds = []
      leadRows(state)
    },
    knotsSelected: (state, action: PayloadAction<SelectionState['knots']>) => {
      state.knots = action.payload
      letGoOfWeave(state)
    },
    handTaken: (state, action: PayloadAction<{ hand: Hand; bead: Bead }>) => {
      state.hand = action.payload.hand
      state.bead = action.payload.bead
    },
    weaveDrawn: (state, action: PayloadAction<LastWeave | null>) => ({
      ...(state as SelectionState),
      lastWeave: action.payload,
    }),
    /** A weave of a lane was pressed, or woven. */
    weavePicked: (state, action: PayloadAction<WeaveRef | null>) => {
      state.pickedWeave = action.payload
      state.lastWeave = null
      if (action.payload) state.knots = null
    },
    groupsLeft: (state, action: PayloadAction<boolean>) => void (state.leavesGroups = action.payload),
  },
  extraReducers: (builder) =>
    builder
      .addCase(rangeSet, (state, action) => void (state.range = action.payload))
      .addCase(insertPicked, (state, { payload: { trackId, stripId, insertId } }) => {
        state.trackId = trackId
        state.lead = { kind: 'insert', ref: { stripId, insertId } }
        state.knots = null
        letGoOfWeave(state)
        state.crossfadeId = null
      })
      .addCase(beadPicked, (state, action) => {
        if (state.bead !== action.payload) {
          state.knots = null
          letGoOfWeave(state)
        }
        state.bead = action.payload
        state.lead = { kind: 'stage' }
        if (isTrackBead(state.bead)) state.lastBeads.tracks = state.bead
        else if (!parameterOfBead(state.bead)) state.lastBeads.regions = state.bead
      })
      .addCase(lanesToggled, (state, { payload: { trackId, lanes } }) => {
        // A lane of the mix that is closed is no longer the one that is worked on.
        if (trackId === null && lanes.some((lane) => beadOf(null, lane) === state.bead))
          state.bead = beadOf(null, FADER)
      })
      .addCase(viewReset, () => initialSelection),
})

export const {
  selected,
  crossfadePicked,
  trackPicked,
  headPicked,
  lanePicked,
  headsReleased,
  groupsLeft,
  handTaken,
  knotsSelected,
  weaveDrawn,
  weavePicked,
} = selectionSlice.actions
