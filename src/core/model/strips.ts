import { TO_MIX, type Bus, type Insert, type Mix, type Session, type Track } from './session'

/** What has parameters with lanes: a track, a bus, or the mix. */
export type Strip = Track | Bus | Mix

/** A strip that is a row of the timeline: a track, or a bus, which has no regions. */
export type Row = Track | Bus

const rowLists = new WeakMap<readonly string[], WeakMap<readonly string[], readonly string[]>>()

/** The ids of all rows: the tracks in their order, then the buses in theirs. The same list while neither order changes. */
export function rowIds({ trackIds, busIds }: Pick<Session, 'trackIds' | 'busIds'>): readonly string[] {
  if (busIds.length === 0) return trackIds
  const lists = rowLists.get(trackIds) ?? new WeakMap<readonly string[], readonly string[]>()
  rowLists.set(trackIds, lists)
  const known = lists.get(busIds)
  if (known) return known
  const list = [...trackIds, ...busIds]
  lists.set(busIds, list)
  return list
}

/** A track or a bus; undefined where there is none of that id. */
export const rowOf = (session: Session, id: string): Row | undefined =>
  session.tracks[id] ?? session.buses[id]

/** A track or a bus, or with null the mix; undefined for one that is not there. */
export const stripOf = (session: Session, id: string | null): Strip | undefined =>
  id === null ? session.mix : rowOf(session, id)

/** Whether an id is that of a bus. */
export const isBus = (session: Session, id: string): boolean => session.buses[id] !== undefined

/** The inserts after the volume and pan of a strip: only the mix has such. */
export const lastInsertsOf = (strip: Strip): readonly Insert[] =>
  'lastInserts' in strip ? (strip.lastInserts ?? NONE) : NONE

const NONE: readonly Insert[] = []

/** All inserts of a strip, in the order in which the sound passes them. */
export function insertsOf(strip: Strip): readonly Insert[] {
  const last = lastInsertsOf(strip)
  return last.length ? [...strip.inserts, ...last] : strip.inserts
}

/** One way from a strip to the next: its output, or a send by its id; `to` is a bus or the mix. */
export interface Feed {
  from: string
  to: string
  /** null for the output. */
  sendId: string | null
}

/** All feeds of a session, in the order of the strips; of a strip its output first. */
export function feedsOf(session: Session): Feed[] {
  return rowIds(session).flatMap((from) => {
    const { output, sends } = rowOf(session, from)!
    return [
      { from, to: output, sendId: null },
      ...sends.map((send): Feed => ({ from, to: send.to, sendId: send.id })),
    ]
  })
}

/** The strips that lie on the way to others: what each one feeds, or steers by a key. */
function nextOf(session: Session): Map<string, string[]> {
  const next = new Map<string, string[]>()
  const add = (from: string, to: string) => void (next.get(from)?.push(to) ?? next.set(from, [to]))
  for (const { from, to } of feedsOf(session)) add(from, to)
  for (const id of rowIds(session)) for (const { key } of rowOf(session, id)!.inserts) if (key) add(key, id)
  return next
}

/**
 * The tracks and buses in an order in which each comes after all that feed it or steer it by a key, by their place in the
 * session where that is free; or the ids of strips that form a circle, each feeding the next and the last the first.
 */
export function sortedRows(session: Session): { order: string[] } | { circle: string[] } {
  const next = nextOf(session)
  const state = new Map<string, 'open' | 'done'>()
  const finished: string[] = []
  for (const start of [...rowIds(session)].reverse()) {
    if (state.has(start)) continue
    // Depth first without recursion: a chain of buses may be long.
    const path: { id: string; at: number }[] = [{ id: start, at: 0 }]
    state.set(start, 'open')
    while (path.length) {
      const top = path.at(-1)!
      const to = next.get(top.id)?.[top.at++]
      if (to === undefined) {
        state.set(top.id, 'done')
        finished.push(top.id)
        path.pop()
      } else if (state.get(to) === 'open')
        return { circle: path.slice(path.findIndex((p) => p.id === to)).map((p) => p.id) }
      else if (!state.has(to) && to !== TO_MIX) {
        state.set(to, 'open')
        path.push({ id: to, at: 0 })
      }
    }
  }
  return { order: finished.reverse() }
}

/** Whether strip `from` could feed strip `to` without forming a circle. */
export function canFeed(session: Session, from: string, to: string): boolean {
  if (to === TO_MIX) return true
  if (from === to) return false
  const next = nextOf(session)
  const seen = new Set([to])
  for (const id of seen) for (const after of next.get(id) ?? []) seen.add(after)
  return !seen.has(from)
}

/** A word for a feed; ids may have any characters in them. */
export const feedKey = ({ from, sendId }: Pick<Feed, 'from' | 'sendId'>): string =>
  JSON.stringify([from, sendId])

/**
 * The feeds that sound, by `feedKey`. What is muted feeds nothing. While anything is soloed, that sounds what a soloed strip
 * feeds, all the way to the mix, and what feeds a soloed bus, on its way there. With `only` that is so as if just these were
 * soloed, and they are heard muted or not.
 */
export function soundingFeeds(session: Session, only?: readonly string[]): Set<string> {
  const feeds = feedsOf(session)
  const rows = rowIds(session)
  const soloed = only ?? rows.filter((id) => rowOf(session, id)!.soloed)
  const sounding = new Set<string>()
  const audible = ({ from, sendId }: Feed) => {
    const row = rowOf(session, from)!
    if (row.muted && !only?.includes(from)) return false
    return sendId === null || !row.sends.find((s) => s.id === sendId)!.muted
  }
  if (soloed.length === 0 && !only) {
    for (const feed of feeds) if (audible(feed)) sounding.add(feedKey(feed))
    return sounding
  }
  const [after, before] = [new Map<string, string[]>(), new Map<string, string[]>()]
  for (const { from, to } of feeds) {
    void (after.get(from)?.push(to) ?? after.set(from, [to]))
    void (before.get(to)?.push(from) ?? before.set(to, [from]))
  }
  const reach = (starts: readonly string[], ways: ReadonlyMap<string, string[]>) => {
    const seen = new Set(starts)
    for (const id of seen) for (const to of ways.get(id) ?? []) seen.add(to)
    return seen
  }
  const downwards = reach(soloed, after)
  const upwards = reach(
    soloed.filter((id) => session.buses[id]),
    before,
  )
  for (const feed of feeds)
    if (audible(feed) && (downwards.has(feed.from) || upwards.has(feed.to))) sounding.add(feedKey(feed))
  return sounding
}
