import { createAction, type UnknownAction } from '@reduxjs/toolkit'
import type { Session } from '../core/model/session'
import type { Step } from '../core/model/history'

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
  steps: readonly KeptStep[]
  /** How many of the steps are in effect. */
  done: number
  /** Steps up to this number were made in earlier visits; where they lead is checked like what is read. */
  earlier: number
  /** The highest number that a step of this history ever had. */
  lastNumber: number
  saved: SavedState
  /** The whole write that incremental saves refer to; null when the session must be written whole next. */
  savedId: string | null
  /** Another tab edits this session. */
  readOnly: boolean
}

const empty: SessionState = {
  session: null,
  base: null,
  steps: [],
  done: 0,
  earlier: 0,
  lastNumber: 0,
  saved: { at: null, failure: null },
  savedId: null,
  readOnly: false,
}

export const opened = createAction<{
  session: Session
  steps: KeptStep[]
  done: number
  savedAt: number
  savedId?: string | undefined
  readOnly: boolean
}>('session/opened')
export const closed = createAction('session/closed')
export const previewed = createAction<Session>('session/previewed')
export const previewDropped = createAction('session/previewDropped')
export const stepped = createAction<{ session: Session; step: KeptStep }>('session/stepped')
export const moved = createAction<{ session: Session; done: number }>('session/moved')
export const saved = createAction<SavedState>('session/saved')

/**
 * The open session and its history. Sessions are plain immutable data; they are replaced, never changed. A
 * plain reducer and no drafts: those would walk through every region with every movement of the hand.
 */
export function sessionReducer(state: SessionState = empty, action: UnknownAction): SessionState {
  if (opened.match(action)) {
    const { session, steps, done, savedAt, savedId, readOnly } = action.payload
    const lastNumber = steps.reduce((most, s) => Math.max(most, s.number), 0)
    return {
      ...empty,
      session,
      steps,
      done,
      earlier: lastNumber,
      lastNumber,
      readOnly,
      saved: { at: savedAt, failure: null },
      savedId: savedId ?? null,
    }
  }
  if (closed.match(action)) return empty
  if (previewed.match(action)) return { ...state, base: state.base ?? state.session, session: action.payload }
  if (previewDropped.match(action)) return state.base ? { ...state, session: state.base, base: null } : state
  if (stepped.match(action)) {
    const { session, step } = action.payload
    const steps = [
      ...(state.done === state.steps.length ? state.steps : state.steps.slice(0, state.done)),
      step,
    ]
    return { ...state, session, base: null, steps, done: steps.length, lastNumber: step.number }
  }
  if (moved.match(action))
    return { ...state, base: null, session: action.payload.session, done: action.payload.done }
  if (saved.match(action)) return { ...state, saved: action.payload }
  return state
}
