import type { Session } from '../../core/model/session'
import { openDatabase } from './database'

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
  /** The token of the page that may write; undefined while no page holds the session. */
  writer?: string | undefined
}

/** The last copy of a session that was saved outside of the browser. */
export interface CopyRecord {
  /** When it was saved, in milliseconds since 1970. */
  at: number
}

/** A state of a session that was kept under a name. */
export interface VersionRecord {
  id: string
  sessionId: string
  name: string
  /** When it was kept, in milliseconds since 1970. */
  at: number
  session: Session
  /** Hashes of its sounds. */
  sounds: string[]
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

const nameOf = (kind: string) => `oaken-thread-${kind}`

/** One database for each kind of record, since page and workers open them at the same time. */
const database = (kind: string) => openDatabase(nameOf(kind))

/** The database of chunks, for counting them. */
export const CHUNKS_NAME = nameOf('chunks')

/** Under this key each database keeps its epoch (see epochs.ts); it is no record. */
export const EPOCH_KEY = '#epoch'

type Database = Pick<LocalForage, 'iterate' | 'keys'>

/** Calls `visit` with every record of a database. */
export const eachRecord = <T>(db: Database, visit: (record: T, key: string) => void): Promise<void> =>
  db.iterate<T, void>((record, key) => {
    if (key !== EPOCH_KEY) visit(record, key)
  })

/** The keys of all records of a database. */
export const recordKeys = async (db: Database): Promise<string[]> =>
  (await db.keys()).filter((key) => key !== EPOCH_KEY)

export const sessionsDb = database('sessions')
export const headsDb = database('heads')
export const stepsDb = database('steps')
export const audioDb = database('audio')
export const chunksDb = database('chunks')
export const peaksDb = database('peaks')
export const copiesDb = database('copies')
export const versionsDb = database('versions')
/** Presets, each as its file, by kind and name. */
export const presetsDb = database('presets')
/** Holds nothing for longer than a moment (see fresh-log.ts). */
export const scratchDb = database('scratch')

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
  // A disk that is full aborts transactions without saying why.
  if (name === 'QuotaExceededError' || /quota|disk full|no.space|transaction was aborted/i.test(text))
    return new StorageError(
      'full',
      'The browser’s storage is full. Delete sessions that you no longer need, or free disk space, and try again.',
    )
  if (/backing store/i.test(text))
    return new StorageError(
      'full',
      'The browser cannot open its storage, which happens when the disk is full. Free disk space; what is not saved is tried again.',
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

const FAILURES = 'oaken-thread/storage-failures'

/** Tells all tabs and workers that storage has failed, since what is stored may have been damaged by it. */
function tellFailure(): void {
  if (!('BroadcastChannel' in globalThis)) return
  const channel = new BroadcastChannel(FAILURES)
  channel.postMessage(null)
  channel.close()
}

/** Calls back whenever storage fails, here or in another tab or worker. */
export function onStorageFailure(listener: () => void): void {
  if ('BroadcastChannel' in globalThis) new BroadcastChannel(FAILURES).onmessage = listener
}

/** Runs a storage operation and converts its failures to `StorageError`. */
export async function withStorageErrors<T>(operation: () => Promise<T>): Promise<T> {
  try {
    return await operation()
  } catch (error) {
    const failure = storageFailure(error)
    if (failure !== error || error instanceof DOMException) tellFailure()
    throw failure
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

/**
 * A sentence for when more bytes are to be stored than the browser allows by its own estimate; null when they
 * fit or it does not tell. The estimate is often far from the truth, so it only warns: what counts is whether a
 * write fails.
 */
export async function allowanceWarning(bytes: number): Promise<string | null> {
  const { quota, usage } = (await navigator.storage?.estimate?.().catch(() => null)) ?? {}
  if (quota === undefined || usage === undefined || bytes <= quota - usage) return null
  return (
    `This may need ${megabytes(bytes)} of storage, and the browser’s allowance has about ` +
    `${megabytes(Math.max(0, quota - usage))} left. It goes on, and says so if it does not fit.`
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
