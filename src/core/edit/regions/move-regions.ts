import { clamp } from '../../units/clamp'
import { regionEnd } from '../../model/queries'
import { LIMITS, type Region, type Session } from '../../model/session'
import { defineEdit, groupRegions, mapRegions, regionWords } from '../shared/edit'
import { coversLocked, resolveOverlaps, withFadesLeft, withoutUnusedThreads } from './resolve-overlaps'
import { edgeRoom, fadesFitted, moveEnd, moveStart } from '../shared/span'

/** The regions of ids that exist and are not locked. */
export const movable = (session: Session, regionIds: readonly string[]): Region[] =>
  regionIds.flatMap((id) => session.regions[id] ?? []).filter((r) => !r.locked)

/** The session settled with the given regions on top; the one before when they would cover a locked region. */
export const put = (before: Session, after: Session, ids: readonly string[]): Session =>
  coversLocked(after, ids) ? before : withoutUnusedThreads(resolveOverlaps(after, ids))

export const limited = (by: number, low: number, high: number) => Math.round(clamp(by, low, high))

/** How far regions can be moved together: in frames, and in tracks. */
export const moveRoom = (session: Session, regionIds: readonly string[]) =>
  roomAround(movable(session, regionIds))

/** How far regions can lie from where they are, together, in frames. */
export function roomAround(regions: readonly Region[]): { left: number; right: number } {
  if (regions.length === 0) return { left: 0, right: 0 }
  let [first, last] = [Infinity, 0]
  for (const r of regions) [first, last] = [Math.min(first, r.start), Math.max(last, regionEnd(r))]
  return { left: -first, right: LIMITS.frames - last }
}

/** Whether all regions find a track so many tracks further down. */
export const fitsTracks = (session: Session, regionIds: readonly string[], byTracks: number): boolean =>
  movable(session, regionIds).every(
    (region) => session.trackIds[session.trackIds.indexOf(region.trackId) + byTracks] !== undefined,
  )

/**
 * Moves regions in time (frames) and down by tracks; they keep their distances and stop at the start of the
 * session. What they come to lie on gets a crossfade at the ends and is covered otherwise. A move beyond the first or
 * the last track stays on its tracks. A mono region on a stereo track sounds on both sides, a stereo one on a mono track
 * is the mean of its sides. Locked regions stay.
 */
export const moveRegions = defineEdit<{ regionIds: readonly string[]; byFrames: number; byTracks: number }>({
  name: 'moveRegions',
  together: groupRegions,
  label: (session, { regionIds }) => `Move ${regionWords(session, regionIds)}`,
  apply(session, { regionIds, byFrames, byTracks }) {
    const regions = movable(session, regionIds)
    const room = moveRoom(session, regionIds)
    const by = limited(byFrames, room.left, room.right)
    const tracks = byTracks !== 0 && fitsTracks(session, regionIds, byTracks) ? byTracks : 0
    if (regions.length === 0 || (by === 0 && tracks === 0)) return session
    const ids = regions.map((r) => r.id)
    const moved = mapRegions(session, ids, (r) => ({
      ...r,
      start: r.start + by,
      trackId: session.trackIds[session.trackIds.indexOf(r.trackId) + tracks]!,
    }))
    return withFadesLeft(session, put(session, moved, ids))
  },
})

/**
 * Moves the start or the end of regions by so many frames; hidden sound comes out, none is lost. They stop
 * together at the first limit.
 */
export const trimRegions = defineEdit<{
  regionIds: readonly string[]
  edge: 'start' | 'end'
  byFrames: number
}>({
  name: 'trimRegions',
  together: groupRegions,
  label: (session, { regionIds, edge }) => `Trim ${edge} of ${regionWords(session, regionIds)}`,
  apply(session, { regionIds, edge, byFrames }) {
    const regions = movable(session, regionIds)
    let [low, high] = [-Infinity, Infinity]
    for (const region of regions) {
      const room = edgeRoom(region, session.sources[region.sourceId]!)
      ;[low, high] = [
        Math.max(low, edge === 'start' ? room.startLeft : room.endLeft),
        Math.min(high, edge === 'start' ? room.startRight : room.endRight),
      ]
    }
    const by = limited(byFrames, low, high)
    if (regions.length === 0 || by === 0) return session
    const ids = regions.map((r) => r.id)
    return put(
      session,
      mapRegions(session, ids, (r) => fadesFitted(edge === 'start' ? moveStart(r, by) : moveEnd(r, by))),
      ids,
    )
  },
})

/**
 * Moves only the sound inside regions by so many frames (positive: later); their edges stay. They stop
 * together where the sound ends.
 */
export const slipRegions = defineEdit<{ regionIds: readonly string[]; byFrames: number }>({
  name: 'slipRegions',
  together: groupRegions,
  label: (session, { regionIds }) => `Move the sound inside ${regionWords(session, regionIds)}`,
  apply(session, { regionIds, byFrames }) {
    const regions = movable(session, regionIds)
    let [low, high] = [-Infinity, Infinity]
    for (const r of regions) {
      const after = session.sources[r.sourceId]!.frames - r.offset - r.length
      const [later, earlier] = r.reversed ? [after, r.offset] : [r.offset, after]
      ;[low, high] = [Math.max(low, -earlier), Math.min(high, later)]
    }
    const by = limited(byFrames, low, high)
    if (regions.length === 0 || by === 0) return session
    return mapRegions(
      session,
      regions.map((r) => r.id),
      (r) => ({ ...r, offset: r.offset + (r.reversed ? by : -by) }),
    )
  },
})

/** Trims the ends of regions so that all are so many frames long, or as long as there is sound. */
export const setLengths = defineEdit<{ regionIds: readonly string[]; frames: number }>({
  name: 'setLengths',
  together: groupRegions,
  label: (session, { regionIds }) => `Length of ${regionWords(session, regionIds)}`,
  apply: (session, { regionIds, frames }) =>
    regionIds.reduce((next, id) => {
      const region = next.regions[id]
      return region
        ? trimRegions.apply(next, { regionIds: [id], edge: 'end', byFrames: frames - region.length })
        : next
    }, session),
})
