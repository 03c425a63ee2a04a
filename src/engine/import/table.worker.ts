import { threadOf, type LaneRef } from '../../core/edit'
import type { Session } from '../../core/model/session'
import { readLaneTable, type TableRead } from '../../formats/lane-table'
import { exposeJobs } from '../worker'

/** Reads tables beside the page: one of hundreds of thousands of rows takes a while. */
export const worker = exposeJobs(() => ({
  /** The knots in a table for a lane of a session; null where the session has no such lane. */
  async read(session: Session, lane: LaneRef, file: Blob): Promise<TableRead | null> {
    const kind = threadOf(session, lane)?.kind
    return kind ? readLaneTable(await file.text(), kind, session.sampleRate) : null
  },
}))

export type TableWorker = typeof worker
