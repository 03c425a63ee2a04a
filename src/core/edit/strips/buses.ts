import { clamp } from '../../units/clamp'
import { createBus } from '../../model/create'
import { withoutKeys } from '../../model/sidechain'
import { sendLaneKey } from '../../model/parameters'
import { LIMITS, TO_MIX, type Bus, type Session } from '../../model/session'
import { canFeed, rowIds, rowOf, type Row } from '../../model/strips'
import { counted, defineEdit } from '../shared/edit'
import { withTrack } from '../shared/with-strip'
import { freshId } from '../shared/span'

const nameOf = (session: Session, id: string) =>
  id === TO_MIX ? 'the mix' : `“${rowOf(session, id)?.name ?? ''}”`

const rowsInWords = (session: Session, ids: readonly string[]) =>
  ids.length === 1 ? nameOf(session, ids[0]!) : counted(ids.length, 'strip')

/** An id that neither a track nor a bus has. */
const freshRowId = (session: Session, wish: string) => freshId({ ...session.tracks, ...session.buses }, wish)

/** Adds a bus to the mix; strips named in `feeders` go through it from then on. */
export const addBus = defineEdit<{ name: string; feeders: readonly string[] }>({
  name: 'addBus',
  label: (session, { name, feeders }) =>
    `Add the bus “${name}”${feeders.length ? ` for ${rowsInWords(session, feeders)}` : ''}`,
  apply(session, { name, feeders }) {
    if (session.busIds.length >= LIMITS.buses) return session
    const id = freshRowId(session, 'bus')
    const bus = createBus(
      id,
      name.slice(0, LIMITS.nameLength),
      session.trackIds.length + session.busIds.length,
    )
    const added: Session = {
      ...session,
      buses: { ...session.buses, [id]: bus },
      busIds: [...session.busIds, id],
    }
    return setOutput.apply(added, { ids: feeders, output: id })
  },
})

/** Where strips go: to the mix, or through a bus. What would form a circle stays where it is. */
export const setOutput = defineEdit<{ ids: readonly string[]; output: string }>({
  name: 'setOutput',
  label: (session, { ids, output }) => `Output of ${rowsInWords(session, ids)} → ${nameOf(session, output)}`,
  apply: (session, { ids, output }) =>
    ids.reduce((next, id) => {
      const row = rowOf(next, id)
      const there = output === TO_MIX || next.buses[output] !== undefined
      return row && there && row.output !== output && canFeed(next, id, output)
        ? withTrack(next, id, { output })
        : next
    }, session),
})

/** A row that neither goes to nor sends to buses that are gone: it goes where its bus went. */
function withoutBuses(row: Row, gone: ReadonlySet<string>, buses: Session['buses']): Row {
  let { output } = row
  while (gone.has(output)) output = buses[output]!.output
  const sends = row.sends.filter((send) => !gone.has(send.to))
  if (output === row.output && sends.length === row.sends.length) return row
  const dropped = new Set(row.sends.filter((send) => gone.has(send.to)).map((send) => sendLaneKey(send.id)))
  const lanes = Object.fromEntries(Object.entries(row.lanes).filter(([key]) => !dropped.has(key)))
  return { ...row, output, sends, lanes }
}

const mapRecord = <T>(record: Readonly<Record<string, T>>, change: (value: T) => T): Record<string, T> =>
  Object.fromEntries(Object.entries(record).map(([id, value]) => [id, change(value)]))

/** Removes buses. What went through them goes where they went; sends to them are gone. */
export const removeBuses = defineEdit<{ busIds: readonly string[] }>({
  name: 'removeBuses',
  label: (session, { busIds }) =>
    `Remove ${busIds.length === 1 ? `the bus ${nameOf(session, busIds[0]!)}` : `${busIds.length} buses`}`,
  apply(whole, { busIds }) {
    const gone = new Set(busIds.filter((id) => whole.buses[id]))
    if (gone.size === 0) return whole
    const session = withoutKeys(whole, (id) => gone.has(id))
    const buses = mapRecord(session.buses, (bus) => withoutBuses(bus, gone, session.buses) as Bus)
    return {
      ...session,
      tracks: mapRecord(session.tracks, (track) => withoutBuses(track, gone, session.buses)),
      buses: Object.fromEntries(Object.entries(buses).filter(([id]) => !gone.has(id))),
      busIds: session.busIds.filter((id) => !gone.has(id)),
    }
  },
})

/** Moves a bus up or down past so many others; it stops at the first and the last. */
export const moveBus = defineEdit<{ busId: string; byRows: number }>({
  name: 'moveBus',
  label: (session, { busId, byRows }) => `Move ${nameOf(session, busId)} ${byRows < 0 ? 'up' : 'down'}`,
  apply(session, { busId, byRows }) {
    const from = session.busIds.indexOf(busId)
    if (from < 0) return session
    const rest = session.busIds.filter((id) => id !== busId)
    const to = clamp(from + byRows, 0, rest.length)
    return to === from ? session : { ...session, busIds: [...rest.slice(0, to), busId, ...rest.slice(to)] }
  },
})

/** The buses that strips may feed: those that would not form a circle. */
export const busesFor = (session: Session, ids: readonly string[]): string[] =>
  session.busIds.filter((busId) =>
    ids.every((id) => rowIds(session).includes(id) && canFeed(session, id, busId)),
  )
