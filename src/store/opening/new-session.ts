import { addSounds, type NewSound } from '../../core/edit'
import { createSession } from '../../core/model/create'
import { excerpt } from '../../core/model/excerpt'
import { LIMITS, type Session } from '../../core/model/session'
import { importFiles, type ImportOutcome, type Refused } from '../../engine/import'
import type { ImportedSound } from '../../engine/import'
import { addSession, deleteSession, emptyTrash, replaceSession } from '../../engine/storage'
import { allowanceWarning, askToPersist } from '../../engine/storage'
import { amend, commit, undo } from '../edits'
import { runJob, type JobOutcome } from '../jobs'
import type { Thunk } from '../store'
import { noticed } from '../transport-slice'

const newId = () => crypto.randomUUID().slice(0, 13)

/** Where imported sounds go. Times are session frames. */
export interface Placement {
  start: number
  /**
   * The time since midnight that lies at `start` for sounds that tell their place by a time stamp; null: they
   * go to `start` like all others.
   */
  stampsFrom: number | null
  /** One track for all, one after another; else a track for each. */
  inRow: boolean
  /** A track that takes them where they fit. */
  onTrackId?: string | undefined
}

/** Imported files at the start of a session, each on a track. */
export const AT_START: Placement = { start: 0, stampsFrom: null, inRow: false }

/** Adds an empty session to the library. */
export async function newSession(title: string, sampleRate: number): Promise<Session> {
  const session = createSession(newId(), title, sampleRate)
  await addSession(session, Date.now())
  return session
}

/** Adds a session of some regions of another one, at their places, with their tracks and all that these pass. */
export async function sessionOfRegions(session: Session, regionIds: readonly string[]): Promise<Session> {
  const part = excerpt(session, regionIds)
  const regions = Object.fromEntries(Object.entries(part.regions).filter(([id]) => regionIds.includes(id)))
  const crossfades = Object.fromEntries(
    Object.entries(part.crossfades).filter(([, x]) => regions[x.leftId] && regions[x.rightId]),
  )
  const title = `${session.title}, ${regionIds.length === 1 ? '1 region' : `${regionIds.length} regions`}`
  const made = { ...part, id: newId(), title: title.slice(0, LIMITS.nameLength), regions, crossfades }
  await addSession(made, Date.now())
  return made
}

/** What became of an import, and the session that was made of it, null when none was. */
export type NewSessionOutcome = ImportOutcome & { session: Session | null }

/** Says when the files will hardly fit into what the browser allows. Samples take twice the bytes of 16 bit. */
const warnOfAllowance =
  (files: readonly File[]): Thunk<Promise<void>> =>
  async (dispatch) => {
    const text = await allowanceWarning(files.reduce((sum, file) => sum + file.size * 2, 0))
    if (text) dispatch(noticed({ id: 'allowance', text }))
  }

/** The sounds of an import as they come, with their places, and those that cannot be placed. */
class Arrivals {
  readonly sounds: NewSound[] = []
  readonly misplaced: Refused[] = []

  constructor(
    private readonly placement: Placement,
    private readonly sampleRate: number,
  ) {}

  /** The arguments of the edit that adds sounds. */
  args(sounds: readonly NewSound[]) {
    const { start, inRow, onTrackId } = this.placement
    return { sounds, start, inRow, onTrackId }
  }

  /** Takes the next one; null when its place lies beyond the longest session. */
  take({ cues: _, stamp, ...source }: ImportedSound): NewSound | null {
    const { start, stampsFrom } = this.placement
    const own = stamp === null || stampsFrom === null ? null : Math.max(0, start + stamp - stampsFrom)
    if (own !== null && own + source.frames > LIMITS.frames) {
      const hours = Math.floor(LIMITS.frames / this.sampleRate / 3600)
      this.misplaced.push({
        name: source.name,
        message: `has a time stamp later than a session can be long (${hours} hours). Import it by its distance to the others instead.`,
      })
      return null
    }
    const sound = {
      source: { ...source, id: newId() },
      trackId: newId(),
      regionId: newId(),
      ...(own === null ? {} : { start: own }),
    }
    this.sounds.push(sound)
    return sound
  }
}

const withMisplaced = <T extends ImportOutcome>(outcome: T, { misplaced }: Arrivals): T => ({
  ...outcome,
  sounds: outcome.sounds.filter((s) => !misplaced.some((m) => m.name === s.name)),
  refused: [...outcome.refused, ...misplaced],
})

/** The title of a session of files that have none: the name of the first. */
export const titleOf = (fileName: string) =>
  fileName.replace(/\.[^.]*$/, '').slice(0, LIMITS.nameLength) || 'Imported'

/**
 * Makes a session of audio files as a job; none without a usable file. It is stored with the first file that
 * is finished and grows with each: when the page dies, what was finished is there. With `takesWrongSum` files whose checksum is
 * wrong are taken.
 */
export const sessionFromFiles =
  (
    files: readonly File[],
    { title, sampleRate, placement }: { title: string | null; sampleRate: number; placement: Placement },
    takesWrongSum = false,
  ): Thunk<Promise<JobOutcome<NewSessionOutcome>>> =>
  async (dispatch) => {
    void askToPersist()
    await dispatch(warnOfAllowance(files))
    let session: Session | null = null
    const arrivals = new Arrivals(placement, sampleRate)
    const id = newId()
    const keep = async (sound: ImportedSound) => {
      if (!arrivals.take(sound)) return
      const first = session === null
      const empty = createSession(id, title ?? titleOf(sound.name), sampleRate)
      session = addSounds.apply(
        { ...empty, title: session?.title ?? empty.title },
        arrivals.args(arrivals.sounds),
      )
      await (first ? addSession : replaceSession)(session, Date.now())
    }
    const outcome = await dispatch(
      runJob('import', null, (onProgress, signal) =>
        importFiles(files, sampleRate, onProgress, signal, keep, takesWrongSum),
      ),
    )
    if (outcome.done) return { done: true, value: { ...withMisplaced(outcome.value, arrivals), session } }
    if (session !== null && outcome.cancelled) {
      await deleteSession(id, Date.now())
      await emptyTrash([id])
    }
    return outcome
  }

/**
 * Imports files into the open session as a job; one step of the history, which grows with every file that is
 * finished. Cancelling takes it back. With `takesWrongSum` files whose checksum is wrong are taken.
 */
export const importInto =
  (
    files: readonly File[],
    placement: Placement,
    takesWrongSum = false,
  ): Thunk<Promise<JobOutcome<ImportOutcome>>> =>
  async (dispatch, getState) => {
    const { session } = getState().session
    if (!session) return { done: true, value: { sounds: [], refused: [] } }
    void askToPersist()
    await dispatch(warnOfAllowance(files))
    const arrivals = new Arrivals(placement, session.sampleRate)
    /** The step of this import; null before the first sound. */
    let number: number | null = null
    let left = false
    const keep = (sound: ImportedSound) => {
      const added = arrivals.take(sound)
      if (!added) return
      left ||= getState().session.session?.id !== session.id
      if (left) return
      number =
        (number === null ? null : dispatch(amend(number, addSounds, arrivals.args(arrivals.sounds)))) ??
        // Something else was done in between: the step of before stays, and this one follows.
        (dispatch(commit(addSounds, arrivals.args([added]))) ? getState().session.lastNumber : null)
    }
    const outcome = await dispatch(
      runJob('import', session.id, (onProgress, signal) =>
        importFiles(files, session.sampleRate, onProgress, signal, keep, takesWrongSum),
      ),
    )
    if (!outcome.done) {
      const { steps, done } = getState().session
      if (outcome.cancelled && number !== null && steps[done - 1]?.number === number) dispatch(undo())
      return outcome
    }
    if (left)
      return {
        done: false,
        cancelled: false,
        message: `“${session.title}” was closed before all files were read; those that were finished are in it. Open it and import the others again.`,
      }
    return { done: true, value: withMisplaced(outcome.value, arrivals) }
  }
