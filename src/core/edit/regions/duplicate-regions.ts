import { least, most } from '../../units/extremes'
import { regionEnd, regionsByTrack } from '../../model/queries'
import { LIMITS, type Region, type Session } from '../../model/session'
import { defineEdit, groupRegions, regionWords } from '../shared/edit'
import { limited, moveRegions, put, roomAround } from './move-regions'
import { freshId } from '../shared/span'
import { splitRegions } from './split-join'

/**
 * How many frames behind the originals their copies begin, `times` of them one after the other, each `span` long: at
 * least `span`, and on until they meet no region of their tracks.
 */
export function freePlace(
  session: Session,
  originals: readonly Region[],
  span: number,
  times: number,
): number {
  const tracks = regionsByTrack(session.regions)
  let by = span
  for (let moved = true; moved;) {
    moved = false
    for (let n = 0; n < times; n++)
      for (const original of originals) {
        const start = original.start + by + span * n
        const met = lastBefore(tracks.get(original.trackId)!, start + original.length)
        if (!met || regionEnd(met) <= start) continue
        by += regionEnd(met) - start
        moved = true
      }
  }
  return by
}

/** The last region of a track that begins before a frame. */
function lastBefore(regions: readonly Region[], frame: number): Region | undefined {
  let [low, high] = [0, regions.length]
  while (low < high) {
    const middle = (low + high) >>> 1
    if (regions[middle]!.start < frame) low = middle + 1
    else high = middle
  }
  return regions[low - 1]
}

/** The session with so many frames of room at a place on the tracks of some regions: what comes later there moves on. */
function withRoom(session: Session, originals: readonly Region[], at: number, frames: number): Session {
  const own = new Set(originals.map((r) => r.id))
  const trackIds = new Set(originals.map((r) => r.trackId))
  const there = Object.values(session.regions).filter((r) => trackIds.has(r.trackId) && !own.has(r.id))
  const last = new Map<string, number>()
  for (const r of originals) last.set(r.trackId, Math.max(last.get(r.trackId) ?? 0, r.start))
  // A region that begins beside the last original is joined to it by a crossfade and goes as a whole.
  const isLater = (r: Region) => r.start >= at || r.start > last.get(r.trackId)!
  const later = there.filter(isLater).map((r) => r.id)
  const under = there.filter((r) => !isLater(r) && regionEnd(r) > at).map((r) => r.id)
  const split = splitRegions.apply(session, { regionIds: under, frames: [at] })
  const pieces = Object.values(split.regions).filter(
    (r) => !session.regions[r.id] && trackIds.has(r.trackId) && r.start >= at,
  )
  return moveRegions.apply(split, {
    regionIds: [...later, ...pieces.map((r) => r.id)],
    byFrames: frames,
    byTracks: 0,
  })
}

/**
 * Puts copies of regions behind them, `times` times, each as far behind the last as the regions reach
 * together. Linked copies share the gain thread (one is made where there is none); others get a thread of
 * their own. They go to the next place that is free on all of their tracks, so that they cover nothing and make no
 * crossfade.
 */
export const duplicateRegions = defineEdit<{
  regionIds: readonly string[]
  times: number
  linked: boolean
  /** Puts them right behind the originals all the same; what comes later on their tracks moves on. */
  insert?: boolean
}>({
  name: 'duplicateRegions',
  together: groupRegions,
  label: (session, { regionIds, times, linked }) =>
    `${times > 1 ? 'Repeat' : 'Duplicate'} ` +
    `${regionWords(session, regionIds)}${times > 1 ? ` ${times} times` : ''}${linked ? ', linked' : ''}`,
  apply(given, { regionIds, times, linked, insert = false }) {
    const originals = regionIds.flatMap((id) => given.regions[id] ?? [])
    if (originals.length === 0 || times < 1) return given
    if (!Number.isInteger(times) || times > 1000)
      throw new RangeError(`${times} copies are not between 1 and 1000`)
    const from = least(originals, (r) => r.start)
    const span = most(originals, regionEnd) - from
    const session = insert ? withRoom(given, originals, from + span, span * times) : given
    const shift = insert ? 0 : freePlace(session, originals, span, times) - span
    const regions = { ...session.regions }
    const gainThreads = { ...session.gainThreads }
    const made: string[] = []
    for (const original of originals) {
      if (linked && original.gainThreadId === null) {
        const id = freshId(gainThreads, `thread-${original.id}`)
        gainThreads[id] = { id, knots: [] }
        regions[original.id] = { ...original, gainThreadId: id }
      }
    }
    for (let n = 1; n <= times; n++)
      for (const { id: originalId } of originals) {
        const original = regions[originalId]!
        const start = original.start + shift + span * n
        if (start + original.length <= LIMITS.frames)
          made.push(addCopy(regions, gainThreads, original, { start }, linked))
      }
    return put(session, { ...session, regions, gainThreads }, made)
  },
})

/** Adds a copy of a region to those of a session, with a gain thread of its own unless it is linked; returns its id. */
function addCopy(
  regions: Record<string, Region>,
  gainThreads: Record<string, Session['gainThreads'][string]>,
  original: Region,
  change: Partial<Pick<Region, 'start' | 'trackId'>>,
  linked: boolean,
): string {
  const id = freshId(regions, original.id)
  let { gainThreadId } = original
  if (!linked && gainThreadId !== null) {
    const copy = freshId(gainThreads, gainThreadId)
    gainThreads[copy] = { id: copy, knots: gainThreads[gainThreadId]!.knots }
    gainThreadId = copy
  }
  const { locked: _, ...rest } = original
  regions[id] = { ...rest, id, ...change, gainThreadId }
  return id
}

/**
 * Puts a copy of each region so many frames later and so many tracks further down, as `moveRegions` would put the
 * region itself, which stays. Copies have gain threads of their own. Nothing happens where one
 * would find no track, or all would lie where they came from.
 */
export const copyRegionsBy = defineEdit<{ regionIds: readonly string[]; byFrames: number; byTracks: number }>(
  {
    name: 'copyRegionsBy',
    together: groupRegions,
    label: (session, { regionIds }) => `Copy ${regionWords(session, regionIds)}`,
    apply(session, { regionIds, byFrames, byTracks }) {
      const originals = regionIds.flatMap((id) => session.regions[id] ?? [])
      if (originals.length === 0) return session
      const { left, right } = roomAround(originals)
      const by = limited(byFrames, left, right)
      if (by === 0 && byTracks === 0) return session
      const regions = { ...session.regions }
      const gainThreads = { ...session.gainThreads }
      const made: string[] = []
      for (const original of originals) {
        const trackId = session.trackIds[session.trackIds.indexOf(original.trackId) + byTracks]
        if (trackId === undefined) return session
        made.push(addCopy(regions, gainThreads, original, { start: original.start + by, trackId }, false))
      }
      return put(session, { ...session, regions, gainThreads }, made)
    },
  },
)
