import { createAction, type UnknownAction } from '@reduxjs/toolkit'
import type { Session } from '../core/model/session'
import type { Step } from '../core/model/history'

/** A step of the history with the number under which it is stored. */
export interface KeptStep extends Step {
  number: number
}

/** How saving stands. */
export interface SavedState {
  /** When the session was saved last, in milliseconds since 1970; null for never. */
  at: number | null
  /** Why the newest state could not be saved, in a sentence. */
  failure: string | null
  /** Whether what was stored has gone, so that only saving anew, or a copy, keeps the session. */
  vanished?: boolean
}

/**
 * Why a session cannot be edited here: another tab had it when it was opened, was given it, or took it while
 * this one did not answer and may hold steps of its own.
 */
export type ReadOnlyReason = 'elsewhere' | 'given' | 'taken'

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
  /** Whether there are steps that are not saved yet. */
  unsaved: boolean
  /** The id of what writes the session (see `writerOf`); null while it is not edited here. */
  writerId: string | null
  /** Why the session cannot be edited here; null when it can. */
  readOnly: ReadOnlyReason | null
  /** Ids of the sources whose sound is not in the store, or not whole; they are silent. */
  missing: readonly string[]
  /** Goes up when sound that was missing is there again; whatever has read it as silence begins anew. */
  soundVersion: number
}

const empty: SessionState = {
  session: null,
  base: null,
  steps: [],
  done: 0,
  earlier: 0,
  lastNumber: 0,
  saved: { at: null, failure: null },
  unsaved: false,
  writerId: null,
  readOnly: null,
  missing: [],
  soundVersion: 0,
}

export const opened = createAction<{
  session: Session
  steps: KeptStep[]
  done: number
  savedAt: number
  /** Another tab edits the session. */
  readOnly: boolean
  writerId?: string | null
  missing?: readonly string[]
}>('session/opened')
export const closed = createAction('session/closed')
export const previewed = createAction<Session>('session/previewed')
export const previewDropped = createAction('session/previewDropped')
/** `amends`: the step takes the place of the last one. */
export const stepped = createAction<{ session: Session; step: KeptStep; amends?: boolean }>('session/stepped')
export const moved = createAction<{ session: Session; done: number }>('session/moved')
/** `of` is the session whose state was saved; null when nothing may be called saved any more. */
export const saved = createAction<SavedState & { of: Session | null }>('session/saved')
/** The session is edited in another tab from now on. */
export const editingEnded = createAction<'given' | 'taken'>('session/editingEnded')
export const soundsMissing = createAction<readonly string[]>('session/soundsMissing')

/**
 * The open session and its history. Sessions are plain immutable data; they are replaced, never changed. A
 * plain reducer and no drafts: those would walk through every region with every movement of the hand.
 */
export function sessionReducer(state: SessionState = empty, action: UnknownAction): SessionState {
  if (opened.match(action)) {
    const { session, steps, done, savedAt, readOnly, writerId, missing } = action.payload
    const lastNumber = steps.reduce((most, s) => Math.max(most, s.number), 0)
    return {
      ...empty,
      session,
      steps,
      done,
      earlier: lastNumber,
      lastNumber,
      readOnly: readOnly ? 'elsewhere' : null,
      saved: { at: savedAt, failure: null },
      writerId: writerId ?? null,
      missing: missing ?? [],
    }
  }
  if (closed.match(action)) return empty
  if (previewed.match(action)) return { ...state, base: state.base ?? state.session, session: action.payload }
  if (previewDropped.match(action)) return state.base ? { ...state, session: state.base, base: null } : state
  if (stepped.match(action)) {
    const { session, step, amends } = action.payload
    const kept = amends ? state.done - 1 : state.done
    const steps = [...(kept === state.steps.length ? state.steps : state.steps.slice(0, kept)), step]
    return {
      ...state,
      session,
      base: null,
      steps,
      done: steps.length,
      lastNumber: step.number,
      unsaved: true,
    }
  }
  if (moved.match(action))
    return {
      ...state,
      base: null,
      session: action.payload.session,
      done: action.payload.done,
      unsaved: true,
    }
  if (saved.match(action)) {
    const { of, ...saving } = action.payload
    // A step that was made while the one before it was saved is still to be saved.
    return {
      ...state,
      saved: saving,
      unsaved: saving.failure !== null || of !== (state.base ?? state.session),
    }
  }
  if (editingEnded.match(action))
    return {
      ...state,
      session: state.base ?? state.session,
      base: null,
      writerId: null,
      readOnly: action.payload,
    }
  if (soundsMissing.match(action)) {
    const found = state.missing.some((id) => !action.payload.includes(id))
    return {
      ...state,
      missing: action.payload,
      soundVersion: state.soundVersion + (found ? 1 : 0),
    }
  }
  return state
}
