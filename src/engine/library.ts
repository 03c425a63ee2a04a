import { applyPatches } from '../core/model/patch'
import type { Session } from '../core/model/session'
import { removeAudio } from './audio-store'
import { alone, audioDb, chunksDb, sessionsDb, stepsDb, stored, together, type AudioRecord, type SessionRecord, type Step } from './storage'

const stepKey = (id: string, number: number) => `${id}/${number}`

const soundsOf = (session: Session) => Object.values(session.sources).map((s) => s.sha256)

/** All sessions that are not deleted, the one changed last first. */
export async function listSessions(): Promise<SessionRecord[]> {
  const records: SessionRecord[] = []
  await stored(() => sessionsDb.iterate<SessionRecord, void>((record) => void records.push(record)))
  return records.filter((r) => r.deletedAt === undefined).sort((a, b) => b.changedAt - a.changedAt)
}

/** A session as it was last saved, null when there is none of that id. */
export const loadSession = (id: string) => stored(() => sessionsDb.getItem<SessionRecord>(id))

/** The steps of a session's history, in order. */
export function loadSteps(record: SessionRecord): Promise<Step[]> {
  return stored(async () => {
    const steps = await Promise.all(record.steps.map((n) => stepsDb.getItem<Step>(stepKey(record.session.id, n))))
    return steps.filter((s): s is Step => s !== null)
  })
}

/** Keeps a new session, with an empty history. */
export async function addSession(session: Session, now: number): Promise<SessionRecord> {
  const record: SessionRecord = { session, steps: [], done: 0, changedAt: now, sounds: soundsOf(session) }
  await stored(() => sessionsDb.setItem(session.id, record))
  return record
}

/**
 * Saves a session after a step. New steps are written first, each under a number never used before, and the record that names them
 * last and at once: a crash at any point leaves the last whole step.
 */
export async function saveSession(record: SessionRecord, fresh: ReadonlyMap<number, Step>): Promise<void> {
  await together(() => stored(async () => {
    await Promise.all([...fresh].map(([number, step]) => stepsDb.setItem(stepKey(record.session.id, number), step)))
    await sessionsDb.setItem(record.session.id, { ...record, sounds: [...new Set([...record.sounds, ...soundsOf(record.session)])] })
  }))
}

/** Changes the record of a session that is not open. */
async function changeRecord(id: string, change: (record: SessionRecord) => SessionRecord): Promise<void> {
  await stored(async () => {
    const record = await sessionsDb.getItem<SessionRecord>(id)
    if (record) await sessionsDb.setItem(id, change(record))
  })
}

/** Gives a session another title; a step of its history like any other. */
export async function renameSession(id: string, title: string, now: number): Promise<void> {
  const record = await loadSession(id)
  if (!record) return
  const forward = [{ path: ['title'], value: title }]
  const step: Step = { label: `Rename to “${title}”`, at: now, forward, inverse: [{ path: ['title'], value: record.session.title }] }
  const number = Math.max(0, ...record.steps) + 1
  await saveSession({ ...record, session: applyPatches(record.session, forward), steps: [...record.steps.slice(0, record.done), number], done: record.done + 1, changedAt: now }, new Map([[number, step]]))
}

/** A copy of a session under a new id, without its history. */
export async function duplicateSession(id: string, newId: string, now: number): Promise<void> {
  const record = await loadSession(id)
  if (record) await addSession({ ...record.session, id: newId, title: `${record.session.title} (copy)`.slice(0, 255) }, now)
}

/** Takes a session off the list; until `purge` it can be brought back. */
export const deleteSession = (id: string, now: number) => changeRecord(id, (record) => ({ ...record, deletedAt: now }))

/** Brings a deleted session back. */
export const restoreSession = (id: string) => changeRecord(id, ({ deletedAt: _, ...record }) => record)

/** How long a deleted session can be brought back, in milliseconds. */
const KEEP_DELETED = 10 * 60_000

/** Sounds younger than this may belong to a session that is about to be saved. */
const YOUNG = 10 * 60_000

/**
 * Removes for good what was deleted a while ago, steps that no history names, sounds that no session needs, and chunks that an
 * import left behind when the page was closed in the middle of it. Does nothing while any tab writes.
 */
export const purge = (now: number) => alone(async () => {
  const needed = new Set<string>()
  const steps = new Set<string>()
  const gone: string[] = []
  await sessionsDb.iterate<SessionRecord, void>((record, id) => {
    if (record.deletedAt !== undefined && now - record.deletedAt > KEEP_DELETED) return void gone.push(id)
    for (const sound of record.sounds) needed.add(sound)
    for (const number of record.steps) steps.add(stepKey(id, number))
  })
  for (const id of gone) await sessionsDb.removeItem(id)
  for (const key of await stepsDb.keys()) if (!steps.has(key)) await stepsDb.removeItem(key)
  const audio: AudioRecord[] = []
  await audioDb.iterate<AudioRecord, void>((record) => void audio.push(record))
  const kept = new Set<string>()
  for (const record of audio) {
    if (needed.has(record.sha256) || now - record.createdAt < YOUNG) kept.add(record.storageId)
    else await removeAudio(record)
  }
  for (const key of await chunksDb.keys()) if (!kept.has(key.split('/')[0]!)) await chunksDb.removeItem(key)
})
