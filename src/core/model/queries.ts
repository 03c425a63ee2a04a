import type { Region, Session } from './session'

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

/** Whether a track sounds: not muted, and soloed while anything is soloed. */
export function isAudible(session: Session, trackId: string): boolean {
  const track = session.tracks[trackId]!
  return !track.muted && (track.soloed || !Object.values(session.tracks).some((t) => t.soloed))
}
