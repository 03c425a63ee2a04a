import { regionEnd } from '../../model/queries'
import type { Crossfade, GainFade, Region, Session } from '../../model/session'
import { fadesFitted, freshId, halves, moveEnd, moveStart } from '../shared/span'

const overlaps = (a: Region, b: Region) => a.start < regionEnd(b) && b.start < regionEnd(a)

const crossfadeOf = (crossfades: Readonly<Record<string, Crossfade>>, left: Region, right: Region) =>
  Object.values(crossfades).find((x) => x.leftId === left.id && x.rightId === right.id)

/**
 * Whether an overlap is one that its crossfade can have: partly, from the left, with a region that has no
 * other overlap there.
 */
function keeps(crossfades: Readonly<Record<string, Crossfade>>, a: Region, b: Region): boolean {
  const [left, right] = a.start <= b.start ? [a, b] : [b, a]
  return (
    left.start < right.start &&
    regionEnd(left) < regionEnd(right) &&
    crossfadeOf(crossfades, left, right) !== undefined
  )
}

/** What is left of a region under another one that covers it: none, one or two pieces. */
function uncovered(region: Region, cover: Region, taken: Readonly<Record<string, Region>>): Region[] {
  const end = regionEnd(region)
  const coverEnd = regionEnd(cover)
  const left = region.start < cover.start
  const right = end > coverEnd
  if (left && right) {
    const [first, rest] = halves(region, cover.start, freshId(taken, region.id))
    return [first, moveStart({ ...rest, fadeIn: null }, coverEnd - cover.start)]
  }
  if (left) return [{ ...moveEnd(region, cover.start - end), fadeOut: null }]
  if (right) return [{ ...moveStart(region, coverEnd - region.start), fadeIn: null }]
  return []
}

/** The first two regions of a track that overlap without a crossfade that allows it. */
function collision(
  regions: Readonly<Record<string, Region>>,
  crossfades: Readonly<Record<string, Crossfade>>,
): [Region, Region] | null {
  const byTrack = new Map<string, Region[]>()
  for (const region of Object.values(regions)) {
    const list = byTrack.get(region.trackId)
    if (list) list.push(region)
    else byTrack.set(region.trackId, [region])
  }
  for (const list of byTrack.values()) {
    list.sort((a, b) => a.start - b.start)
    for (let i = 0; i < list.length; i++)
      for (let j = i + 1; j < list.length && list[j]!.start < regionEnd(list[i]!); j++)
        if (!keeps(crossfades, list[i]!, list[j]!)) return [list[i]!, list[j]!]
  }
  return null
}

/** A crossfade as it is made when nothing else is said: equal power. */
export const newCrossfade = (
  id: string,
  leftId: string,
  rightId: string,
  law: Crossfade['law'] = 'equal-power',
): Crossfade => ({
  id,
  leftId,
  rightId,
  law,
  out: { curve: 'equal-power', bend: 0 },
  in: { curve: 'equal-power', bend: 0 },
})

/**
 * Whether two regions that overlap can have a crossfade: partly, with no third region there, and with room
 * beside their other crossfades.
 */
function canCross(
  regions: Readonly<Record<string, Region>>,
  taken: ReadonlyMap<string, { in: number; out: number }>,
  left: Region,
  right: Region,
): boolean {
  const overlap = regionEnd(left) - right.start
  if (!(left.start < right.start && regionEnd(left) < regionEnd(right))) return false
  const [l, r] = [taken.get(left.id), taken.get(right.id)]
  if (l?.out || r?.in || (l?.in ?? 0) + overlap > left.length || overlap + (r?.out ?? 0) > right.length)
    return false
  return !Object.values(regions).some(
    (x) =>
      x.trackId === left.trackId &&
      x !== left &&
      x !== right &&
      x.start < regionEnd(left) &&
      regionEnd(x) > right.start,
  )
}

/** A crossfade that cannot stay: its regions do not overlap, or it does not fit beside the other one of a region. */
function misfit(
  regions: Readonly<Record<string, Region>>,
  crossfades: Readonly<Record<string, Crossfade>>,
): string | null {
  const taken = takenByCrossfades(regions, crossfades)
  for (const fade of Object.values(crossfades)) {
    const left = regions[fade.leftId]
    const right = regions[fade.rightId]
    if (
      !left ||
      !right ||
      left.trackId !== right.trackId ||
      !overlaps(left, right) ||
      !keeps(crossfades, left, right)
    )
      return fade.id
    for (const region of [left, right]) {
      const room = taken.get(region.id)!
      if (room.in + room.out > region.length) return fade.id
    }
  }
  return null
}

function takenByCrossfades(
  regions: Readonly<Record<string, Region>>,
  crossfades: Readonly<Record<string, Crossfade>>,
): Map<string, { in: number; out: number }> {
  const taken = new Map<string, { in: number; out: number }>()
  const entry = (id: string) => taken.get(id) ?? taken.set(id, { in: 0, out: 0 }).get(id)!
  for (const { leftId, rightId } of Object.values(crossfades)) {
    const [left, right] = [regions[leftId], regions[rightId]]
    if (!left || !right) continue
    entry(leftId).out = regionEnd(left) - right.start
    entry(rightId).in = regionEnd(left) - right.start
  }
  return taken
}

/**
 * Makes a session keep the rules again after regions were put somewhere: where two overlap at their ends a
 * crossfade joins them; what is covered otherwise is trimmed, split or, where nothing of it is left to see,
 * removed. Crossfades that no longer fit go. Fades are cut to fit. `topIds` are the regions that were put
 * there, the last one on top.
 */
export function resolveOverlaps(session: Session, topIds: readonly string[]): Session {
  const rank = new Map(topIds.map((id, i) => [id, i]))
  const regions = { ...session.regions }
  const crossfades = { ...session.crossfades }
  for (;;) {
    const pair = collision(regions, crossfades)
    if (pair) {
      const [first, second] = pair
      const [left, right] = first.start <= second.start ? [first, second] : [second, first]
      if (canCross(regions, takenByCrossfades(regions, crossfades), left, right)) {
        const id = freshId(crossfades, 'cross')
        crossfades[id] = newCrossfade(id, left.id, right.id)
        continue
      }
      const firstOnTop = (rank.get(first.id) ?? -1) > (rank.get(second.id) ?? -1)
      const [top, under] = firstOnTop ? [first, second] : [second, first]
      delete regions[under.id]
      for (const piece of uncovered(under, top, { ...session.regions, ...regions }))
        regions[piece.id] = fadesFitted(piece)
      continue
    }
    const bad = misfit(regions, crossfades)
    if (bad === null) break
    delete crossfades[bad]
  }
  const taken = takenByCrossfades(regions, crossfades)
  for (const id of Object.keys(regions)) {
    const region = regions[id]!
    const fitted = fadesFitted(region, taken.get(id))
    if (fitted !== region) regions[id] = fitted
  }
  const ids = Object.keys(crossfades)
  const sameCrossfades =
    ids.length === Object.keys(session.crossfades).length &&
    ids.every((id) => crossfades[id] === session.crossfades[id])
  return { ...session, regions, crossfades: sameCrossfades ? session.crossfades : crossfades }
}

/** Whether regions that were just put somewhere lie on a locked one, which nothing may cover. */
export function coversLocked(session: Session, ids: readonly string[]): boolean {
  const put = new Set(ids)
  const locked = Object.values(session.regions).filter((r) => r.locked && !put.has(r.id))
  if (locked.length === 0) return false
  return ids.some((id) => {
    const top = session.regions[id]!
    return locked.some(
      (r) =>
        r.trackId === top.trackId &&
        r.start < regionEnd(top) &&
        top.start < regionEnd(r) &&
        !Object.values(session.crossfades).some(
          (x) => (x.leftId === r.id && x.rightId === id) || (x.leftId === id && x.rightId === r.id),
        ),
    )
  })
}

/** A session without gain threads that no region uses. */
export function withoutUnusedThreads(session: Session): Session {
  const used = new Set(Object.values(session.regions).map((r) => r.gainThreadId))
  const unused = Object.keys(session.gainThreads).filter((id) => !used.has(id))
  if (unused.length === 0) return session
  const gainThreads = { ...session.gainThreads }
  for (const id of unused) delete gainThreads[id]
  return { ...session, gainThreads }
}

/** The curve of the fade that a crossfade leaves behind on one of its sides. */
function fadeOf(fade: Crossfade, side: 'out' | 'in', length: number): GainFade {
  const own =
    fade.law === 'free'
      ? fade[side]
      : {
          curve: fade.law === 'equal-gain' ? ('linear' as const) : ('equal-power' as const),
          bend: side === 'in' ? fade.in.bend : 0,
        }
  return { kind: 'gain', length, curve: own.curve, bend: own.bend, level: 0 }
}

/**
 * Gives regions whose crossfade is gone because the other one was moved away or deleted the fade that it was
 * for them, so that no edge is laid bare. `before` is the session in which they still had it.
 */
export function withFadesLeft(before: Session, after: Session): Session {
  let next = after
  for (const fade of Object.values(before.crossfades)) {
    if (after.crossfades[fade.id]) continue
    const length = regionEnd(before.regions[fade.leftId]!) - before.regions[fade.rightId]!.start
    for (const [id, side] of [
      [fade.leftId, 'out'],
      [fade.rightId, 'in'],
    ] as const) {
      const region = next.regions[id]
      const key = side === 'out' ? 'fadeOut' : 'fadeIn'
      const taken = Object.values(next.crossfades).some((x) => (side === 'out' ? x.leftId : x.rightId) === id)
      const sameEdge =
        region &&
        (side === 'out'
          ? before.regions[id]!.length === region.length
          : before.regions[id]!.offset === region.offset)
      if (!region || taken || region[key] || !sameEdge) continue
      const room = takenByCrossfades(next.regions, next.crossfades).get(id)
      next = {
        ...next,
        regions: {
          ...next.regions,
          [id]: fadesFitted({ ...region, [key]: fadeOf(fade, side, length) }, room),
        },
      }
    }
  }
  return next
}
