import type { OpenedSession, Step } from '../../core/model/history'
import { applyPatches } from '../../core/model/patch'
import type { Session } from '../../core/model/session'
import { removeAudio } from './audio-store'
import { soundSizes, type SoundSize } from './sound-sizes'
import {
  withExclusiveLock,
  audioDb,
  chunksDb,
  copiesDb,
  eachRecord,
  headsDb,
  recordKeys,
  sessionsDb,
  stepsDb,
  versionsDb,
  withStorageErrors,
  withSharedLock,
  type AudioRecord,
  type CopyRecord,
  type SessionHead,
  type SessionRecord,
  type VersionRecord,
} from './storage'

/*
 * Sessions as this browser keeps them, on localForage, a store for each kind of record:
 *
 *   sessions   id          a session whole, the numbers of its history's steps, how many of them are in effect, and `savedId`,
 *                          the name of this writing
 *   heads      id          how far the history has got since: the same without the session; `base` is the `savedId` that it
 *                          goes on from
 *   steps      id/number   one step of the history; a number is never used twice
 *   copies     id          when the last copy was saved outside of the browser
 *   versions   id/version  a state of the session that was kept under a name
 *   audio, chunks, peaks   sound, by its hash (see audio-store.ts)
 *
 * In which order things are written; every write by itself is whole or not there:
 *
 *   a session, whole   its new steps, then the session under a new `savedId`, then the head with that as its base
 *   one step further   the new steps, then the head (not when the session was written whole by somebody else meanwhile)
 *   sound              its chunks, its picture, then its record; only then is a session saved that names it
 *
 * The head also names the page that holds the session by its token (`writer`). A page writes only while that is its own
 * (see session-writer.ts), so one that lost the session to another, and wakes up later, changes nothing any more.
 *
 * What is read back: the session; when the head's base is its `savedId`, walked from its own place in the history to the head's,
 * by the steps. So, after a crash between any two of these writes:
 *
 *   steps without a head or session that names them   nobody reads them; `purge` removes them
 *   a new session with an older head                   the bases differ, so the head is not heard: the session is the newest state
 *   chunks without a record                            nobody finds them; `purge` removes them when they are not young
 *
 * The last step that was saved to its end is what is opened, and a step that was begun and not ended never is. Saving has ended
 * when the promise resolves. session-store.test.ts fails every write in turn.
 */

const stepKey = (id: string, number: number) => `${id}/${number}`

const soundsOf = (session: Session) => Object.values(session.sources).map((s) => s.sha256)

/**
 * The steps that lead from a record's place in the history to its head's: back to where the two histories
 * part, then forward.
 */
function stepsBetween(
  record: SessionRecord,
  head: SessionHead,
): { number: number; patches: 'forward' | 'inverse' }[] {
  let shared = 0
  while (shared < record.steps.length && record.steps[shared] === head.steps[shared]) shared++
  const part = Math.min(shared, record.done, head.done)
  return [
    ...record.steps
      .slice(part, record.done)
      .reverse()
      .map((number) => ({ number, patches: 'inverse' as const })),
    ...head.steps.slice(part, head.done).map((number) => ({ number, patches: 'forward' as const })),
  ]
}

/** When more steps than this lie between record and head, the session is written whole again. */
const LONGEST_WAY = 200

/**
 * A record brought up to date by its head. Without a head, with a head of another writing, or when a step is
 * missing or does not fit, the record is returned as it is. After many steps `savedId` is omitted, so that
 * the next save writes the session whole.
 */
export async function withNewerHead(
  record: SessionRecord,
  head: SessionHead | null,
  step: (number: number) => Promise<Step | null>,
): Promise<SessionRecord> {
  if (!head || head.base !== record.savedId) return record
  const way = stepsBetween(record, head)
  const steps = await Promise.all(way.map(({ number }) => step(number)))
  if (steps.includes(null)) return record
  const { base, ...state } = head
  try {
    const session = way.reduce((now, { patches }, i) => applyPatches(now, steps[i]![patches]), record.session)
    return { ...record, ...state, savedId: way.length > LONGEST_WAY ? undefined : base, session }
  } catch {
    // Steps that do not fit the session say nothing of it.
    return record
  }
}

/** A record brought up to date by its stored head. */
async function current(record: SessionRecord): Promise<SessionRecord> {
  const { id } = record.session
  return record.savedId === undefined
    ? record
    : withNewerHead(record, await headsDb.getItem<SessionHead>(id), (number) =>
        stepsDb.getItem<Step>(stepKey(id, number)),
      )
}

/** All that the list of sessions shows. */
export interface Library {
  /** The one changed last first. */
  sessions: SessionRecord[]
  /** Those in the trash, the one deleted last first. */
  deleted: SessionRecord[]
  /** How much sound each of them holds, by id. */
  sizes: Map<string, SoundSize>
}

/** All sessions of the store as they stand, each read once. */
export function listLibrary(): Promise<Library> {
  return withStorageErrors(async () => {
    const records: SessionRecord[] = []
    await eachRecord<SessionRecord>(sessionsDb, (record) => void records.push(record))
    const standing = await Promise.all(records.map(current))
    const audio: AudioRecord[] = []
    await eachRecord<AudioRecord>(audioDb, (record) => void audio.push(record))
    return {
      sessions: standing.filter((r) => r.deletedAt === undefined).sort((a, b) => b.changedAt - a.changedAt),
      deleted: standing.filter((r) => r.deletedAt !== undefined).sort((a, b) => b.deletedAt! - a.deletedAt!),
      sizes: soundSizes(standing, audio),
    }
  })
}

/** A session of the store, checked and ready to be worked on. */
export interface StoredSession extends OpenedSession {
  /** The numbers under which its steps are stored. */
  numbers: number[]
  changedAt: number
  /** What saving may go on from; undefined where the session has to be written whole first. */
  savedId: string | undefined
  /** The hashes of all sounds that the session or its history ever used. */
  sounds: string[]
}

const loadRecord = (id: string) =>
  withStorageErrors(async () => {
    const record = await sessionsDb.getItem<SessionRecord>(id)
    return record && current(record)
  })

/**
 * A session as it was last saved, with its history; null when there is none of that id or it is deleted.
 * Throws `SessionError` for one that breaks the rules, and `StorageError` where the storage cannot be read.
 */
export async function loadSession(id: string): Promise<StoredSession | null> {
  const record = await loadRecord(id)
  if (!record || record.deletedAt !== undefined) return null
  const steps = await withStorageErrors(() =>
    Promise.all(record.steps.map((n) => stepsDb.getItem<unknown>(stepKey(id, n)))),
  )
  // Only who opens a session needs what checks it.
  const { openKept } = await import('../../core/model/history')
  const opened = openKept({ session: record.session, steps, done: record.done })
  const whole = opened.historyDropped === null
  return {
    ...opened,
    numbers: whole ? record.steps : [],
    changedAt: record.changedAt,
    savedId: whole ? record.savedId : undefined,
    sounds: record.sounds,
  }
}

/** A session in the trash under an id that is needed is filed under another one, without its history. */
async function clearTrashedId(id: string): Promise<void> {
  const record = await withStorageErrors(() => sessionsDb.getItem<SessionRecord>(id))
  if (record?.deletedAt === undefined) return
  const whole = await withStorageErrors(() => current(record))
  const session = { ...whole.session, id: crypto.randomUUID().slice(0, 13) }
  await withStorageErrors(() =>
    sessionsDb.setItem(session.id, { ...whole, session, steps: [], done: 0, savedId: undefined }),
  )
}

/** Keeps a new session, with an empty history. */
export async function addSession(session: Session, now: number): Promise<SessionRecord> {
  await clearTrashedId(session.id)
  const record: SessionRecord = { session, steps: [], done: 0, changedAt: now, sounds: soundsOf(session) }
  await saveSession(record, new Map())
  return record
}

const writeSteps = (id: string, fresh: ReadonlyMap<number, Step>) =>
  Promise.all([...fresh].map(([number, step]) => stepsDb.setItem(stepKey(id, number), step)))

/** Serialises the writes of one session, across tabs. */
export const inTurn = <T>(id: string, write: () => Promise<T>): Promise<T> =>
  withSharedLock(() =>
    withStorageErrors(() =>
      navigator.locks ? (navigator.locks.request(`oaken-thread/record/${id}`, write) as Promise<T>) : write(),
    ),
  )

/** The stored head of a session; null when there is none. */
export const readHead = (id: string) => headsDb.getItem<SessionHead>(id)

/** Writes new steps, then the head that counts them. Call it within `inTurn`. */
export async function writeHead(
  id: string,
  head: SessionHead,
  fresh: ReadonlyMap<number, Step>,
): Promise<void> {
  await writeSteps(id, fresh)
  await headsDb.setItem(id, head)
}

/**
 * Writes a whole session: new steps first, each under a number never used before, then the record that names
 * them, then the head, which is returned; its `base` is the `savedId` of this writing. Call it within `inTurn`.
 */
export async function writeWhole(
  record: SessionRecord,
  fresh: ReadonlyMap<number, Step>,
  writer?: string,
): Promise<SessionHead> {
  const { session, steps, done, changedAt } = record
  const savedId = crypto.randomUUID()
  const sounds = [...new Set([...record.sounds, ...soundsOf(session)])]
  const head: SessionHead = { base: savedId, steps, done, changedAt, sounds, ...(writer && { writer }) }
  await writeSteps(session.id, fresh)
  await sessionsDb.setItem(session.id, { ...record, savedId, sounds })
  await headsDb.setItem(session.id, head)
  return head
}

/** Saves a whole session that no page holds. A page that believed to hold it can no longer write. */
const saveSession = async (record: SessionRecord, fresh: ReadonlyMap<number, Step>): Promise<void> => {
  await inTurn(record.session.id, () => writeWhole(record, fresh))
}

/** Changes the record of a session that is not open. */
async function changeRecord(id: string, change: (record: SessionRecord) => SessionRecord): Promise<void> {
  await withStorageErrors(async () => {
    const record = await sessionsDb.getItem<SessionRecord>(id)
    if (record) await sessionsDb.setItem(id, change(record))
  })
}

/** Gives a session another title; a step of its history like any other. */
export async function renameSession(id: string, title: string, now: number): Promise<void> {
  const record = await loadRecord(id)
  if (!record) return
  const forward = [{ path: ['title'], value: title }]
  const step: Step = {
    label: `Rename to “${title}”`,
    at: now,
    forward,
    inverse: [{ path: ['title'], value: record.session.title }],
  }
  const number = Math.max(0, ...record.steps) + 1
  await saveSession(
    {
      ...record,
      session: applyPatches(record.session, forward),
      steps: [...record.steps.slice(0, record.done), number],
      done: record.done + 1,
      changedAt: now,
    },
    new Map([[number, step]]),
  )
}

/** A copy of a session under a new id, without its history. */
export async function duplicateSession(id: string, newId: string, now: number): Promise<void> {
  const record = await loadRecord(id)
  if (record)
    await addSession(
      { ...record.session, id: newId, title: `${record.session.title} (copy)`.slice(0, 255) },
      now,
    )
}

/** Whether there is a session of an id that is not deleted. */
export const hasSession = (id: string): Promise<boolean> =>
  withStorageErrors(async () => {
    const record = await sessionsDb.getItem<SessionRecord>(id)
    return record !== null && record.deletedAt === undefined
  })

/** Puts a session in the place of the one with its id, with an empty history. */
export async function replaceSession(session: Session, now: number): Promise<void> {
  await clearTrashedId(session.id)
  await saveSession({ session, steps: [], done: 0, changedAt: now, sounds: [] }, new Map())
}

/** Notes that a copy of a session was saved outside of the browser. */
export const noteCopy = (id: string, at: number): Promise<CopyRecord> =>
  withStorageErrors(() => copiesDb.setItem<CopyRecord>(id, { at }))

/** When the last copies were saved, in milliseconds since 1970, by the ids of the sessions. */
export async function listCopies(): Promise<Map<string, number>> {
  const copies = new Map<string, number>()
  await withStorageErrors(() => eachRecord<CopyRecord>(copiesDb, ({ at }, id) => void copies.set(id, at)))
  return copies
}

/** Marks a session as deleted; until `purge` it can be restored. */
export const deleteSession = (id: string, now: number) =>
  changeRecord(id, (record) => ({ ...record, deletedAt: now }))

/** Restores a deleted session. */
export const restoreSession = (id: string) => changeRecord(id, ({ deletedAt: _, ...record }) => record)

/** Removes sessions in the trash for good; `purge` then frees their sound. */
export const emptyTrash = (ids: readonly string[]): Promise<void> =>
  withStorageErrors(async () => {
    for (const id of ids) {
      const record = await sessionsDb.getItem<SessionRecord>(id)
      if (record?.deletedAt !== undefined) await sessionsDb.removeItem(id)
    }
  })

/** How long a deleted session stays in the trash, in milliseconds: 30 days. */
export const KEEP_DELETED = 30 * 86_400_000

/** Sounds younger than this may belong to a session that is about to be saved. */
const YOUNG = 10 * 60_000

/**
 * Removes for good: sessions deleted a while ago, steps that no history names, sounds that no session needs,
 * and chunks of imports that were cut short. Does nothing while any tab writes.
 */
export const purge = (now: number) =>
  withExclusiveLock(async () => {
    const needed = new Set<string>()
    const steps = new Set<string>()
    const gone: string[] = []
    const bases = new Map<string, string | undefined>()
    await eachRecord<SessionRecord>(sessionsDb, (record, id) => {
      if (record.deletedAt !== undefined && now - record.deletedAt > KEEP_DELETED) return void gone.push(id)
      bases.set(id, record.savedId)
      for (const sound of record.sounds) needed.add(sound)
      for (const number of record.steps) steps.add(stepKey(id, number))
    })
    for (const id of gone) await sessionsDb.removeItem(id)
    for (const id of await recordKeys(copiesDb)) if (!bases.has(id)) await copiesDb.removeItem(id)
    const orphans: string[] = []
    await eachRecord<VersionRecord>(versionsDb, ({ sessionId, sounds }, key) => {
      if (!bases.has(sessionId)) return void orphans.push(key)
      for (const sound of sounds) needed.add(sound)
    })
    for (const key of orphans) await versionsDb.removeItem(key)
    const stale: string[] = []
    await eachRecord<SessionHead>(headsDb, (head, id) => {
      if (bases.get(id) !== head.base) return void stale.push(id)
      for (const sound of head.sounds) needed.add(sound)
      for (const number of head.steps) steps.add(stepKey(id, number))
    })
    for (const id of stale) await headsDb.removeItem(id)
    for (const key of await recordKeys(stepsDb)) if (!steps.has(key)) await stepsDb.removeItem(key)
    const audio: AudioRecord[] = []
    await eachRecord<AudioRecord>(audioDb, (record) => void audio.push(record))
    const kept = new Set<string>()
    for (const record of audio) {
      if (needed.has(record.sha256) || now - record.createdAt < YOUNG) kept.add(record.storageId)
      else await removeAudio(record)
    }
    for (const key of await recordKeys(chunksDb))
      if (!kept.has(key.split('/')[0]!)) await chunksDb.removeItem(key)
  })
