import { Cancelled, type OnProgress } from '../engine/worker'
import { storageFailure } from '../engine/storage'
import { changedFile } from '../formats/failure'
import { jobBegun, jobEnded, jobProgressed, type JobKind } from './jobs-slice'
import type { Store, Thunk } from './store'
import { noticed } from './transport-slice'

const controls = new Map<JobKind, AbortController>()

/** What is said when a job of a kind is begun while another one runs, and when it is cancelled. */
const words: Record<JobKind, { busy: string; cancelled: string; preparing: string }> = {
  import: {
    busy: 'An import is going on already. Wait until it is done, or cancel it.',
    cancelled: 'The import was cancelled; nothing was added.',
    preparing: 'Reading the files',
  },
  export: {
    busy: 'An export is going on already. Wait until it is done, or cancel it.',
    cancelled: 'The export was cancelled.',
    preparing: 'Preparing the file',
  },
  measure: {
    busy: 'Something is being measured already. Wait until it is done, or cancel it.',
    cancelled: 'Cancelled; nothing was measured.',
    preparing: 'Measuring the mix',
  },
  zip: {
    busy: 'A ZIP is being made already. Wait until it is done, or cancel it.',
    cancelled: 'Cancelled; no ZIP was made.',
    preparing: 'Putting the files into one ZIP',
  },
  deliver: {
    busy: 'A file is being delivered already. Wait until it is done, or cancel it.',
    cancelled: 'Cancelled; what has arrived stays there, and can be gone on with.',
    preparing: 'Asking the service',
  },
  render: {
    busy: 'Something is being rendered already. Wait until it is done, or cancel it.',
    cancelled: 'Cancelled; nothing was changed.',
    preparing: 'Preparing',
  },
  copy: {
    busy: 'A copy is being saved already. Wait until it is done, or cancel it.',
    cancelled: 'Cancelled; no copy was saved.',
    preparing: 'Preparing the copy',
  },
  open: {
    busy: 'A copy is being opened already. Wait until it is done, or cancel it.',
    cancelled: 'Cancelled; nothing was added.',
    preparing: 'Reading the copy',
  },
}

/** How a job ended: with what it made, or with a sentence of why it made nothing. */
export type JobOutcome<T> = { done: true; value: T } | { done: false; cancelled: boolean; message: string }

/**
 * Runs long work as a job: its progress is in the store, `cancelJob` stops it, and it goes on when the page
 * that began it is left. Never rejects. A second job of the same kind is refused with a notice.
 */
export const runJob =
  <T>(
    kind: JobKind,
    sessionId: string | null,
    work: (onProgress: OnProgress, signal: AbortSignal) => Promise<T>,
  ): Thunk<Promise<JobOutcome<T>>> =>
  async (dispatch) => {
    const { busy, cancelled, preparing } = words[kind]
    if (controls.has(kind)) {
      dispatch(noticed({ id: `job-${kind}`, text: busy }))
      return { done: false, cancelled: false, message: busy }
    }
    const control = new AbortController()
    controls.set(kind, control)
    const progress = { done: 0, doing: preparing }
    dispatch(jobBegun({ kind, sessionId, progress, since: performance.now() }))
    try {
      const value = await work((progress) => dispatch(jobProgressed({ kind, progress })), control.signal)
      return { done: true, value }
    } catch (error) {
      const stopped = error instanceof Cancelled
      return { done: false, cancelled: stopped, message: stopped ? cancelled : sentenceOf(error) }
    } finally {
      controls.delete(kind)
      dispatch(jobEnded(kind))
    }
  }

const sentenceOf = (error: unknown): string => {
  const changed = changedFile(error)
  if (changed !== null) return changed
  const failure = storageFailure(error)
  return failure instanceof Error ? failure.message : String(failure)
}

/** Stops a job; what it has made so far is cleaned up. */
export const cancelJob = (kind: JobKind): void => controls.get(kind)?.abort()

/** Leaving the page asks first while a job runs whose work would be lost. */
export function guardJobs(store: Store): void {
  window.addEventListener('beforeunload', (event) => {
    if (store.getState().jobs.running.length > 0) event.preventDefault()
  })
}
