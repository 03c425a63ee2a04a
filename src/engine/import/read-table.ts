import type { LaneRef } from '../../core/edit'
import type { Session } from '../../core/model/session'
import type { TableRead } from '../../formats/lane-table'
import type { TableWorker } from './table.worker'
import { inWorker } from '../worker'

/** Reads a table for a lane of a session in a worker; null where the session has no such lane. */
export const readTable = (session: Session, lane: LaneRef, file: Blob): Promise<TableRead | null> =>
  inWorker<TableWorker, TableRead | null>(
    () => new Worker(new URL('./table.worker.ts', import.meta.url), { type: 'module' }),
    // What is heard does not matter there, and can be large.
    (worker) =>
      worker.read({ ...session, regions: {}, gainThreads: {}, crossfades: {}, sources: {} }, lane, file),
    () => undefined,
    new AbortController().signal,
  )
