import type { Region, Session } from './session'
import { feedKey, rowOf, soundingFeeds } from './strips'

/** First frame after a region. */
export const regionEnd = (region: Region) => region.start + region.length

const byStart = (a: Region, b: Region) => a.start - b.start || (a.id < b.id ? -1 : 1)

const cache = new WeakMap<Session['regions'], Map<string, Region[]>>()

/** The regions of every track, sorted by start; one map per value of `regions`, so asking again costs nothing. */
export function regionsByTrack(regions: Session['regions']): Map<string, Region[]> {
  const known = cache.get(regions)
  if (known) return known
  const map = new Map<string, Region[]>()
  for (const id in regions) {
    const region = regions[id]!
    const list = map.get(region.trackId)
    if (list) list.push(region)
    else map.set(region.trackId, [region])
  }
  for (const list of map.values()) list.sort(byStart)
  cache.set(regions, map)
  return map
}

const none: Region[] = []

/** The regions of one track, sorted by start. */
export function regionsOf(session: Session, trackId: string): Region[] {
  return regionsByTrack(session.regions).get(trackId) ?? none
}

const lengths = new WeakMap<Session['regions'], number>()

/** Length of the session in frames: the end of its last region, 0 when it has none. */
export function sessionLength({ regions }: Session): number {
  let end = lengths.get(regions)
  if (end !== undefined) return end
  end = 0
  for (const id in regions) end = Math.max(end, regionEnd(regions[id]!))
  lengths.set(regions, end)
  return end
}

/** Whether a track or a bus sounds: not muted, and on a way that is soloed while anything is. */
export function isAudible(session: Session, id: string): boolean {
  const row = rowOf(session, id)!
  if (row.muted) return false
  const feeds = feedsThatSound(session)
  return (
    feeds.has(feedKey({ from: id, sendId: null })) ||
    row.sends.some((send) => feeds.has(feedKey({ from: id, sendId: send.id })))
  )
}

const sounding = new WeakMap<Session, ReadonlySet<string>>()

/** `soundingFeeds`, kept for as long as the session stays as it is. */
function feedsThatSound(session: Session): ReadonlySet<string> {
  const known = sounding.get(session) ?? soundingFeeds(session)
  sounding.set(session, known)
  return known
}
