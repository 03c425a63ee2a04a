import { addSounds, type NewSound } from '../core/edit'
import { createSession } from '../core/model/create'
import { LIMITS, type Session } from '../core/model/session'
import { importFiles, rateOf, type ImportOutcome } from '../engine/import-files'
import type { ImportedSound } from '../engine/import-sound'
import { addSession } from '../engine/session-store'
import { askToPersist } from '../engine/storage'
import { commit } from './edits'
import { runJob, type JobOutcome } from './jobs'
import type { Thunk } from './store'

const newId = () => crypto.randomUUID().slice(0, 13)

/** Imported sounds with ids for what will be made of them. */
function withIds(sounds: readonly ImportedSound[]): NewSound[] {
  return sounds.map(({ cues: _, ...source }) => ({
    source: { ...source, id: newId() },
    trackId: newId(),
    regionId: newId(),
  }))
}

/** Adds an empty session to the library. */
export async function newSession(title: string): Promise<Session> {
  const session = createSession(newId(), title, 48000)
  await addSession(session, Date.now())
  return session
}

/** What became of an import, and the session that was made of it, null when none was. */
export type NewSessionOutcome = ImportOutcome & { session: Session | null }

/**
 * Makes a session of audio files as a job, named after the first, each on a track of its own; none without a
 * usable file.
 */
export const sessionFromFiles =
  (files: readonly File[]): Thunk<Promise<JobOutcome<NewSessionOutcome>>> =>
  (dispatch) =>
    dispatch(
      runJob('import', null, async (onProgress, signal): Promise<NewSessionOutcome> => {
        void askToPersist()
        const sampleRate = await rateOf(files)
        const outcome = await importFiles(files, sampleRate, onProgress, signal)
        if (outcome.sounds.length === 0) return { ...outcome, session: null }
        const title =
          outcome.sounds[0]!.name.replace(/\.[^.]*$/, '').slice(0, LIMITS.nameLength) || 'Imported'
        const session = addSounds.apply(createSession(newId(), title, sampleRate), {
          sounds: withIds(outcome.sounds),
          start: 0,
        })
        await addSession(session, Date.now())
        return { ...outcome, session }
      }),
    )

/** Imports files into the open session at a frame as a job, on a track where they fit; one step of the history. */
export const importInto =
  (
    files: readonly File[],
    start: number,
    onTrackId: string | undefined,
  ): Thunk<Promise<JobOutcome<ImportOutcome>>> =>
  async (dispatch, getState) => {
    const { session } = getState().session
    const none: ImportOutcome = { sounds: [], refused: [] }
    if (!session) return { done: true, value: none }
    void askToPersist()
    const outcome = await dispatch(
      runJob('import', session.id, (onProgress, signal) =>
        importFiles(files, session.sampleRate, onProgress, signal),
      ),
    )
    if (!outcome.done || outcome.value.sounds.length === 0) return outcome
    if (getState().session.session?.id !== session.id)
      return {
        done: false,
        cancelled: false,
        message: `The files were read, but “${session.title}” is no longer open, so nothing was added. Open it and import them again.`,
      }
    dispatch(commit(addSounds, { sounds: withIds(outcome.value.sounds), start, onTrackId }))
    return outcome
  }
