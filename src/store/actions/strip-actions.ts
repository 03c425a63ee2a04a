import {
  addBus,
  addInsert,
  addSend,
  bypassInsert,
  copyInserts,
  moveInsert,
  removeBuses,
  removeInsert,
  removeSend,
  setInsertKey,
  setInsertValue,
  setInsertValues,
  setOutput,
  setSend,
  type Chain,
} from '../../core/edit'
import type { InsertKindName } from '../../core/model/inserts/insert-kinds'
import type { InsertValue } from '../../core/model/inserts/insert-values'
import { lastInsertsOf, stripOf } from '../../core/model/strips'
import type { Send, Session } from '../../core/model/session'
import { commit, preview } from '../edits'
import { headsWith } from './heads'
import type { Thunk } from '../store'
import { pathTrack } from '../selectors'
import { headPicked, insertPicked, selected } from '../view'

/** A name that no bus has yet: "Bus 2". */
function freeBusName({ buses, busIds }: Session): string {
  const names = new Set(Object.values(buses).map((b) => b.name))
  for (let n = busIds.length + 1; ; n++) if (!names.has(`Bus ${n}`)) return `Bus ${n}`
}

/** Adds a bus, which `feeders` go through from then on; returns its id, or null where there are too many. */
const makeBus =
  (feeders: readonly string[]): Thunk<string | null> =>
  (dispatch, getState) => {
    const { session } = getState().session
    if (!session || !dispatch(commit(addBus, { name: freeBusName(session), feeders }))) return null
    return getState().session.session!.busIds.at(-1)!
  }

/** Adds a bus that leads; strips named in `feeders` go through it. */
export const addBusFor =
  (feeders: readonly string[] = []): Thunk =>
  (dispatch) => {
    const trackId = dispatch(makeBus(feeders))
    if (trackId !== null) dispatch(headPicked({ trackId }))
  }

/** Removes buses; what went through them goes where they went. */
export const dropBuses =
  (busIds: readonly string[]): Thunk<boolean> =>
  (dispatch, getState) => {
    if (!dispatch(commit(removeBuses, { busIds }))) return false
    const { trackIds } = getState().session.session!
    dispatch(selected({ regionIds: [], trackId: trackIds[0] ?? null }))
    return true
  }

/** Where strips go; null is through a new bus. */
export const leadTo =
  (ids: readonly string[], output: string | null): Thunk =>
  (dispatch) => {
    if (output === null) dispatch(makeBus(ids))
    else dispatch(commit(setOutput, { ids, output }))
  }

/** Adds a send to a bus; null is to a new one. */
export const sendTo =
  (id: string, to: string | null): Thunk =>
  (dispatch) => {
    const bus = to ?? dispatch(makeBus([]))
    if (bus !== null) dispatch(commit(addSend, { ids: [id], to: bus }))
  }

export const changeSend = (
  id: string,
  sendId: string,
  change: Partial<Pick<Send, 'muted' | 'point' | 'to'>>,
): Thunk<boolean> => commit(setSend, { id, sendId, change })

export const dropSend = (id: string, sendId: string): Thunk<boolean> => commit(removeSend, { id, sendId })

/**
 * Adds an insert to the end of a chain, and of those of all selected heads; it is picked from then on, in the Path of the strip, or for the
 * mix of the track shown.
 */
export const putInsert =
  (id: string | null, chain: Chain, kind: InsertKindName): Thunk<boolean> =>
  (dispatch, getState) => {
    if (!dispatch(commit(addInsert, { ids: headsWith(getState(), id), chain, kind }))) return false
    const state = getState()
    const strip = stripOf(state.session.session!, id)!
    const added = (chain === 'inserts' ? strip.inserts : lastInsertsOf(strip)).at(-1)!
    const trackId = id ?? pathTrack(state)?.id
    if (trackId !== undefined) dispatch(insertPicked({ trackId, stripId: id, insertId: added.id }))
    return true
  }
export const dropInsert = (id: string | null, insertId: string): Thunk<boolean> =>
  commit(removeInsert, { id, insertId })
/** Copies inserts to strips, null being the mix; to their own strip they are duplicated. */
export const copyInsertsTo = (
  id: string | null,
  insertIds: readonly string[],
  to: readonly (string | null)[],
): Thunk<boolean> => commit(copyInserts, { id, insertIds, to })
export const shiftInsert = (id: string | null, insertId: string, by: number): Thunk<boolean> =>
  commit(moveInsert, { id, insertId, by })
export const letInsertAct = (id: string | null, insertId: string, acts: boolean): Thunk<boolean> =>
  commit(bypassInsert, { id, insertId, bypassed: !acts })
/** Lets another strip steer an insert; null lets it hear itself again. */
export const giveInsertKey = (id: string | null, insertId: string, key: string | null): Thunk<boolean> =>
  commit(setInsertKey, { id, insertId, key })
/** Sets several values of an insert as one step, or while a hand moves them only shows what it would be. */
export const giveInsertValues =
  (
    args: {
      id: string | null
      insertId: string
      values: Readonly<Record<string, InsertValue>>
      what: string
    },
    moving = false,
  ): Thunk =>
  (dispatch) =>
    void dispatch(moving ? preview(setInsertValues, args) : commit(setInsertValues, args))
export const giveInsertValue = (
  id: string | null,
  insertId: string,
  key: string,
  value: InsertValue,
): Thunk<boolean> => commit(setInsertValue, { id, insertId, key, value })
