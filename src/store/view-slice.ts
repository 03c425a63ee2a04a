import { FADER } from '../core/model/parameters'
import { createSlice, type Draft, type PayloadAction } from '@reduxjs/toolkit'
import type { Weave } from '../core/curve/weave'
import { sameRef, type LaneRef, type ThreadRef, type WeaveRef } from '../core/edit'
import type { Knot } from '../core/model/session'
import type { FrameRange } from '../engine/playback'
import { beadOf, hasThreads, isTrackBead, parameterOfBead, type Bead } from './beads'

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

/** What is left out for comparing: an insert, the chain that it is in, or all inserts of the session. */
export type Compared = 'insert' | 'chain' | 'everything'

/** Comparing with and without processing: which of the three is heard, and by how much the third is set off, in dB. */
export interface Compare {
  what: Compared
  /** The strip and the insert that are compared. */
  ref: InsertRef
  position: 'original' | 'processed' | 'matched'
  /** Loudness of the original less that of the processed; null until it is measured. */
  offsetDb: number | null
}

/**
 * Whether the session is heard with its shaping, whether at equal loudness, and the loudness of both as measured; whether it is
 * heard at the picked place of the Path; and what is compared.
 */
export interface Listen {
  /** At the place of the Path that is picked: the strip alone, within the mix, or only what its inserts change there. */
  here: 'alone' | 'mix' | 'difference' | null
  /** By how many dB that is raised or lowered to be as loud as the mix; null while it is not. */
  hereDb: number | null
  compare: Compare | null
  /** The band of an equaliser that is heard alone. */
  band: (InsertRef & { band: string }) | null
  unshaped: boolean
  equal: boolean
  shapedLufs: number | null
  unshapedLufs: number | null
}

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

/** What part of the session is seen. `left` is a session frame (may be a fraction), `top` is in pixels. */
export interface View {
  left: number
  framesPerPixel: number
  top: number
  width: number
  height: number
  /** Heights in pixels of the rows of tracks, without opened lanes; rows beyond the list have the usual one. */
  heights?: readonly number[]
  /** Pixels that the rows of tracks have below their regions, for opened lanes; rows beyond the list have none. */
  below?: readonly number[]
  /** Where what is seen begins, in pixels from `left`: 0 in a view, some way off on a sheet. */
  x0?: number
}

/** A lane that is opened below its track, or (null) below the mix. */
export interface OpenLane {
  trackId: string | null
  lane: string
  height: number
}

/** Where a session is looked at: zoom, scroll, and its opened lanes. */
export type Place = Pick<View, 'left' | 'framesPerPixel' | 'top'> & {
  openLanes: OpenLane[]
  rowHeights?: Record<string, number>
  soundFactors?: Record<string, number>
}

/** An insert of a track or bus, or with null of the mix. */
export interface InsertRef {
  stripId: string | null
  insertId: string
}

/** Limits and default of an opened lane's height, in pixels. */
export const LANE_HEIGHT = { min: 36, first: 64, max: 320 }

/** Limits and default of the height of a track's row, in pixels. */
export const ROW_HEIGHT = { min: 28, first: 72, max: 400 }

/** Limits of the factor by which sound is drawn larger. */
export const SOUND_FACTOR = { min: 0.25, max: 256 }

/** Limits and default of the height of the mix row, in pixels. */
export const MIX_HEIGHT = { min: 56, first: 56, max: 240 }

/** Height of the bench, in pixels; it takes three fifths of the editor at most, however tall the window is. */
export const BENCH_HEIGHT = { min: 120, first: 196, max: 1200 }

/**
 * What was pressed last, where that is not the stage which the rows show: tracks, by their heads, a lane that
 * is opened below its track, or an insert in the Path.
 */
export type Lead =
  { kind: 'stage' } | { kind: 'tracks' } | { kind: 'lane'; ref: LaneRef } | { kind: 'insert'; ref: InsertRef }

export interface ViewState {
  view: View
  /** The session that the view is of. */
  sessionId: string | null
  /** Whether the view is where the session was left; else it begins with all of it. */
  placed: boolean
  /** Height of the rows of tracks, in pixels, and of those that have another one of their own, by track. */
  rowHeight: number
  rowHeights: Record<string, number>
  /** How large sound is drawn (see `SoundScale`), and by which factors on tracks that have one of their own. */
  soundScale: { factor: number; decibels: boolean }
  soundFactors: Record<string, number>
  /** Height of the mix below the tracks, in pixels. */
  mixHeight: number
  benchHeight: number
  /** Whether the mix would pass full scale anywhere; then its flags have a row. */
  mixFlagged: boolean
  selection: string[]
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
  loop: boolean
  follow: boolean
  bench: boolean
  /** Whether the Path is one line high. */
  pathFolded: boolean
  /** Whether the meter panel is shown, and what it measures: the mix as it is heard, the picked strip, or the picked bead. */
  meters: boolean
  metersOf: 'mix' | 'strip' | 'here'
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
  /** The weave of a lane that is picked. */
  pickedWeave: WeaveRef | null
  listen: Listen
  openLanes: OpenLane[]
  /** Whether automation goes with regions that are moved, copied or deleted; else it stays on the track. */
  travels: boolean
  /** Whether stopping goes back to where playing began; else the playhead stays where it is. */
  stopReturns: boolean
  /** How much is heard before and after a seam or a region, in milliseconds. */
  rollMs: number
  /** The light or the dark ground; "system" follows that of the machine. */
  ground: 'system' | 'day' | 'evening'
  /** Keys of commands, by their ids, where they are others than the usual ones; none switches a command's keys off. */
  keymap: Record<string, string[]>
  /** Whether letters and signs by themselves are keys of commands. */
  singleKeys: boolean
  /** How moves of volume and pan are written while it plays. `returnMs` is the time back to the lane after a touch. */
  ride: { mode: 'off' | 'touch' | 'latch'; returnMs: number }
}

/**
 * The part of the view that is a preference of the person and not a place in a session; it is kept across
 * sessions.
 */
export const preferenceKeys = [
  'follow',
  'bench',
  'pathFolded',
  'meters',
  'metersOf',
  'timeScale',
  'travels',
  'shoulderMs',
  'thinning',
  'mixHeight',
  'benchHeight',
  'rowHeight',
  'soundScale',
  'weave',
  'stopReturns',
  'ground',
  'keymap',
  'singleKeys',
  'rollMs',
] as const
export type Preferences = Pick<ViewState, (typeof preferenceKeys)[number]>

const preferencesOf = (state: ViewState) =>
  Object.fromEntries(preferenceKeys.map((key) => [key, state[key]])) as unknown as Preferences

/** Height of the row of the mix's overload flags, which is there while there are any, in pixels. */
export const MIX_FLAGS_HEIGHT = 22

/** Height of the mix row with its flags and its opened lanes, in pixels. */
export const mixRoom = ({ mixHeight, mixFlagged, openLanes }: ViewState): number =>
  openLanes.reduce(
    (sum, o) => (o.trackId === null ? sum + o.height : sum),
    mixHeight + (mixFlagged ? MIX_FLAGS_HEIGHT : 0),
  )

export const initialView: ViewState = {
  view: { left: 0, framesPerPixel: 1024, top: 0, width: 800, height: 400 },
  sessionId: null,
  placed: false,
  rowHeight: ROW_HEIGHT.first,
  rowHeights: {},
  soundScale: { factor: 1, decibels: false },
  soundFactors: {},
  mixHeight: MIX_HEIGHT.first,
  benchHeight: BENCH_HEIGHT.first,
  mixFlagged: false,
  selection: [],
  trackId: null,
  trackIds: [],
  lead: { kind: 'stage' },
  crossfadeId: null,
  bead: 'clip-gain',
  lastBeads: { regions: 'clip-gain', tracks: FADER },
  hand: 'point',
  range: null,
  leavesGroups: false,
  loop: false,
  follow: true,
  bench: true,
  pathFolded: false,
  meters: false,
  metersOf: 'mix',
  knots: null,
  shoulderMs: 40,
  thinning: 0.5,
  timeScale: 'bars',
  dialog: null,
  weave: { shape: 'triangle', period: { beats: 0.5 }, low: 0.4, high: 0.63, phase: 0, duty: 0.5, seed: 1 },
  lastWeave: null,
  pickedWeave: null,
  listen: {
    unshaped: false,
    equal: false,
    shapedLufs: null,
    unshapedLufs: null,
    here: null,
    hereDb: null,
    compare: null,
    band: null,
  },
  openLanes: [],
  travels: false,
  stopReturns: false,
  rollMs: 1000,
  ground: 'system',
  keymap: {},
  singleKeys: true,
  ride: { mode: 'off', returnMs: 300 },
}

/** Something in the rows was pressed: they lead again, and where a bead of the mix was picked, one of theirs is. */
function leadRows(state: Draft<ViewState>): void {
  state.lead = { kind: 'stage' }
  if (parameterOfBead(state.bead)?.mix) state.bead = state.lastBeads.regions
}

function letGoOfWeave(state: Draft<ViewState>): void {
  state.lastWeave = null
  state.pickedWeave = null
}

/** What is seen, selected and picked in the editor; not part of the session and not undone. */
export const viewSlice = createSlice({
  name: 'view',
  initialState: initialView,
  reducers: {
    viewChanged: (state, action: PayloadAction<Partial<View>>) =>
      void Object.assign(state.view, action.payload),
    selected: (state, action: PayloadAction<{ regionIds: string[]; trackId?: string | null }>) => {
      state.selection = action.payload.regionIds
      state.crossfadeId = null
      if (state.selection.length) {
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
      state.selection = []
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
    /** The bead of an insert was pressed, in the Path of a track. */
    insertPicked: (state, action: PayloadAction<InsertRef & { trackId: string }>) => {
      const { trackId, stripId, insertId } = action.payload
      state.trackId = trackId
      state.lead = { kind: 'insert', ref: { stripId, insertId } }
      state.knots = null
      letGoOfWeave(state)
      state.crossfadeId = null
      state.bench = true
    },
    /** Nothing leads but what the rows show; heads are no longer selected. */
    headsReleased: (state) => {
      state.trackIds = []
      leadRows(state)
    },
    beadPicked: (state, action: PayloadAction<Bead>) => {
      if (state.bead !== action.payload) {
        state.knots = null
        letGoOfWeave(state)
      }
      state.bead = action.payload
      state.lead = { kind: 'stage' }
      if (isTrackBead(state.bead)) state.lastBeads.tracks = state.bead
      else if (!parameterOfBead(state.bead)) state.lastBeads.regions = state.bead
      // The mix's fader lane is always seen, its others once they are picked.
      const picked = parameterOfBead(state.bead)
      const lane = picked?.mix ? picked.parameter.key : FADER
      if (lane !== FADER && !state.openLanes.some((o) => o.trackId === null && o.lane === lane))
        state.openLanes.push({ trackId: null, lane, height: LANE_HEIGHT.first })
    },
    handTaken: (state, action: PayloadAction<Hand>) => {
      state.hand = action.payload
      // Plateaus, weaves and drawn lines are made in a thread; one is shown unless lanes are open.
      if (
        state.openLanes.length === 0 &&
        action.payload !== 'point' &&
        action.payload !== 'range' &&
        !hasThreads(state.bead)
      )
        state.bead = action.payload === 'weave' ? FADER : 'gain-thread'
    },
    knotsSelected: (state, action: PayloadAction<ViewState['knots']>) => {
      state.knots = action.payload
      letGoOfWeave(state)
    },
    weaveSet: (state, action: PayloadAction<Weave>) => void (state.weave = action.payload),
    weaveDrawn: (state, action: PayloadAction<LastWeave | null>) => ({
      ...(state as ViewState),
      lastWeave: action.payload,
    }),
    /** A weave of a lane was pressed, or woven. */
    weavePicked: (state, action: PayloadAction<WeaveRef | null>) => {
      state.pickedWeave = action.payload
      state.lastWeave = null
      if (action.payload) state.knots = null
    },
    listenSet: (state, action: PayloadAction<Partial<Listen>>) =>
      void Object.assign(state.listen, action.payload),
    thinningSet: (state, action: PayloadAction<number | null>) => void (state.thinning = action.payload),
    timeScaleSet: (state, action: PayloadAction<ViewState['timeScale']>) =>
      void (state.timeScale = action.payload),
    dialogShown: (state, action: PayloadAction<DialogName | null>) => void (state.dialog = action.payload),
    shouldersSet: (state, action: PayloadAction<number>) => void (state.shoulderMs = action.payload),
    rangeSet: (state, action: PayloadAction<FrameRange | null>) => {
      state.range = action.payload
      if (!action.payload) state.loop = false
    },
    travelsSet: (state, action: PayloadAction<boolean>) => void (state.travels = action.payload),
    rideSet: (state, action: PayloadAction<Partial<ViewState['ride']>>) =>
      void Object.assign(state.ride, action.payload),
    stopReturnsSet: (state, action: PayloadAction<boolean>) => void (state.stopReturns = action.payload),
    rollSet: (state, action: PayloadAction<number>) => void (state.rollMs = action.payload),
    groupsLeft: (state, action: PayloadAction<boolean>) => void (state.leavesGroups = action.payload),
    loopSet: (state, action: PayloadAction<boolean>) => void (state.loop = action.payload),
    followSet: (state, action: PayloadAction<boolean>) => void (state.follow = action.payload),
    pathFolded: (state, action: PayloadAction<boolean>) => void (state.pathFolded = action.payload),
    metersShown: (state, action: PayloadAction<boolean>) => void (state.meters = action.payload),
    metersLed: (state, action: PayloadAction<ViewState['metersOf']>) =>
      void (state.metersOf = action.payload),
    benchShown: (state, action: PayloadAction<boolean>) => void (state.bench = action.payload),
    /** Opens lanes of a track below it, or closes those that are open. */
    lanesToggled: (state, action: PayloadAction<{ trackId: string | null; lanes: string[] }>) => {
      const { trackId, lanes } = action.payload
      const isOpen = (lane: string) => state.openLanes.some((o) => o.trackId === trackId && o.lane === lane)
      if (trackId === null && lanes.some((lane) => beadOf(null, lane) === state.bead))
        state.bead = beadOf(null, FADER)
      if (lanes.every(isOpen))
        state.openLanes = state.openLanes.filter((o) => o.trackId !== trackId || !lanes.includes(o.lane))
      else
        for (const lane of lanes)
          if (!isOpen(lane)) state.openLanes.push({ trackId, lane, height: LANE_HEIGHT.first })
    },
    laneHeightSet: (state, action: PayloadAction<OpenLane>) => {
      const { trackId, lane, height } = action.payload
      for (const open of state.openLanes)
        if (open.trackId === trackId && open.lane === lane)
          open.height = Math.max(LANE_HEIGHT.min, Math.min(LANE_HEIGHT.max, Math.round(height)))
    },
    /** Gives tracks a height of their own, or with null all rows one height; heights of their own are then forgotten. */
    rowHeightSet: (state, action: PayloadAction<{ trackIds: readonly string[] | null; height: number }>) => {
      const { trackIds } = action.payload
      const height = Math.max(ROW_HEIGHT.min, Math.min(ROW_HEIGHT.max, Math.round(action.payload.height)))
      if (trackIds === null) {
        state.rowHeight = height
        state.rowHeights = {}
      } else for (const id of trackIds) state.rowHeights[id] = height
    },
    /** Draws the sound of tracks so many times as large, or with null that of all. */
    soundFactorSet: (
      state,
      action: PayloadAction<{ trackIds: readonly string[] | null; factor: number }>,
    ) => {
      const { trackIds } = action.payload
      const factor = Math.max(SOUND_FACTOR.min, Math.min(SOUND_FACTOR.max, action.payload.factor))
      if (trackIds === null) {
        state.soundScale.factor = factor
        state.soundFactors = {}
      } else for (const id of trackIds) state.soundFactors[id] = factor
    },
    soundDecibelsSet: (state, action: PayloadAction<boolean>) =>
      void (state.soundScale.decibels = action.payload),
    groundSet: (state, action: PayloadAction<ViewState['ground']>) => void (state.ground = action.payload),
    /** Gives a command other keys; null gives it back the usual ones. */
    keysSet: (state, { payload }: PayloadAction<{ id: string; keys: string[] | null }>) => {
      if (payload.keys === null) delete state.keymap[payload.id]
      else state.keymap[payload.id] = payload.keys
    },
    keymapSet: (state, action: PayloadAction<{ keymap: Record<string, string[]>; singleKeys: boolean }>) =>
      void Object.assign(state, action.payload),
    mixFlaggedSet: (state, action: PayloadAction<boolean>) => void (state.mixFlagged = action.payload),
    mixHeightSet: (state, action: PayloadAction<number>) =>
      void (state.mixHeight = Math.max(MIX_HEIGHT.min, Math.min(MIX_HEIGHT.max, Math.round(action.payload)))),
    benchHeightSet: (state, action: PayloadAction<number>) =>
      void (state.benchHeight = Math.max(
        BENCH_HEIGHT.min,
        Math.min(BENCH_HEIGHT.max, Math.round(action.payload)),
      )),
    preferencesTaken: (state, action: PayloadAction<Partial<Preferences>>) =>
      void Object.assign(state, action.payload),
    /** For another session, which begins where it was left. */
    viewReset: (state, { payload }: PayloadAction<{ sessionId: string; place: Place | null }>) => {
      const { sessionId, place } = payload
      const {
        openLanes,
        rowHeights = {},
        soundFactors = {},
        ...at
      }: Partial<Place> & Pick<Place, 'openLanes'> = place ?? {
        openLanes: [],
      }
      return {
        ...initialView,
        ...preferencesOf(state as ViewState),
        view: { ...initialView.view, ...at, width: state.view.width, height: state.view.height },
        sessionId,
        placed: place !== null,
        openLanes,
        rowHeights,
        soundFactors,
      }
    },
  },
})

export const {
  viewChanged,
  selected,
  crossfadePicked,
  trackPicked,
  headPicked,
  lanePicked,
  headsReleased,
  insertPicked,
  beadPicked,
  handTaken,
  rangeSet,
  groupsLeft,
  groundSet,
  keysSet,
  keymapSet,
  rowHeightSet,
  soundFactorSet,
  soundDecibelsSet,
  stopReturnsSet,
  rollSet,
  loopSet,
  followSet,
  benchShown,
  benchHeightSet,
  metersLed,
  metersShown,
  pathFolded,
  viewReset,
  preferencesTaken,
  knotsSelected,
  weaveSet,
  weaveDrawn,
  weavePicked,
  listenSet,
  shouldersSet,
  thinningSet,
  timeScaleSet,
  dialogShown,
  lanesToggled,
  laneHeightSet,
  mixFlaggedSet,
  mixHeightSet,
  travelsSet,
  rideSet,
} = viewSlice.actions
