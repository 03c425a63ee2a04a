import { regionEnd, regionsByTrack } from './queries'
import type { Group, Region, Session } from './session'

/** Regions of a group begin and end together when they do so within this many seconds. */
export const TOGETHER_SECONDS = 0.005

/** The group that a track is in. */
export const groupOf = (session: Session, trackId: string): Group | undefined =>
  session.groups?.find((g) => g.trackIds.includes(trackId))

/** What an edit of some regions of grouped tracks is about. */
export interface Together {
  /** The regions, and after them those of the other tracks that begin and end with them. */
  regionIds: string[]
  /** For each region of the other tracks, the one that it goes with. */
  follows: ReadonlyMap<string, string>
  /** Tracks of the group on which no region begins and ends with one of them. */
  missing: string[]
}

/** The region of a track's sorted regions that begins and ends with another one; the closest where there are two. */
function companionOf(regions: readonly Region[], region: Region, tolerance: number): Region | undefined {
  let [low, high] = [0, regions.length]
  while (low < high) {
    const middle = (low + high) >>> 1
    if (regions[middle]!.start < region.start - tolerance) low = middle + 1
    else high = middle
  }
  let best: Region | undefined
  let least = Infinity
  for (let i = low; i < regions.length && regions[i]!.start <= region.start + tolerance; i++) {
    const off =
      Math.abs(regions[i]!.start - region.start) + Math.abs(regionEnd(regions[i]!) - regionEnd(region))
    if (Math.abs(regionEnd(regions[i]!) - regionEnd(region)) > tolerance || off >= least) continue
    best = regions[i]!
    least = off
  }
  return best
}

let last: {
  regions: Session['regions']
  groups: Session['groups']
  ids: readonly string[]
  found: Together
} | null = null

/** The regions that an edit of some regions is about, with those of the groups that their tracks are in. */
export function together(session: Session, regionIds: readonly string[]): Together {
  // A drag asks for the same ones with every frame.
  if (last?.regions === session.regions && last.groups === session.groups && last.ids === regionIds)
    return last.found
  const found = findTogether(session, regionIds)
  last = { regions: session.regions, groups: session.groups, ids: regionIds, found }
  return found
}

function findTogether(session: Session, regionIds: readonly string[]): Together {
  if (!session.groups?.length) return { regionIds: [...regionIds], follows: new Map(), missing: [] }
  const groups = new Map<string, Group>()
  for (const group of session.groups) for (const trackId of group.trackIds) groups.set(trackId, group)
  const tolerance = Math.round(TOGETHER_SECONDS * session.sampleRate)
  const byTrack = regionsByTrack(session.regions)
  const own = new Set(regionIds)
  const follows = new Map<string, string>()
  const missing = new Set<string>()
  for (const id of regionIds) {
    const region = session.regions[id]
    const group = region && groups.get(region.trackId)
    if (!group) continue
    for (const trackId of group.trackIds) {
      if (trackId === region.trackId) continue
      const companion = companionOf(byTrack.get(trackId) ?? [], region, tolerance)
      if (!companion) missing.add(trackId)
      else if (!own.has(companion.id) && !follows.has(companion.id)) follows.set(companion.id, id)
    }
  }
  return { regionIds: [...regionIds, ...follows.keys()], follows, missing: [...missing] }
}
