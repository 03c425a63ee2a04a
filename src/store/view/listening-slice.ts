import { createSlice, type PayloadAction } from '@reduxjs/toolkit'
import { rangeSet, viewReset } from './actions'
import type { InsertRef } from './place'

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

export interface ListeningState extends Listen {
  /** Whether the range is played over and over. */
  loop: boolean
  /** How moves of volume and pan are written while it plays. `returnMs` is the time back to the lane after a touch. */
  ride: { mode: 'off' | 'touch' | 'latch'; returnMs: number }
}

export const initialListening: ListeningState = {
  unshaped: false,
  equal: false,
  shapedLufs: null,
  unshapedLufs: null,
  here: null,
  hereDb: null,
  compare: null,
  band: null,
  loop: false,
  ride: { mode: 'off', returnMs: 300 },
}

/** How the session is heard; not part of the session and not undone. */
export const listeningSlice = createSlice({
  name: 'listening',
  initialState: initialListening,
  reducers: {
    listenSet: (state, action: PayloadAction<Partial<Listen>>) => void Object.assign(state, action.payload),
    rideSet: (state, action: PayloadAction<Partial<ListeningState['ride']>>) =>
      void Object.assign(state.ride, action.payload),
    loopSet: (state, action: PayloadAction<boolean>) => void (state.loop = action.payload),
  },
  extraReducers: (builder) =>
    builder
      .addCase(rangeSet, (state, action) => {
        if (!action.payload) state.loop = false
      })
      .addCase(viewReset, () => initialListening),
})

export const { listenSet, rideSet, loopSet } = listeningSlice.actions
