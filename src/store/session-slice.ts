import { createSlice, type PayloadAction } from '@reduxjs/toolkit'
import type { Session } from '../core/model/session'
import type { Step } from '../engine/storage'

/** A step of the history with the number under which it is stored. */
export interface KeptStep extends Step {
  number: number
}

/** How saving stands. `at` is the time of the last save in milliseconds. */
export interface SavedState {
  at: number | null
  failure: string | null
}

export interface SessionState {
  session: Session | null
  /** The session before the gesture in progress, null when there is none. */
  base: Session | null
  steps: KeptStep[]
  /** How many of the steps are in effect. */
  done: number
  saved: SavedState
  /** Another tab edits this session. */
  readOnly: boolean
}

const empty: SessionState = { session: null, base: null, steps: [], done: 0, saved: { at: null, failure: null }, readOnly: false }

/** The open session and its history. Sessions are plain immutable data; they are replaced, never changed. */
export const sessionSlice = createSlice({
  name: 'session',
  initialState: empty,
  reducers: {
    opened: (_state, action: PayloadAction<{ session: Session; steps: KeptStep[]; done: number; savedAt: number; readOnly: boolean }>) => {
      const { session, steps, done, savedAt, readOnly } = action.payload
      return { ...empty, session, steps, done, readOnly, saved: { at: savedAt, failure: null } }
    },
    closed: () => empty,
    previewed: (state, action: PayloadAction<Session>) => ({ ...(state as SessionState), base: (state.base ?? state.session) as Session, session: action.payload }),
    previewDropped: (state) => ({ ...(state as SessionState), session: (state.base ?? state.session) as Session, base: null }),
    stepped: (state, action: PayloadAction<{ session: Session; step: KeptStep }>) => {
      const { session, step } = action.payload
      const steps = [...(state.steps as KeptStep[]).slice(0, state.done), step]
      return { ...(state as SessionState), session, base: null, steps, done: steps.length }
    },
    moved: (state, action: PayloadAction<{ session: Session; done: number }>) => ({ ...(state as SessionState), base: null, session: action.payload.session, done: action.payload.done }),
    saved: (state, action: PayloadAction<SavedState>) => {
      state.saved = action.payload
    },
  },
})

export const { opened, closed, previewed, previewDropped, stepped, moved, saved } = sessionSlice.actions
