import { least, most } from '../units/extremes'
import { regionEnd, regionsByTrack, regionsOf } from '../model/queries'
import { LIMITS, type Fade, type Region, type Session } from '../model/session'
import { counted, defineEdit, groupRegions, mapRegions, regionWords } from './edit'
import { coversLocked, resolveOverlaps, withFadesLeft, withoutUnusedThreads } from './resolve-overlaps'
import { edgeRoom, fadesFitted, freshId, halves, moveEnd, moveStart } from './span'

/** The regions of ids that exist and are not locked. */
export const movable = (session: Session, regionIds: readonly string[]): Region[] =>
  regionIds.flatMap((id) => session.regions[id] ?? []).filter((r) => !r.locked)

/** The session settled with the given regions on top; the one before when they would cover a locked region. */
const put = (before: Session, after: Session, ids: readonly string[]): Session =>
  coversLocked(after, ids) ? before : withoutUnusedThreads(resolveOverlaps(after, ids))

const limited = (by: number, low: number, high: number) => Math.round(Math.max(low, Math.min(high, by)))

/** How far regions can be moved together: in frames, and in tracks. */
export function moveRoom(session: Session, regionIds: readonly string[]): { left: number; right: number } {
  const regions = movable(session, regionIds)
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

/**
 * Splits regions at session frames; the pieces keep sound, gain and thread. Frames outside a region, or
 * inside a crossfade or at one of its ends, leave it.
 */
export const splitRegions = defineEdit<{ regionIds: readonly string[]; frames: readonly number[] }>({
  name: 'splitRegions',
  together: groupRegions,
  label: (session, { regionIds }) => `Split ${regionWords(session, regionIds)}`,
  apply(session, { regionIds, frames }) {
    const regions = { ...session.regions }
    let crossfades = session.crossfades
    for (const { id } of movable(session, regionIds)) {
      let current = id
      for (const frame of [...frames].map(Math.round).sort((a, b) => a - b)) {
        const region = regions[current]!
        if (frame <= region.start || frame >= regionEnd(region)) continue
        const inside = Object.values(crossfades).some(
          (x) =>
            (x.leftId === current && frame >= regions[x.rightId]!.start) ||
            (x.rightId === current && frame <= regionEnd(regions[x.leftId]!)),
        )
        if (inside) continue
        const [left, right] = halves(region, frame, freshId(regions, id))
        regions[left.id] = left
        regions[right.id] = right
        // A crossfade at the old end is now one of the right piece.
        const fade = Object.values(crossfades).find((x) => x.leftId === current)
        if (fade) crossfades = { ...crossfades, [fade.id]: { ...fade, leftId: right.id } }
        current = right.id
      }
    }
    return Object.keys(regions).length === Object.keys(session.regions).length
      ? session
      : { ...session, regions, crossfades }
  },
})

/**
 * Deletes regions; with `closeGap` what follows on their tracks moves up by what was taken away. Locked
 * regions stay.
 */
export const deleteRegions = defineEdit<{ regionIds: readonly string[]; closeGap?: boolean }>({
  name: 'deleteRegions',
  together: groupRegions,
  label: (session, { regionIds, closeGap }) =>
    `Delete ${regionWords(session, regionIds)}${closeGap ? ' and close the gap' : ''}`,
  apply(session, { regionIds, closeGap }) {
    const gone = movable(session, regionIds)
    if (gone.length === 0) return session
    const regions = { ...session.regions }
    for (const { id } of gone) delete regions[id]
    if (closeGap)
      for (const trackId of new Set(gone.map((r) => r.trackId))) closeGaps(session, regions, trackId)
    const locked = Object.values(regions)
      .filter((r) => r.locked)
      .map((r) => r.id)
    return withFadesLeft(
      session,
      withoutUnusedThreads(resolveOverlaps({ ...session, regions }, closeGap ? locked : [])),
    )
  },
})

/** Moves what stays on a track up by the frames before it that only deleted regions covered. */
function closeGaps(session: Session, regions: Record<string, Region>, trackId: string): void {
  const all = regionsOf(session, trackId)
  const stay = all.filter((r) => regions[r.id])
  // Stretches that are bare now: what was deleted, less what stays.
  const bare: { from: number; to: number }[] = []
  let reached = 0
  for (const gone of all.filter((r) => !regions[r.id])) {
    let from = Math.max(gone.start, reached)
    for (const r of stay) {
      if (r.start >= regionEnd(gone)) break
      if (regionEnd(r) <= from) continue
      if (r.start > from) bare.push({ from, to: r.start })
      from = Math.max(from, regionEnd(r))
    }
    if (from < regionEnd(gone)) bare.push({ from, to: regionEnd(gone) })
    reached = Math.max(reached, regionEnd(gone))
  }
  for (const region of stay) {
    if (region.locked) continue
    const taken = bare.reduce((sum, b) => sum + Math.max(0, Math.min(b.to, region.start) - b.from), 0)
    if (taken > 0) regions[region.id] = { ...region, start: region.start - taken }
  }
}

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
        if (original.start + shift + span * n + original.length > LIMITS.frames) continue
        const id = freshId(regions, originalId)
        let gainThreadId = original.gainThreadId
        if (!linked && gainThreadId !== null) {
          const copy = freshId(gainThreads, gainThreadId)
          gainThreads[copy] = { id: copy, knots: gainThreads[gainThreadId]!.knots }
          gainThreadId = copy
        }
        const { locked: _, ...rest } = original
        regions[id] = { ...rest, id, start: original.start + shift + span * n, gainThreadId }
        made.push(id)
      }
    return put(session, { ...session, regions, gainThreads }, made)
  },
})

/**
 * Whether the right region goes on in the source exactly where the left one ends, with the same gain and way
 * of playing.
 */
export function contiguous(left: Region, right: Region): boolean {
  return (
    left.trackId === right.trackId &&
    left.sourceId === right.sourceId &&
    regionEnd(left) === right.start &&
    left.reversed === right.reversed &&
    left.polarity === right.polarity &&
    left.clipGainDb === right.clipGainDb &&
    JSON.stringify(left.sides) === JSON.stringify(right.sides) &&
    left.gainThreadId === right.gainThreadId &&
    left.muted === right.muted &&
    (left.reversed ? right.offset + right.length === left.offset : left.offset + left.length === right.offset)
  )
}

/** The fade of which two are the parts on both sides of a join, the outer one all of a region's length; null if they are not. */
function joinedFade(outer: Fade | null, inner: Fade | null, length: number): Fade | null {
  if (outer?.kind !== 'gain' || inner?.kind !== 'gain' || !outer.piece || !inner.piece) return null
  const { from, of } = outer.piece
  const follows =
    outer.length === length &&
    inner.piece.of === of &&
    inner.piece.from === from + outer.length &&
    inner.curve === outer.curve &&
    inner.bend === outer.bend &&
    inner.level === outer.level
  if (!follows) return null
  const { piece: _, ...whole } = outer
  const total = outer.length + inner.length
  return { ...whole, length: total, ...(total === of ? {} : { piece: { from, of } }) }
}

/** Joins selected neighbours that are pieces of one recording into one region again; fades between them go. */
export const joinRegions = defineEdit<{ regionIds: readonly string[] }>({
  name: 'joinRegions',
  together: groupRegions,
  label: (_session, { regionIds }) => `Join ${counted(regionIds.length, 'region')}`,
  apply(session, { regionIds }) {
    const chosen = movable(session, regionIds).sort((a, b) => a.start - b.start)
    const regions = { ...session.regions }
    let joined = false
    let crossfades = session.crossfades
    for (let i = 0; i < chosen.length; i++) {
      const left = regions[chosen[i]!.id]
      const right =
        left &&
        chosen
          .slice(i + 1)
          .map((r) => regions[r.id])
          .find((r): r is Region => r !== undefined && contiguous(left, r))
      if (!left || !right) continue
      delete regions[right.id]
      regions[left.id] = {
        ...left,
        length: left.length + right.length,
        offset: left.reversed ? right.offset : left.offset,
        fadeIn: joinedFade(left.fadeIn, right.fadeIn, left.length) ?? left.fadeIn,
        fadeOut: joinedFade(right.fadeOut, left.fadeOut, right.length) ?? right.fadeOut,
      }
      const fade = Object.values(crossfades).find((x) => x.leftId === right.id)
      if (fade) crossfades = { ...crossfades, [fade.id]: { ...fade, leftId: left.id } }
      joined = true
      i--
    }
    return joined ? { ...session, regions, crossfades } : session
  },
})

/** What of a region can be set directly. */
export type RegionChange = Partial<
  Pick<Region, 'name' | 'muted' | 'reversed' | 'polarity' | 'colour' | 'locked'>
>

const HEARD = ['muted', 'reversed', 'polarity'] as const

const changeWords = (change: RegionChange): string =>
  change.name !== undefined
    ? 'Rename'
    : change.muted !== undefined
      ? change.muted
        ? 'Mute'
        : 'Unmute'
      : change.reversed !== undefined
        ? 'Reverse'
        : change.polarity !== undefined
          ? 'Turn polarity of'
          : 'locked' in change
            ? change.locked
              ? 'Lock'
              : 'Unlock'
            : 'Colour of'

/**
 * Sets name, mute, direction, polarity, colour or lock of regions. A reversed region keeps its edges, its
 * sound and its thread on it.
 */
export const setRegion = defineEdit<{ regionIds: readonly string[]; change: RegionChange }>({
  name: 'setRegion',
  // What is heard goes along; names, colours and locks are each region's own.
  together: (session, args) =>
    HEARD.some((key) => key in args.change) ? groupRegions(session, args) : { args, missing: [] },
  label: (session, { regionIds, change }) => `${changeWords(change)} ${regionWords(session, regionIds)}`,
  apply: (session, { regionIds, change }) =>
    mapRegions(session, regionIds, (region) =>
      (Object.keys(change) as (keyof RegionChange)[]).every((key) => region[key] === change[key])
        ? region
        : { ...region, ...change },
    ),
})

/** Gives regions gain threads of their own, with the shape that they shared so far. */
export const unlinkRegions = defineEdit<{ regionIds: readonly string[] }>({
  name: 'unlinkRegions',
  label: (session, { regionIds }) => `Unlink ${regionWords(session, regionIds)}`,
  apply(session, { regionIds }) {
    const shared = new Map<string, number>()
    for (const r of Object.values(session.regions))
      if (r.gainThreadId !== null) shared.set(r.gainThreadId, (shared.get(r.gainThreadId) ?? 0) + 1)
    const gainThreads = { ...session.gainThreads }
    const next = mapRegions(session, regionIds, (region) => {
      const threadId = region.gainThreadId
      if (threadId === null || (shared.get(threadId) ?? 0) < 2) return region
      shared.set(threadId, shared.get(threadId)! - 1)
      const id = freshId(gainThreads, threadId)
      gainThreads[id] = { id, knots: gainThreads[threadId]!.knots }
      return { ...region, gainThreadId: id }
    })
    return next === session ? session : { ...next, gainThreads }
  },
})
