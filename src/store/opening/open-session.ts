import { addSession, loadSession, type StoredSession } from '../../engine/storage'
import { SessionWriter } from '../../engine/storage'
import { findMissingSounds } from '../../engine/storage'
import { importPackageFile } from '../../engine/import'
import type { OnProgress } from '../../engine/worker'
import { StorageError, storageFailure } from '../../engine/storage'
import { editingEnded, opened } from '../session-slice'
import { keptPlace } from './kept-places'
import { SAMPLE_ID } from './sample-id'
import { releaseLock, requestLock, takeLock } from './session-lock'
import { sessionTaken } from './taken-over'
import type { Thunk } from '../store'
import { noticed } from '../transport-slice'
import { viewReset } from '../view'
import { keepWriter } from './session-writers'

/** The sample session's package, served beside the program. */
const SAMPLE_URL = '/sample/tide-mill.oaken.zip'

/** Fetches the sample session and takes it into the store. */
export async function installSample(onProgress: OnProgress, signal: AbortSignal): Promise<void> {
  onProgress({ done: 0, doing: 'Fetching the sample session' })
  const response = await fetch(SAMPLE_URL, { signal })
  if (!response.ok)
    throw new Error(
      `The sample session could not be fetched (answer ${response.status}). Start Oaken Thread with “npm start”, which makes it.`,
    )
  const { session, missing } = await importPackageFile(await response.blob(), onProgress, signal)
  if (missing[0]) throw new Error(`The sample session ${missing[0].why} Make it anew with “npm start”.`)
  await addSession(session, Date.now())
}

/** Puts a stored session into the state, to be edited here or only looked at. */
const showStored =
  (kept: StoredSession, editable: boolean): Thunk<Promise<void>> =>
  async (dispatch) => {
    const { session, steps, numbers, done, changedAt, historyDropped } = kept
    const writerId = editable ? keepWriter(await SessionWriter.begin(session.id, kept)) : null
    const missing = await findMissingSounds(session)
    dispatch(
      opened({
        session,
        steps: steps.map((step, i) => ({ ...step, number: numbers[i]! })),
        done,
        savedAt: changedAt,
        readOnly: !editable,
        writerId,
        missing,
      }),
    )
    if (historyDropped !== null) dispatch(noticed({ id: 'history', text: historyDropped }))
  }

/** Another tab took the right to edit without being given it. */
const onStolen =
  (id: string): Thunk =>
  (dispatch, getState) => {
    const { session, writerId } = getState().session
    if (session?.id === id && writerId !== null) dispatch(sessionTaken())
  }

/**
 * Opens a session of the library; the sample session is fetched when it is not there. Resolves to false when
 * there is none of that id.
 */
export const openSession =
  (id: string, onProgress: OnProgress, signal: AbortSignal): Thunk<Promise<boolean>> =>
  async (dispatch) => {
    try {
      const editable = await takeLock(id, () => dispatch(onStolen(id)))
      let kept = await loadSession(id)
      if (!kept && id === SAMPLE_ID) {
        await installSample(onProgress, signal)
        kept = await loadSession(id)
      }
      if (!kept || signal.aborted) {
        releaseLock()
        return false
      }
      dispatch(viewReset({ sessionId: id, place: keptPlace(id) }))
      await dispatch(showStored(kept, editable))
      return true
    } catch (error) {
      releaseLock()
      const failure = storageFailure(error)
      throw failure instanceof StorageError && failure.reason === 'denied'
        ? new StorageError(
            'denied',
            `${failure.message} Until then no session can be opened here; the help pages and the command line still work.`,
          )
        : failure
    }
  }

/**
 * Edits the open session here, as it is stored now. `force` takes the right from a tab that does not answer;
 * without it, resolves to false when another tab still has it.
 */
export const editHere =
  (force: boolean): Thunk<Promise<boolean>> =>
  async (dispatch, getState) => {
    const { session, readOnly } = getState().session
    if (!session || !readOnly) return true
    const { id } = session
    const stolen = () => dispatch(onStolen(id))
    const mine = force ? await requestLock(id, { steal: true }, stolen) : await takeLock(id, stolen)
    if (!mine) return false
    const kept = await loadSession(id)
    if (!kept) {
      releaseLock()
      throw new Error(
        `“${session.title}” is no longer stored in this browser. Save a copy of what is shown here.`,
      )
    }
    await dispatch(showStored(kept, true))
    return true
  }

/** Lets another tab edit the session; here it can be looked at from now on. */
export const giveAway = (): Thunk => (dispatch) => {
  dispatch(editingEnded('given'))
  releaseLock()
}
