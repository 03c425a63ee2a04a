import type { Session } from '../../core/model/session'
import { shownText } from '../../core/model/check/shown'
import { importPackageFile } from '../../engine/import'
import type { MissingSound } from '../../engine/import'
import { saveCopy } from '../../engine/export'
import { addSession, hasSession, loadSession, noteCopy, replaceSession } from '../../engine/storage'
import { findMissingSounds } from '../../engine/storage'
import { packagedSources, withoutUnusedSources } from '../../formats/packaged-sources'
import { copyName } from './choose-file'
import { runJob, type JobOutcome } from '../jobs'
import { isOpenElsewhere, releaseLock } from '../opening/session-lock'
import { closed } from '../session-slice'
import type { Thunk } from '../store'

/** A copy that was saved: its name, and the file where it still has to be downloaded. */
export interface SavedCopy {
  name: string
  file: Blob | null
  /** Names of the sounds that are missing in the browser and so in the copy. */
  without: string[]
}

/** The sounds of a session that no region uses, and how many bytes they take. */
export interface UnusedSounds {
  count: number
  bytes: number
}

/** The session of an id as it would be copied: what is on the screen, or what is stored; null for none. */
const sessionToCopy =
  (id: string): Thunk<Promise<Session | null>> =>
  async (_dispatch, getState) => {
    const open = getState().session
    return open.session?.id === id ? (open.base ?? open.session) : ((await loadSession(id))?.session ?? null)
  }

/** What a copy of a session could do without; null when every sound is used. */
export const unusedSounds =
  (id: string): Thunk<Promise<UnusedSounds | null>> =>
  async (dispatch) => {
    const session = await dispatch(sessionToCopy(id))
    if (!session) return null
    const kept = new Set(packagedSources(withoutUnusedSources(session)).map((s) => s.sha256))
    const unused = packagedSources(session).filter((s) => !kept.has(s.sha256))
    const bytes = unused.reduce((sum, s) => sum + s.frames * s.channels * 4, 0)
    return unused.length ? { count: unused.length, bytes } : null
  }

/**
 * Saves a session, open or not, with all its sound as a package, as a job. Call `chooseFile` first, in the
 * press that asks for it. Of the open session it is the state on the screen, whether that could be saved in
 * the browser or not.
 */
export const saveSessionCopy =
  (
    id: string,
    target: FileSystemFileHandle | 'download',
    withUnused: boolean,
  ): Thunk<Promise<JobOutcome<SavedCopy>>> =>
  (dispatch) =>
    dispatch(
      runJob('copy', id, async (onProgress, signal): Promise<SavedCopy> => {
        const whole = await dispatch(sessionToCopy(id))
        if (!whole) throw new Error('The session is no longer in this browser, so no copy can be made of it.')
        const session = withUnused ? whole : withoutUnusedSources(whole)
        const missing = await findMissingSounds(session)
        const handle = target === 'download' ? null : target
        const file = await saveCopy(session, missing, handle, onProgress, signal)
        await noteCopy(id, Date.now()).catch(() => undefined)
        const without = missing.map((sourceId) => session.sources[sourceId]!.name)
        return { name: handle?.name ?? copyName(session.title), file, without }
      }),
    )

/** What is to happen with a copy of a session that is in this browser already. */
export type CopyAnswer = 'replace' | 'keep both' | null

const renamed = (session: Session): Session => ({
  ...session,
  id: crypto.randomUUID().slice(0, 13),
  title: `${session.title} (copy)`.slice(0, 255),
})

/** What a person is asked while a copy is opened. */
export interface CopyQuestions {
  /** The session is here already. */
  onClash(title: string): Promise<CopyAnswer>
  /** Sound is missing in the copy, or damaged; `why` is the rest of a sentence about the file. Whether to open it all the same. */
  onMissing(file: string, missing: readonly MissingSound[]): Promise<boolean>
}

/**
 * Takes a package into this browser, as a job: all of its sound and the session, or nothing. Where sound is
 * missing, or the session is here already, the person is asked. Resolves to the session to open; null when
 * the person decided against it.
 */
export const openSessionCopy =
  (file: File, { onClash, onMissing }: CopyQuestions): Thunk<Promise<JobOutcome<Session | null>>> =>
  async (dispatch, getState) => {
    const outcome = await dispatch(
      runJob('open', null, (onProgress, signal) => importPackageFile(file, onProgress, signal)),
    )
    if (!outcome.done)
      return outcome.cancelled
        ? outcome
        : { ...outcome, message: `“${shownText(file.name)}” ${outcome.message}` }
    const { session, missing } = outcome.value
    try {
      if (missing.length && !(await onMissing(shownText(file.name), missing)))
        return { done: true, value: null }
      const answer = (await hasSession(session.id)) ? await onClash(session.title) : 'replace'
      if (answer === null) return { done: true, value: null }
      const kept = answer === 'keep both' ? renamed(session) : session
      if (answer === 'replace') {
        if (getState().session.session?.id === session.id) {
          dispatch(closed())
          releaseLock()
        }
        if (await isOpenElsewhere(session.id))
          throw new Error(
            `“${session.title}” is open in another tab, so it was not replaced. Close it there, or keep both.`,
          )
        await replaceSession(kept, Date.now())
      } else await addSession(kept, Date.now())
      return { done: true, value: kept }
    } catch (error) {
      return { done: false, cancelled: false, message: (error as Error).message }
    }
  }
