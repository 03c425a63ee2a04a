import localforage from 'localforage'
import type { Session } from '../core/model/session'

/** A session as it is kept. `steps` are the numbers of its history's steps in order, `done` of which are in effect. */
export interface SessionRecord {
  session: Session
  steps: number[]
  done: number
  changedAt: number
  /** Hashes of all sounds that the session or its history ever used, so that undo finds them. */
  sounds: string[]
  /** Set while the session is deleted but can still be brought back. */
  deletedAt?: number
  /**
   * Identifies this writing of the record; heads refer to it. Records from before heads existed have none.
   */
  savedId?: string | undefined
}

/**
 * How far a session's history has got since its record was written. It is small, so saving a step costs the
 * same however large the session is. It counts only together with the record that its `base` names.
 */
export interface SessionHead extends Pick<SessionRecord, 'steps' | 'done' | 'changedAt' | 'sounds'> {
  base: string
}

/** The last copy of a session that was saved outside of the browser. */
export interface CopyRecord {
  /** When it was saved, in milliseconds since 1970. */
  at: number
}

/** Sound in the store, by the hash of its samples; its chunks are filed under `storageId`. */
export interface AudioRecord {
  sha256: string
  storageId: string
  channels: 1 | 2
  frames: number
  /** When it was taken in, in milliseconds since 1970. */
  createdAt: number
}

/** One database for each kind of record, since page and workers open them at the same time. */
const database = (kind: string) =>
  localforage.createInstance({ name: `oaken-thread-${kind}`, driver: localforage.INDEXEDDB })

export const sessionsDb = database('sessions')
export const headsDb = database('heads')
export const stepsDb = database('steps')
export const audioDb = database('audio')
export const chunksDb = database('chunks')
export const peaksDb = database('peaks')
export const copiesDb = database('copies')

/** Storage that cannot be used or is full, with a sentence for the user. */
export class StorageError extends Error {
  override name = 'StorageError'
  constructor(
    readonly reason: 'full' | 'denied',
    message: string,
  ) {
    super(message)
  }
}

const megabytes = (bytes: number) => `${Math.max(1, Math.round(bytes / 1e6))} MB`

/** Turns what the browser throws when storage fails into a `StorageError`; other errors are returned as they are. */
export function storageFailure(error: unknown): unknown {
  const name = error instanceof Error || error instanceof DOMException ? error.name : ''
  const text = String((error as Error | undefined)?.message ?? error)
  if (name === 'QuotaExceededError' || /quota|disk full|no space/i.test(text))
    return new StorageError(
      'full',
      'The browser’s storage is full. Delete sessions that you no longer need, or free disk space, and try again.',
    )
  if (
    name === 'SecurityError' ||
    name === 'InvalidStateError' ||
    /No available storage method|access is denied|denied/i.test(text)
  )
    return new StorageError(
      'denied',
      'The browser does not let this page store anything. Allow site data for this address, or leave private browsing, and reload.',
    )
  return error
}

/** Runs a storage operation and converts its failures to `StorageError`. */
export async function withStorageErrors<T>(operation: () => Promise<T>): Promise<T> {
  try {
    return await operation()
  } catch (error) {
    throw storageFailure(error)
  }
}

/** Whether the browser has promised to keep what is stored here; null where it does not tell. */
export const isPersisted = async (): Promise<boolean | null> =>
  (await navigator.storage?.persisted?.().catch(() => null)) ?? null

/**
 * Asks the browser to keep what is stored here, once there is something to be kept. It may ask the person, or
 * refuse.
 */
export const askToPersist = async (): Promise<void> => {
  if ((await isPersisted()) === false) await navigator.storage.persist().catch(() => false)
}

/** Throws a `StorageError` when the browser says that there is no room for so many bytes more. */
export async function expectRoom(bytes: number): Promise<void> {
  const { quota, usage } = (await navigator.storage?.estimate?.()) ?? {}
  if (quota === undefined || usage === undefined) return
  const free = quota - usage
  if (bytes > free)
    throw new StorageError(
      'full',
      `needs ${megabytes(bytes)} of storage, and the browser has ` +
        `${megabytes(Math.max(0, free))} left. Delete sessions that you no longer need, ` +
        'or free disk space, and try again.',
    )
}

/**
 * Runs a write. Writes may run at the same time, but never during `withExclusiveLock`, in any tab. Without
 * browser locks it runs at once.
 */
export function withSharedLock<T>(operation: () => Promise<T>): Promise<T> {
  return navigator.locks
    ? (navigator.locks.request('oaken-thread/storage', { mode: 'shared' }, operation) as Promise<T>)
    : operation()
}

/** Runs a clean-up if nothing is being written in any tab; otherwise does nothing. */
export async function withExclusiveLock(operation: () => Promise<void>): Promise<void> {
  await navigator.locks?.request('oaken-thread/storage', { ifAvailable: true }, async (lock) => {
    if (lock) await operation()
  })
}
