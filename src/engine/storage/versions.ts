import type { Session } from '../../core/model/session'
import { eachRecord, versionsDb, withSharedLock, withStorageErrors, type VersionRecord } from './storage'

/** A kept version as lists show it. */
export type VersionEntry = Pick<VersionRecord, 'id' | 'name' | 'at'>

const keyOf = (sessionId: string, id: string) => `${sessionId}/${id}`

/** Keeps a session as it is under a name. It shares its sound with the session that it was made of. */
export async function keepVersion(session: Session, name: string, now: number): Promise<VersionEntry> {
  const entry = { id: crypto.randomUUID(), name, at: now }
  const sounds = [...new Set(Object.values(session.sources).map((s) => s.sha256))]
  const record: VersionRecord = { ...entry, sessionId: session.id, session, sounds }
  await withSharedLock(() => withStorageErrors(() => versionsDb.setItem(keyOf(session.id, entry.id), record)))
  return entry
}

/** The kept versions of a session, the newest first. */
export async function listVersions(sessionId: string): Promise<VersionEntry[]> {
  const versions: VersionEntry[] = []
  await withStorageErrors(() =>
    eachRecord<VersionRecord>(versionsDb, ({ id, name, at, sessionId: of }) => {
      if (of === sessionId) versions.push({ id, name, at })
    }),
  )
  return versions.sort((a, b) => b.at - a.at)
}

/** The session of a kept version, checked like a file. Throws `SessionError`, and `Error` where it is gone. */
export async function loadVersion(sessionId: string, id: string): Promise<Session> {
  const record = await withStorageErrors(() => versionsDb.getItem<VersionRecord>(keyOf(sessionId, id)))
  if (!record) throw new Error('This version is no longer stored in this browser.')
  const { openSession } = await import('../../core/model/check/open')
  return openSession(record.session)
}

/** Removes a kept version. Sound that nothing else needs goes with the next clean-up. */
export const removeVersion = (sessionId: string, id: string): Promise<void> =>
  withStorageErrors(() => versionsDb.removeItem(keyOf(sessionId, id)))
