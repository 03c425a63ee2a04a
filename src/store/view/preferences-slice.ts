import { createSlice, type PayloadAction } from '@reduxjs/toolkit'
import { clamp } from '../../core/units/clamp'
import type { Weave } from '../../core/curve/weave'
import { insertPicked, rowHeightSet, soundFactorSet } from './actions'
import { BENCH_HEIGHT, MIX_HEIGHT, ROW_HEIGHT, rowHeightWithin, soundFactorWithin } from './sizes'

/** What a person sets once, for all sessions. */
export interface Preferences {
  follow: boolean
  bench: boolean
  /** Whether the Path is one line high. */
  pathFolded: boolean
  /** Whether the meter panel is shown, and what it measures: the mix as it is heard, the picked strip, or the picked bead. */
  meters: boolean
  metersOf: 'mix' | 'strip' | 'here'
  /** What ruler and grid follow. */
  timeScale: 'bars' | 'seconds'
  /** Whether automation goes with regions that are moved, copied or deleted; else it stays on the track. */
  travels: boolean
  /** Length of a plateau's shoulders, in milliseconds. */
  shoulderMs: number
  /** Within how many dB a drawn line is thinned; null keeps every point. */
  thinning: number | null
  /** Height of the mix below the tracks, in pixels. */
  mixHeight: number
  benchHeight: number
  /** Height of the rows of tracks, in pixels, and of those that have another one of their own, by track. */
  rowHeight: number
  /** How large sound is drawn (see `SoundScale`), and by which factors on tracks that have one of their own. */
  soundScale: { factor: number; decibels: boolean }
  /** Settings of the next weave. */
  weave: Weave
  /** Whether stopping goes back to where playing began; else the playhead stays where it is. */
  stopReturns: boolean
  /** The light or the dark ground; "system" follows that of the machine. */
  ground: 'system' | 'day' | 'evening'
  /** Keys of commands, by their ids, where they are others than the usual ones; none switches a command's keys off. */
  keymap: Record<string, string[]>
  /** Whether letters and signs by themselves are keys of commands. */
  singleKeys: boolean
  /** How much is heard before and after a seam or a region, in milliseconds. */
  rollMs: number
}

export const initialPreferences: Preferences = {
  follow: true,
  bench: true,
  pathFolded: false,
  meters: false,
  metersOf: 'mix',
  timeScale: 'bars',
  travels: false,
  shoulderMs: 40,
  thinning: 0.5,
  mixHeight: MIX_HEIGHT.first,
  benchHeight: BENCH_HEIGHT.first,
  rowHeight: ROW_HEIGHT.first,
  soundScale: { factor: 1, decibels: false },
  weave: { shape: 'triangle', period: { beats: 0.5 }, low: 0.4, high: 0.63, phase: 0, duty: 0.5, seed: 1 },
  stopReturns: false,
  ground: 'system',
  keymap: {},
  singleKeys: true,
  rollMs: 1000,
}

/** Preferences of the person, kept across sessions. */
export const preferencesSlice = createSlice({
  name: 'preferences',
  initialState: initialPreferences,
  reducers: {
    weaveSet: (state, action: PayloadAction<Weave>) => void (state.weave = action.payload),
    thinningSet: (state, action: PayloadAction<number | null>) => void (state.thinning = action.payload),
    timeScaleSet: (state, action: PayloadAction<Preferences['timeScale']>) =>
      void (state.timeScale = action.payload),
    shouldersSet: (state, action: PayloadAction<number>) => void (state.shoulderMs = action.payload),
    travelsSet: (state, action: PayloadAction<boolean>) => void (state.travels = action.payload),
    stopReturnsSet: (state, action: PayloadAction<boolean>) => void (state.stopReturns = action.payload),
    rollSet: (state, action: PayloadAction<number>) => void (state.rollMs = action.payload),
    followSet: (state, action: PayloadAction<boolean>) => void (state.follow = action.payload),
    pathFolded: (state, action: PayloadAction<boolean>) => void (state.pathFolded = action.payload),
    metersShown: (state, action: PayloadAction<boolean>) => void (state.meters = action.payload),
    metersLed: (state, action: PayloadAction<Preferences['metersOf']>) =>
      void (state.metersOf = action.payload),
    benchShown: (state, action: PayloadAction<boolean>) => void (state.bench = action.payload),
    soundDecibelsSet: (state, action: PayloadAction<boolean>) =>
      void (state.soundScale.decibels = action.payload),
    groundSet: (state, action: PayloadAction<Preferences['ground']>) => void (state.ground = action.payload),
    /** Gives a command other keys; null gives it back the usual ones. */
    keysSet: (state, { payload }: PayloadAction<{ id: string; keys: string[] | null }>) => {
      if (payload.keys === null) delete state.keymap[payload.id]
      else state.keymap[payload.id] = payload.keys
    },
    keymapSet: (state, action: PayloadAction<{ keymap: Record<string, string[]>; singleKeys: boolean }>) =>
      void Object.assign(state, action.payload),
    mixHeightSet: (state, action: PayloadAction<number>) =>
      void (state.mixHeight = clamp(Math.round(action.payload), MIX_HEIGHT.min, MIX_HEIGHT.max)),
    benchHeightSet: (state, action: PayloadAction<number>) =>
      void (state.benchHeight = clamp(Math.round(action.payload), BENCH_HEIGHT.min, BENCH_HEIGHT.max)),
    preferencesTaken: (state, action: PayloadAction<Partial<Preferences>>) =>
      void Object.assign(state, action.payload),
  },
  extraReducers: (builder) =>
    builder
      .addCase(insertPicked, (state) => void (state.bench = true))
      .addCase(rowHeightSet, (state, { payload: { trackIds, height } }) => {
        if (trackIds === null) state.rowHeight = rowHeightWithin(height)
      })
      .addCase(soundFactorSet, (state, { payload: { trackIds, factor } }) => {
        if (trackIds === null) state.soundScale.factor = soundFactorWithin(factor)
      }),
})

export const {
  weaveSet,
  thinningSet,
  timeScaleSet,
  shouldersSet,
  travelsSet,
  stopReturnsSet,
  rollSet,
  followSet,
  pathFolded,
  metersShown,
  metersLed,
  benchShown,
  soundDecibelsSet,
  groundSet,
  keysSet,
  keymapSet,
  mixHeightSet,
  benchHeightSet,
  preferencesTaken,
} = preferencesSlice.actions
