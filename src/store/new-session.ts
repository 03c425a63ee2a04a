import { addSounds, type NewSound } from '../core/edit'
import { createSession } from '../core/model/create'
import { LIMITS, type Session } from '../core/model/session'
import { importFiles, rateOf, type ImportOutcome } from '../engine/import-files'
import type { ImportedSound } from '../engine/import-sound'
import type { OnProgress } from '../engine/jobs'
import { addSession } from '../engine/session-store'
import { commit } from './edits'
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

/**
 * Makes a session of audio files, named after the first, each on a track of its own. Without a single usable file no session is
 * made. Resolves to what was refused and the session, null when none was made.
 */
export async function sessionFromFiles(
  files: readonly File[],
  onProgress: OnProgress,
  signal: AbortSignal,
): Promise<ImportOutcome & { session: Session | null }> {
  const sampleRate = await rateOf(files)
  const outcome = await importFiles(files, sampleRate, onProgress, signal)
  if (outcome.sounds.length === 0) return { ...outcome, session: null }
  const title = outcome.sounds[0]!.name.replace(/\.[^.]*$/, '').slice(0, LIMITS.nameLength) || 'Imported'
  const session = addSounds.apply(createSession(newId(), title, sampleRate), {
    sounds: withIds(outcome.sounds),
    start: 0,
  })
  await addSession(session, Date.now())
  return { ...outcome, session }
}

/** Imports files into the open session at a frame, on a track where they fit; one step of the history. */
export const importInto =
  (
    files: readonly File[],
    start: number,
    onTrackId: string | undefined,
    onProgress: OnProgress,
    signal: AbortSignal,
  ): Thunk<Promise<ImportOutcome>> =>
  async (dispatch, getState) => {
    const { session } = getState().session
    if (!session) return { sounds: [], refused: [] }
    const outcome = await importFiles(files, session.sampleRate, onProgress, signal)
    if (outcome.sounds.length && getState().session.session?.id === session.id)
      dispatch(commit(addSounds, { sounds: withIds(outcome.sounds), start, onTrackId }))
    return outcome
  }
