import { addSession, loadSession } from '../engine/session-store'
import { importPackageFile } from '../engine/import-files'
import type { OnProgress } from '../engine/progress'
import { StorageError, storageFailure } from '../engine/storage'
import { opened } from './session-slice'
import type { Thunk } from './store'
import { noticed } from './transport-slice'
import { viewReset } from './view-slice'

/** Id of the sample session; its package is served beside the program. */
export const SAMPLE_ID = 'tide-mill'
const SAMPLE_URL = '/sample/tide-mill.oaken.zip'

/** Held while a session is open for editing, so that a second tab opens it read-only. */
let release: () => void = () => undefined

/** Acquires the exclusive right to edit a session; false when another tab has it. */
async function takeLock(id: string): Promise<boolean> {
  release()
  if (!navigator.locks) return true
  for (let tries = 0; tries < 6; tries++) {
    if (await requestLock(id)) return true
    // This tab itself may have let go only a moment ago.
    await new Promise((resolve) => setTimeout(resolve, 50))
  }
  return false
}

function requestLock(id: string): Promise<boolean> {
  return new Promise((resolve) => {
    void navigator.locks.request(`oaken-thread/session/${id}`, { ifAvailable: true }, (lock) => {
      resolve(lock !== null)
      return lock ? new Promise<void>((done) => (release = done)) : undefined
    })
  })
}

/** Whether another tab has a session open for editing. */
export async function isOpenElsewhere(id: string): Promise<boolean> {
  const { held } = (await navigator.locks?.query()) ?? {}
  return held?.some(({ name }) => name === `oaken-thread/session/${id}`) ?? false
}

/** Releases the right to edit. */
export const releaseLock = () => {
  release()
  release = () => undefined
}

/** Fetches the sample session and takes it into the store. */
export async function installSample(onProgress: OnProgress, signal: AbortSignal): Promise<void> {
  onProgress({ done: 0, doing: 'Fetching the sample session' })
  const response = await fetch(SAMPLE_URL, { signal })
  if (!response.ok)
    throw new Error(
      `The sample session could not be fetched (answer ${response.status}). Start Oaken Thread with “npm start”, which makes it.`,
    )
  const session = await importPackageFile(await response.blob(), onProgress, signal)
  await addSession(session, Date.now())
}

/**
 * Opens a session of the library; the sample session is fetched when it is not there. Resolves to false when
 * there is none of that id.
 */
export const openSession =
  (id: string, onProgress: OnProgress, signal: AbortSignal): Thunk<Promise<boolean>> =>
  async (dispatch) => {
    try {
      let kept = await loadSession(id)
      if (!kept && id === SAMPLE_ID) {
        await installSample(onProgress, signal)
        kept = await loadSession(id)
      }
      if (!kept || signal.aborted) return false
      const editable = await takeLock(id)
      if (signal.aborted) {
        releaseLock()
        return false
      }
      const { session, steps, numbers, done, changedAt, savedId, historyDropped } = kept
      dispatch(viewReset())
      dispatch(
        opened({
          session,
          steps: steps.map((step, i) => ({ ...step, number: numbers[i]! })),
          done,
          savedAt: changedAt,
          savedId,
          readOnly: !editable,
        }),
      )
      if (historyDropped !== null) dispatch(noticed({ id: 'history', text: historyDropped }))
      return true
    } catch (error) {
      const failure = storageFailure(error)
      throw failure instanceof StorageError && failure.reason === 'denied'
        ? new StorageError(
            'denied',
            `${failure.message} Until then no session can be opened here; the help pages and the command line still work.`,
          )
        : failure
    }
  }
