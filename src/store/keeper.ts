import { saveSession } from '../engine/library'
import { StorageError, type SessionRecord, type Step } from '../engine/storage'
import { saved, type SessionState } from './session-slice'
import type { Store } from './store'

const strip = ({ label, at, forward, inverse }: Step): Step => ({ label, at, forward, inverse })

/**
 * Saves the open session after every step, undo and redo, one save after another, always the newest state. Returns a function that
 * resolves when everything is saved.
 */
export function keepSaved(store: Store): () => Promise<void> {
  let stored: Pick<SessionState, 'session' | 'steps' | 'done'> | null = null
  let known = new Set<number>()
  let running: Promise<void> | null = null
  let sounds: string[] = []

  async function save(): Promise<void> {
    for (;;) {
      const { session, base, steps, done, readOnly } = store.getState().session
      if (!session || readOnly || base) return
      if (stored && stored.session === session && stored.steps === steps && stored.done === done) return
      const fresh = new Map(steps.filter((s) => !known.has(s.number)).map((s) => [s.number, strip(s)]))
      sounds = [...new Set([...sounds, ...Object.values(session.sources).map((s) => s.sha256)])]
      const record: SessionRecord = { session, steps: steps.map((s) => s.number), done, changedAt: Date.now(), sounds }
      try {
        await saveSession(record, fresh)
        stored = { session, steps, done }
        known = new Set(record.steps)
        if (store.getState().session.session?.id === session.id) store.dispatch(saved({ at: record.changedAt, failure: null }))
      } catch (error) {
        const why = error instanceof StorageError ? error.message : `The session could not be saved: ${error instanceof Error ? error.message : String(error)}.`
        store.dispatch(saved({ at: store.getState().session.saved.at, failure: `${why} It is whole in this tab: playing, shaping and delivering still work.` }))
        return
      }
    }
  }

  let openId: string | null = null
  store.subscribe(() => {
    const { session, steps, done, saved: savedState, base } = store.getState().session
    if (session?.id !== openId) {
      openId = session?.id ?? null
      stored = session ? { session, steps, done } : null
      known = new Set(steps.map((s) => s.number))
      sounds = []
      return
    }
    const changed = session && !base && stored && (stored.session !== session || stored.done !== done || stored.steps !== steps)
    if (!changed || running || savedState.failure) return
    running = save().finally(() => (running = null))
  })
  // After a failure the next step tries again; so does this, now and then.
  setInterval(() => {
    if (store.getState().session.saved.failure && !running) running = save().finally(() => (running = null))
  }, 5000)
  return async () => {
    while (running) await running
  }
}
