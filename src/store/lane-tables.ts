import { readLane, threadOf, threadWords, type LaneRef } from '../core/edit'
import { laneTable, MOST_TABLE_BYTES, readLaneTable } from '../formats/lane-table'
import { commit } from './edits'
import { fileStem } from './export-actions'
import { shownSession } from './selectors'
import type { Thunk } from './store'

/** The table of a lane, and a name for its file; null for a lane that is not there. */
export const tableOfLane =
  (lane: LaneRef): Thunk<{ name: string; text: string } | null> =>
  (_dispatch, getState) => {
    const session = shownSession(getState())
    const thread = session && threadOf(session, lane)
    if (!session || !thread) return null
    const name = fileStem(`${session.title} - ${threadWords(session, lane)}`, 'lane')
    return { name: `${name}.csv`, text: laneTable(thread.knots, thread.kind, session.sampleRate) }
  }

/** Reads a table into a lane, as one step; resolves to what is wrong with it, or to null. */
export const readTableInto =
  (lane: LaneRef, file: Blob): Thunk<Promise<string | null>> =>
  async (dispatch, getState) => {
    if (file.size > MOST_TABLE_BYTES) return 'This is larger than a table of automation can be.'
    const text = await file.text()
    const session = shownSession(getState())
    const thread = session && threadOf(session, lane)
    if (!session || !thread) return 'The lane is not there any more.'
    const read = readLaneTable(text, thread.kind, session.sampleRate)
    if (!read.ok) return `Nothing was read. ${read.message}`
    dispatch(commit(readLane, { lane, knots: read.knots }))
    return null
  }
