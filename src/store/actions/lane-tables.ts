import { readLane, threadOf, threadWords, type LaneRef } from '../../core/edit'
import type { Session } from '../../core/model/session'
import { rowOf, stripOf } from '../../core/model/strips'
import { MOST_TABLE_BYTES } from '../../core/model/check/bounds'
import type { TableRead } from '../../formats/lane-table'
import { changedFile } from '../../formats/failure'
import { readTable } from '../../engine/import'
import { commit } from '../edits'
import { fileStem } from './export-actions'
import { shownSession } from '../selectors'
import type { Thunk } from '../store'

/** The table of a lane, and a name for its file; null for a lane that is not there. */
export const tableOfLane =
  (lane: LaneRef): Thunk<Promise<{ name: string; text: string } | null>> =>
  async (_dispatch, getState) => {
    const session = shownSession(getState())
    const thread = session && threadOf(session, lane)
    if (!session || !thread) return null
    const { laneTable } = await import('../../formats/lane-table')
    const name = fileStem(`${session.title} - ${threadWords(session, lane)}`, 'lane')
    return { name: `${name}.csv`, text: laneTable(thread.knots, thread.kind, session.sampleRate) }
  }

const giveWayOf = (session: Session, { trackId, lane }: LaneRef) =>
  stripOf(session, trackId)?.lanes[lane]?.giveWay

/** Reads a table into a lane, as one step; resolves to what is to be said: what is wrong with it, or what went; null for nothing. */
export const readTableInto =
  (lane: LaneRef, file: Blob): Thunk<Promise<string | null>> =>
  async (dispatch, getState) => {
    if (file.size > MOST_TABLE_BYTES) return 'This is larger than a table of automation can be.'
    const before = shownSession(getState())
    let read: TableRead | null
    try {
      read = before && (await readTable(before, lane, file))
    } catch (error) {
      const changed = changedFile(error)
      return `Nothing was read. ${changed === null ? (error as Error).message : `The file ${changed}`}`
    }
    const session = shownSession(getState())
    if (!read || !session || !threadOf(session, lane)) return 'The lane is not there any more.'
    if (!read.ok) return `Nothing was read. ${read.message}`
    const others = giveWayOf(session, lane)?.others ?? []
    dispatch(commit(readLane, { lane, knots: read.knots }))
    if (others.length === 0) return null
    const names = others.map((id) => `“${rowOf(session, id)?.name ?? id}”`).join(', ')
    return `The table was read. The lane no longer follows ${names}: it gave way to ${others.length === 1 ? 'that track' : 'those tracks'} by what the table replaced. Undo brings it back.`
  }
