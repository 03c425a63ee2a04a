import { replaceSounds } from '../../core/edit'
import type { Source } from '../../core/model/session'
import { importFiles, type Refused } from '../../engine/import'
import type { ImportedSound } from '../../engine/import'
import { findMissingSounds } from '../../engine/storage'
import { commit } from '../edits'
import { runJob, type JobOutcome } from '../jobs'
import { soundsMissing } from '../session-slice'
import type { RootState, Thunk } from '../store'

/** A file that could stand in for a missing sound: as long and of the same rate, but other samples. */
export interface StandIn {
  source: Source
  sound: ImportedSound
}

/** What became of files in which missing sounds were looked for. */
export interface SearchOutcome {
  /** Sources whose very sound was in a file; they sound again. */
  found: Source[]
  standIns: StandIn[]
  /** Files that hold no sound that is missing. */
  others: string[]
  refused: Refused[]
}

/** The sources of the open session whose sound is missing. */
export const missingSources = ({ session: { session, missing } }: RootState): Source[] =>
  missing.flatMap((id) => session?.sources[id] ?? [])

const sameFile = (source: Source, sound: ImportedSound) =>
  source.origin?.fileName === sound.name || source.name === sound.name

/** Of several sources that a sound is as long as, the one of its name, else the first. */
function standInFor(sources: readonly Source[], sound: ImportedSound): Source | undefined {
  const alike = sources.filter(
    (s) => s.channels === sound.channels && s.frames === sound.frames && s.sampleRate === sound.sampleRate,
  )
  return alike.find((s) => sameFile(s, sound)) ?? alike[0]
}

/** Looks in files for the sounds that are missing, as a job. What is found by its hash sounds again at once. */
export const searchFiles =
  (files: readonly File[]): Thunk<Promise<JobOutcome<SearchOutcome>>> =>
  async (dispatch, getState) => {
    const { session } = getState().session
    const outcome = await dispatch(
      runJob('import', session?.id ?? null, (onProgress, signal) =>
        importFiles(files, session!.sampleRate, onProgress, signal),
      ),
    )
    if (!outcome.done) return outcome
    const { sounds, refused } = outcome.value
    const wanted = missingSources(getState())
    const hashes = new Set(sounds.map((s) => s.sha256))
    const found = wanted.filter((s) => hashes.has(s.sha256))
    let open = wanted.filter((s) => !hashes.has(s.sha256))
    const standIns: StandIn[] = []
    const others: string[] = []
    for (const sound of sounds) {
      if (found.some((s) => s.sha256 === sound.sha256)) continue
      const source = standInFor(open, sound)
      open = open.filter((s) => s !== source)
      if (source) standIns.push({ source, sound })
      else others.push(sound.name)
    }
    await dispatch(checkSounds())
    return { done: true, value: { found, standIns, others, refused } }
  }

/** Lets sources sound from files that are not the very ones that are missing; one step of the history. */
export const takeStandIns =
  (standIns: readonly StandIn[]): Thunk<Promise<void>> =>
  async (dispatch) => {
    const sounds = standIns.map(({ source, sound: { cues: _, ...sound } }) => ({
      sourceId: source.id,
      sound,
    }))
    if (dispatch(commit(replaceSounds, { sounds }))) await dispatch(checkSounds())
  }

/** Finds out anew which sounds of the open session are missing. */
export const checkSounds = (): Thunk<Promise<void>> => async (dispatch, getState) => {
  const { session } = getState().session
  if (!session) return
  const missing = await findMissingSounds(session)
  if (getState().session.session?.id === session.id) dispatch(soundsMissing(missing))
}
