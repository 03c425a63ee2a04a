import { insertKindOf } from './inserts/insert-kinds'
import { insertLaneKey } from './parameters'
import { TO_MIX, type Insert, type Session } from './session'
import { canFeed, feedKey, feedsOf, insertsOf, rowIds, rowOf, type Feed, type Strip } from './strips'

/** A strip that steers an insert of another by its sound after its own inserts. */
export interface KeyFeed {
  from: string
  /** The strip that the insert is of: a track, a bus, or the mix. */
  to: string
  insertId: string
}

/** Whether an insert is heard anywhere: not bypassed, or only where a lane says so. */
const acts = (strip: Strip, { id, bypassed }: Insert) =>
  !bypassed || strip.lanes[insertLaneKey(id, 'bypassed')] !== undefined

function keysOf(strip: Strip, to: string): KeyFeed[] {
  return insertsOf(strip).flatMap((insert) =>
    insert.key && acts(strip, insert) ? [{ from: insert.key, to, insertId: insert.id }] : [],
  )
}

/**
 * The keys that are heard by what sounds, and the feeds that sound besides `sounding` for them. A key is heard whether its
 * strip is muted or not, soloed or not; a bus that is not heard otherwise steers by all that feeds it and is not muted.
 */
export function hearKeys(
  session: Session,
  sounding: ReadonlySet<string>,
): { keys: KeyFeed[]; feeds: ReadonlySet<string> } {
  const rows = rowIds(session)
  const ofRows = new Map(rows.map((id) => [id, keysOf(rowOf(session, id)!, id)]))
  const keys = keysOf(session.mix, TO_MIX)
  if (keys.length === 0 && [...ofRows.values()].every((list) => list.length === 0))
    return { keys, feeds: sounding }
  const feeds = new Set(sounding)
  const all = feedsOf(session)
  const isHeard = (id: string) => all.some((feed) => feed.from === id && sounding.has(feedKey(feed)))
  const isOpen = ({ from, sendId }: Feed) => {
    const row = rowOf(session, from)!
    return !row.muted && !row.sends.find((send) => send.id === sendId)?.muted
  }
  // Strips that have to be rendered; of those for keys alone, what feeds them, too.
  const needed = new Map<string, 'heard' | 'key'>(rows.filter(isHeard).map((id) => [id, 'heard']))
  for (const { from } of keys) if (!needed.has(from)) needed.set(from, 'key')
  for (const [id, why] of needed) {
    const own = ofRows.get(id)
    if (!own) continue
    keys.push(...own)
    for (const { from } of own) if (!needed.has(from)) needed.set(from, 'key')
    if (why === 'heard') continue
    for (const feed of all)
      if (feed.to === id && isOpen(feed)) {
        feeds.add(feedKey(feed))
        if (!needed.has(feed.from)) needed.set(feed.from, 'key')
      }
  }
  return { keys, feeds }
}

/** The strips that an insert of a strip, with null of the mix, may listen to: those that would form no circle. */
export const keysFor = (session: Session, id: string | null): string[] =>
  rowIds(session).filter((from) => id === null || canFeed(session, from, id))

/** Whether an insert can be steered by a strip there, with null by none. */
export function canTakeKey(session: Session, id: string | null, insert: Insert, key: string | null): boolean {
  if (key === null) return true
  return insertKindOf(insert.kind).takesKey === true && keysFor(session, id).includes(key)
}

/** A strip whose inserts listen to none of the strips that are gone; the same one where they did not. */
function deafTo<S extends Strip>(strip: S, gone: (id: string) => boolean): S {
  const hears = (insert: Insert) => Boolean(insert.key && gone(insert.key))
  if (!insertsOf(strip).some(hears)) return strip
  const free = (list: readonly Insert[]) =>
    list.map((insert) => (hears(insert) ? { ...insert, key: null } : insert))
  return {
    ...strip,
    inserts: free(strip.inserts),
    ...('lastInserts' in strip ? { lastInserts: free(strip.lastInserts ?? []) } : {}),
  }
}

function deafRows<S extends Strip>(
  rows: Readonly<Record<string, S>>,
  gone: (id: string) => boolean,
): Record<string, S> {
  const changed = Object.entries(rows).flatMap(([id, row]) => {
    const deaf = deafTo(row, gone)
    return deaf === row ? [] : [[id, deaf] as const]
  })
  return changed.length ? { ...rows, ...Object.fromEntries(changed) } : rows
}

/** A session in which no insert listens to strips that are gone, or about to go. What did not keeps its identity. */
export const withoutKeys = (session: Session, gone: (id: string) => boolean): Session => ({
  ...session,
  tracks: deafRows(session.tracks, gone),
  buses: deafRows(session.buses, gone),
  mix: deafTo(session.mix, gone),
})
