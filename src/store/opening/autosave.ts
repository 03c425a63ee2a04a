import type { Step } from '../../core/model/history'
import {
  beginFreshLog,
  DataVanished,
  findMissingSounds,
  onConnectionLost,
  onStorageFailure,
  StorageError,
  TakenOver,
  type SessionWriter,
} from '../../engine/storage'
import { saved, soundsMissing, type SessionState } from '../session-slice'
import type { Store } from '../store'
import { forgetOtherWriters, writerOf } from './session-writers'
import { sessionTaken } from './taken-over'
import { noticed } from '../transport-slice'

const strip = ({ label, at, forward, inverse }: Step): Step => ({ label, at, forward, inverse })

/** After a failure saving is tried again so often, in milliseconds. */
const RETRY_MS = 5000

/** How often the page looks whether what it stored is still there, in milliseconds. */
const WATCH_MS = 1000

const VANISHED =
  'What the browser had stored for this session has been removed, by clearing its data or because the disk is full. ' +
  'The session and its history are whole in this tab: save a copy, or keep them in the browser again.'

/** Said when it was all stored again at once. */
const RESTORED =
  'What the browser had stored for this session was removed, by clearing its data or because the disk is full. ' +
  'The session and its history were stored again at once; save a copy to be safe.'

/** What vanishes again within so many milliseconds is not stored again by itself. */
const AGAIN_MS = 10_000

const sentenceOf = (error: unknown) =>
  error instanceof StorageError
    ? error.message
    : `The session could not be saved: ${error instanceof Error ? error.message : String(error)}.`

/** The session to save: the one before the gesture in progress. */
const settled = ({ session, base }: SessionState) => base ?? session

let keepAgain: () => Promise<void> = () => Promise.resolve()

/** Keeps the open session in the browser again after what was stored had gone: whole, with its history. */
export const keepSessionAgain = () => keepAgain()

/**
 * Saves the open session after every step, undo and redo. Saves run one after another and always write the
 * newest state. Between them it looks whether what was stored is still there. Returns a function that resolves
 * when everything is saved that can be.
 */
export function startAutosave(store: Store): () => Promise<void> {
  /** What was saved last, with the numbers of the steps that are stored. */
  let stored: Pick<SessionState, 'session' | 'steps' | 'done'> | null = null
  let known = new Set<number>()
  let running: Promise<void> | null = null
  let openWriter: SessionWriter | null = null
  /**
   * A write has failed, here or elsewhere: before anything is called saved again the browser must begin a new
   * log, and the sounds are counted.
   */
  let suspicious = false
  /** The session that could not be saved; the next step tries again. */
  let refused: SessionState['session'] = null

  const isStored = (state: SessionState) =>
    stored !== null &&
    stored.session === settled(state) &&
    stored.done === state.done &&
    stored.steps === state.steps

  async function countSounds(): Promise<void> {
    const { session, writerId } = store.getState().session
    if (!session) return
    const missing = await findMissingSounds(session)
    if (store.getState().session.writerId === writerId) store.dispatch(soundsMissing(missing))
  }

  async function save(): Promise<void> {
    for (;;) {
      const state = store.getState().session
      const { steps, done } = state
      const writer = writerOf(state)
      const session = settled(state)
      if (!session || !writer || (isStored(state) && !suspicious)) return
      const fresh = new Map(steps.filter((s) => !known.has(s.number)).map((s) => [s.number, strip(s)]))
      const numbers = steps.map((s) => s.number)
      const changedAt = Date.now()
      try {
        const heals = suspicious
        if (heals) {
          suspicious = false
          await beginFreshLog()
        }
        await writer.save({ session, steps: numbers, done, changedAt }, fresh)
        // Another session may have been opened meanwhile.
        if (openWriter === writer) {
          stored = { session, steps, done }
          known = new Set([...known, ...numbers])
          store.dispatch(saved({ at: changedAt, failure: null, of: session }))
        }
        if (heals) await countSounds()
      } catch (error) {
        failed(error, writer)
        return
      }
    }
  }

  function failed(error: unknown, writer: SessionWriter | null): void {
    const state = store.getState().session
    if (writerOf(state) !== writer || !state.session) return
    if (error instanceof TakenOver) return void store.dispatch(sessionTaken())
    suspicious = true
    refused = settled(state)
    const vanished = error instanceof DataVanished
    const failure = vanished
      ? VANISHED
      : `${sentenceOf(error)} It is whole in this tab: playing, shaping and exporting still work.`
    store.dispatch(saved({ at: state.saved.at, failure, vanished, of: state.session }))
    if (vanished) void restore()
  }

  let restoredAt = -Infinity
  /** What has vanished is stored again at once, whole, from what is in memory: a reload would find nothing of it. */
  async function restore(): Promise<void> {
    const again = performance.now() - restoredAt > AGAIN_MS
    restoredAt = performance.now()
    // After what is being written.
    await running?.catch(() => undefined)
    if (!again) return countSounds().catch(() => undefined)
    await keepAgain()
    if (store.getState().session.saved.failure === null)
      store.dispatch(noticed({ id: 'restored', text: RESTORED }))
  }

  const run = () => {
    running ??= save().finally(() => (running = null))
    return running
  }

  store.subscribe(() => {
    const state = store.getState().session
    const { steps, done, saved: savedState } = state
    const writer = writerOf(state)
    if (writer !== openWriter) {
      // A tab that lost the session keeps what it knows: it has nothing to write.
      openWriter = writer
      forgetOtherWriters(state.writerId)
      stored = writer ? { session: settled(state), steps, done } : null
      known = new Set(steps.map((s) => s.number))
      // What has failed under another session concerns this one, too: they share the browser's log.
      if (writer && suspicious) void run()
      return
    }
    const tried = savedState.failure !== null && (savedState.vanished || settled(state) === refused)
    if (writer && !running && !tried && (!isStored(state) || suspicious)) void run()
  })

  const isSaved = (): boolean => {
    const state = store.getState().session
    if (!state.session || !writerOf(state)) return !state.unsaved
    return !running && !suspicious && isStored(state) && !state.base
  }
  // Leaving the page asks first while something is not saved.
  window.addEventListener('beforeunload', (event) => {
    if (!isSaved()) event.preventDefault()
  })
  // After a failure this tries again now and then; what has vanished twice in a row comes back when the person says so.
  setInterval(() => {
    const { failure, vanished } = store.getState().session.saved
    if (failure && !vanished) void run()
  }, RETRY_MS)

  const suspect = () => {
    if (suspicious) return
    suspicious = true
    if (!openWriter) return
    // Nothing is called saved until it is safe again.
    const { session, saved: savedState } = store.getState().session
    if (session && !savedState.failure) store.dispatch(saved({ ...savedState, of: null }))
    void run()
  }
  onStorageFailure(suspect)
  onConnectionLost(suspect)

  const watch = async () => {
    const writer = writerOf(store.getState().session)
    const { saved: savedState } = store.getState().session
    if (!writer || running || savedState.failure) return
    try {
      await writer.check()
    } catch (error) {
      failed(error, writer)
    }
  }
  setInterval(() => void watch(), WATCH_MS)
  document.addEventListener('visibilitychange', () => void watch())

  keepAgain = async () => {
    const writer = openWriter
    try {
      await writer?.adopt()
      stored = null
      known = new Set()
      await run()
      await countSounds()
    } catch (error) {
      failed(error, writer)
    }
  }
  return async () => {
    while (running) await running
  }
}
