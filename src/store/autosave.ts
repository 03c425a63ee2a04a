import { saveHead, saveSession } from '../engine/session-store'
import type { Step } from '../core/model/history'
import { StorageError } from '../engine/storage'
import { saved, type SessionState } from './session-slice'
import type { Store } from './store'

const strip = ({ label, at, forward, inverse }: Step): Step => ({ label, at, forward, inverse })

/** After so many incremental saves the session is written whole again. */
const WHOLE_EVERY = 200

/**
 * Saves the open session after every step, undo and redo. Saves run one after another and always write the
 * newest state: the new steps and the position in the history, and now and then the whole session. Returns a
 * function that resolves when everything is saved.
 */
export function startAutosave(store: Store): () => Promise<void> {
  let stored: Pick<SessionState, 'session' | 'steps' | 'done'> | null = null
  let known = new Set<number>()
  let running: Promise<void> | null = null
  let sounds: string[] = []
  /** The last whole write, and the number of incremental saves since. */
  let base: { savedId: string; heads: number } | null = null

  let openId: string | null = null

  async function save(): Promise<void> {
    for (;;) {
      const { session, base: tried, steps, done, readOnly } = store.getState().session
      if (!session || readOnly || tried) return
      if (stored && stored.session === session && stored.steps === steps && stored.done === done) return
      const fresh = new Map(steps.filter((s) => !known.has(s.number)).map((s) => [s.number, strip(s)]))
      sounds = [...new Set([...sounds, ...Object.values(session.sources).map((s) => s.sha256)])]
      const state = { steps: steps.map((s) => s.number), done, changedAt: Date.now(), sounds }
      try {
        const goesOn =
          base !== null &&
          base.heads < WHOLE_EVERY &&
          (await saveHead(session.id, { ...state, base: base.savedId }, fresh))
        const written = goesOn
          ? { ...base!, heads: base!.heads + 1 }
          : { savedId: await saveSession({ ...state, session }, fresh), heads: 0 }
        // Another session may have been opened meanwhile.
        if (openId === session.id) {
          base = written
          stored = { session, steps, done }
          known = new Set(state.steps)
        }
        if (store.getState().session.session?.id === session.id)
          store.dispatch(saved({ at: state.changedAt, failure: null }))
      } catch (error) {
        const why =
          error instanceof StorageError
            ? error.message
            : `The session could not be saved: ${error instanceof Error ? error.message : String(error)}.`
        store.dispatch(
          saved({
            at: store.getState().session.saved.at,
            failure: `${why} It is whole in this tab: playing, shaping and delivering still work.`,
          }),
        )
        return
      }
    }
  }

  store.subscribe(() => {
    const { session, steps, done, saved: savedState, savedId, base: tried } = store.getState().session
    if (session?.id !== openId) {
      openId = session?.id ?? null
      stored = session ? { session, steps, done } : null
      known = new Set(steps.map((s) => s.number))
      sounds = []
      base = savedId === null ? null : { savedId, heads: 0 }
      return
    }
    const changed =
      session &&
      !tried &&
      stored &&
      (stored.session !== session || stored.done !== done || stored.steps !== steps)
    if (!changed || running || savedState.failure) return
    running = save().finally(() => (running = null))
  })
  const isSaved = (): boolean => {
    const { session, steps, done, base: tried, readOnly } = store.getState().session
    if (!session || readOnly) return true
    return !tried && !running && stored?.session === session && stored.steps === steps && stored.done === done
  }
  // Leaving the page asks first while something is not saved.
  window.addEventListener('beforeunload', (event) => {
    if (!isSaved()) event.preventDefault()
  })
  // After a failure the next step tries again; so does this, now and then.
  setInterval(() => {
    if (store.getState().session.saved.failure && !running) running = save().finally(() => (running = null))
  }, 5000)
  return async () => {
    while (running) await running
  }
}
