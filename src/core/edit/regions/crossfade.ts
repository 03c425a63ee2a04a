import { clamp } from '../../units/clamp'
import { regionEnd, regionsOf } from '../../model/queries'
import type { Crossfade, CrossfadeLaw, Region, Session } from '../../model/session'
import { together } from '../../model/groups'
import { counted, defineEdit, type EditTogether } from '../shared/edit'
import { crossfadeRoom } from './fade'
import { newCrossfade } from './resolve-overlaps'
import { edgeRoom, fadesFitted, freshId, moveEnd, moveStart } from '../shared/span'

/** Two regions of a track that touch or overlap. */
export interface Join {
  leftId: string
  rightId: string
}

/** The crossfade of two regions, if they have one. */
export const crossfadeOf = (session: Session, { leftId, rightId }: Join): Crossfade | null =>
  Object.values(session.crossfades).find((x) => x.leftId === leftId && x.rightId === rightId) ?? null

/**
 * Where two regions meet: the middle of their overlap, or where they touch; and how many frames of sound each
 * side has beyond it.
 */
export interface JoinRoom {
  frame: number
  /** The left region can go on for so long, the right one begin so much earlier. */
  left: number
  right: number
}

/** The room for a crossfade at a join; null where the regions do not touch. */
export function joinRoom(session: Session, join: Join): JoinRoom | null {
  const [left, right] = [session.regions[join.leftId], session.regions[join.rightId]]
  if (
    !left ||
    !right ||
    left.trackId !== right.trackId ||
    right.start > regionEnd(left) ||
    left.start >= right.start
  )
    return null
  const fade = crossfadeOf(session, join)
  const hidden = {
    left: edgeRoom(left, session.sources[left.sourceId]!).endRight,
    right: -edgeRoom(right, session.sources[right.sourceId]!).startLeft,
  }
  // Neither side reaches past the other's far end, nor into the crossfade there.
  const taken = { left: crossfadeRoom(session, left.id).in, right: crossfadeRoom(session, right.id).out }
  // An overlap of one frame has its middle at its end, or, where the next crossfade begins there, at its start.
  const frame = fade
    ? Math.min(Math.round((regionEnd(left) + right.start) / 2), regionEnd(right) - taken.right - 1)
    : right.start
  return {
    frame,
    left: Math.max(0, Math.min(regionEnd(left) + hidden.left, regionEnd(right) - taken.right - 1) - frame),
    right: Math.max(0, frame - Math.max(right.start - hidden.right, left.start + taken.left + 1)),
  }
}

/** The joins between regions that touch or overlap, among the given ones, in order. */
export function joinsOf(session: Session, regionIds: readonly string[]): Join[] {
  const chosen = new Set(regionIds)
  const tracks = new Set(regionIds.flatMap((id) => session.regions[id]?.trackId ?? []))
  return [...tracks].flatMap((trackId) => {
    const regions = regionsOf(session, trackId)
    return regions.slice(1).flatMap((right, i) => {
      const left = regions[i]!
      return chosen.has(left.id) && chosen.has(right.id) && right.start <= regionEnd(left)
        ? [{ leftId: left.id, rightId: right.id }]
        : []
    })
  })
}

/**
 * How a crossfade of a length lies about a join: half on each side, and more on the other where a side has
 * too little sound.
 */
export function spread(room: JoinRoom, lengthFrames: number): { left: number; right: number } {
  const half = Math.min(Math.ceil(lengthFrames / 2), room.left)
  const right = Math.min(lengthFrames - half, room.right)
  return { left: Math.min(lengthFrames - right, room.left), right }
}

/** The two regions of a join with their edges at new places, so many frames after and before it. */
function stretched(
  session: Session,
  join: Join,
  frame: number,
  left: number,
  right: number,
): [Region, Region] {
  const [a, b] = [session.regions[join.leftId]!, session.regions[join.rightId]!]
  const overlap = left + right
  const longer = moveEnd(a, frame + left - regionEnd(a))
  const earlier = moveStart(b, frame - right - b.start)
  return [
    fadesFitted(longer, { in: crossfadeRoom(session, a.id).in, out: overlap }),
    fadesFitted(earlier, { in: overlap, out: crossfadeRoom(session, b.id).out }),
  ]
}

/** The joins of the groups that some joins are of: those between the regions that go with both sides. */
function groupJoins(session: Session, joins: readonly Join[]): { joins: Join[]; missing: readonly string[] } {
  const sides = together(session, [...new Set(joins.flatMap((j) => [j.leftId, j.rightId]))])
  const wanted = new Set(joins.map((j) => `${j.leftId} ${j.rightId}`))
  const leader = (id: string) => sides.follows.get(id)
  const also = [...sides.follows.keys()].flatMap((leftId) => {
    const row = regionsOf(session, session.regions[leftId]!.trackId)
    const right = row[row.findIndex((r) => r.id === leftId) + 1]
    return right && wanted.has(`${leader(leftId)} ${leader(right.id)}`) ? [{ leftId, rightId: right.id }] : []
  })
  return { joins: [...joins, ...also], missing: sides.missing }
}

/** The crossfades of the groups that some crossfades are of. */
function groupCrossfades(session: Session, crossfadeIds: readonly string[]): EditTogether<string[]> {
  const joins = crossfadeIds.flatMap((id) => session.crossfades[id] ?? [])
  const found = groupJoins(session, joins)
  const also = found.joins.flatMap((j) => crossfadeOf(session, j)?.id ?? [])
  return { args: [...new Set([...crossfadeIds, ...also])], missing: found.missing }
}

/**
 * Puts crossfades of a length (frames) at joins, about the place where the regions meet; hidden sound beyond
 * the cut is used, and where there is too little the longest possible is made. A join that has a crossfade
 * gets the new length and law. Joins of locked regions, or without any hidden sound, stay as they are.
 */
export const crossfadeJoins = defineEdit<{ joins: readonly Join[]; lengthFrames: number; law: CrossfadeLaw }>(
  {
    name: 'crossfadeJoins',
    together(session, args) {
      const { joins, missing } = groupJoins(session, args.joins)
      return { args: { ...args, joins }, missing }
    },
    label: (session, { joins }) =>
      joins.length === 1
        ? `Crossfade “${session.regions[joins[0]!.leftId]?.name ?? ''}” into “${session.regions[joins[0]!.rightId]?.name ?? ''}”`
        : `Crossfade ${counted(joins.length, 'join')}`,
    apply(session, { joins, lengthFrames, law }) {
      let next = session
      for (const join of joins) {
        const room = joinRoom(next, join)
        if (!room || next.regions[join.leftId]!.locked || next.regions[join.rightId]!.locked) continue
        const { left, right } = spread(room, Math.max(1, Math.round(lengthFrames)))
        if (left + right < 1) continue
        const [a, b] = stretched(next, join, room.frame, left, right)
        const known = crossfadeOf(next, join)
        const id = known?.id ?? freshId(next.crossfades, 'cross')
        const fade = known
          ? known.law === law
            ? known
            : { ...known, law }
          : newCrossfade(id, a.id, b.id, law)
        const still =
          known === fade && a.length === next.regions[a.id]!.length && b.length === next.regions[b.id]!.length
        if (!still)
          next = {
            ...next,
            regions: { ...next.regions, [a.id]: a, [b.id]: b },
            crossfades: { ...next.crossfades, [id]: fade },
          }
      }
      return next
    },
  },
)

/** What of crossfades can be set directly. */
export type CrossfadeChange = Partial<Pick<Crossfade, 'law' | 'out' | 'in'>>

const named = (session: Session, ids: readonly string[]) => {
  const only = ids.length === 1 ? session.crossfades[ids[0]!] : undefined
  return only
    ? `of “${session.regions[only.leftId]!.name}” into “${session.regions[only.rightId]!.name}”`
    : counted(ids.length, 'crossfade')
}

/** Sets law, curves and bends of crossfades. */
export const setCrossfade = defineEdit<{ crossfadeIds: readonly string[]; change: CrossfadeChange }>({
  name: 'setCrossfade',
  together(session, args) {
    const { args: crossfadeIds, missing } = groupCrossfades(session, args.crossfadeIds)
    return { args: { ...args, crossfadeIds }, missing }
  },
  label: (session, { crossfadeIds, change }) =>
    `${change.law === undefined ? 'Curve' : 'Law'} of crossfade ${named(session, crossfadeIds)}`,
  apply(session, { crossfadeIds, change }) {
    let next = session
    for (const id of crossfadeIds) {
      const fade = next.crossfades[id]
      if (!fade) continue
      const after = { ...fade, ...change }
      if (JSON.stringify(after) !== JSON.stringify(fade))
        next = { ...next, crossfades: { ...next.crossfades, [id]: after } }
    }
    return next
  },
})

/**
 * How far the edges of a crossfade can be moved: its start (the right region's), its end (the left region's),
 * and both together.
 */
export function crossfadeEdges(
  session: Session,
  id: string,
): { start: { min: number; max: number }; end: { min: number; max: number } } | null {
  const fade = session.crossfades[id]
  const room = fade && joinRoom(session, fade)
  if (!fade || !room) return null
  const [left, right] = [session.regions[fade.leftId]!, session.regions[fade.rightId]!]
  return {
    start: { min: room.frame - room.right - right.start, max: regionEnd(left) - 1 - right.start },
    end: { min: right.start + 1 - regionEnd(left), max: room.frame + room.left - regionEnd(left) },
  }
}

const limited = (by: number, { min, max }: { min: number; max: number }) =>
  Math.round(Math.max(Math.min(0, min), Math.min(Math.max(0, max), by)))

/**
 * Moves the start, the end, or both edges of a crossfade by so many frames; they stop where the sound ends.
 * At least a frame of it stays.
 */
export const shiftCrossfade = defineEdit<{
  crossfadeId: string
  edge: 'start' | 'end' | 'both'
  byFrames: number
  /** Further ones, for those of a group. */
  also?: readonly string[]
}>({
  name: 'shiftCrossfade',
  together(session, args) {
    const { args: ids, missing } = groupCrossfades(session, [args.crossfadeId])
    return { args: { ...args, also: ids.slice(1) }, missing }
  },
  label: (session, { crossfadeId, edge }) =>
    `${edge === 'both' ? 'Move' : 'Length of'} crossfade ${named(session, [crossfadeId])}`,
  apply: (session, { crossfadeId, edge, byFrames, also = [] }) =>
    [crossfadeId, ...also].reduce((next, id) => shifted(next, id, edge, byFrames), session),
})

function shifted(
  session: Session,
  crossfadeId: string,
  edge: 'start' | 'end' | 'both',
  byFrames: number,
): Session {
  const fade = session.crossfades[crossfadeId]
  const edges = crossfadeEdges(session, crossfadeId)
  if (!fade || !edges || session.regions[fade.leftId]!.locked || session.regions[fade.rightId]!.locked)
    return session
  const both = {
    min: Math.max(edges.start.min, fadeEndMin(session, fade)),
    max: Math.min(edges.end.max, fadeStartMax(session, fade)),
  }
  const by = edge === 'both' ? limited(byFrames, both) : limited(byFrames, edges[edge])
  if (by === 0) return session
  const [left, right] = [session.regions[fade.leftId]!, session.regions[fade.rightId]!]
  const middle = right.start
  const start = edge === 'end' ? 0 : by
  const end = edge === 'start' ? 0 : by
  const [a, b] = stretched(session, fade, middle, regionEnd(left) + end - middle, -start)
  return { ...session, regions: { ...session.regions, [a.id]: a, [b.id]: b } }
}

/**
 * Slid to the left, the left region must keep a frame before the overlap; slid to the right, the right one a
 * frame after it.
 */
const fadeEndMin = (session: Session, fade: Crossfade) =>
  session.regions[fade.leftId]!.start +
  crossfadeRoom(session, fade.leftId).in +
  1 -
  session.regions[fade.rightId]!.start
const fadeStartMax = (session: Session, fade: Crossfade) =>
  regionEnd(session.regions[fade.rightId]!) -
  crossfadeRoom(session, fade.rightId).out -
  1 -
  regionEnd(session.regions[fade.leftId]!)

/**
 * Takes crossfades away: the regions meet in the middle of what was their overlap. One of a single frame,
 * hemmed in on both sides by others, stays.
 */
export const removeCrossfades = defineEdit<{ crossfadeIds: readonly string[] }>({
  name: 'removeCrossfades',
  together(session, args) {
    const { args: crossfadeIds, missing } = groupCrossfades(session, args.crossfadeIds)
    return { args: { ...args, crossfadeIds }, missing }
  },
  label: (session, { crossfadeIds }) => `Remove crossfade ${named(session, crossfadeIds)}`,
  apply(session, { crossfadeIds }) {
    let next = session
    for (const id of crossfadeIds) {
      const fade = next.crossfades[id]
      const room = fade && joinRoom(next, fade)
      if (!fade || !room || next.regions[fade.leftId]!.locked || next.regions[fade.rightId]!.locked) continue
      const [left, right] = [next.regions[fade.leftId]!, next.regions[fade.rightId]!]
      if (room.frame <= left.start + crossfadeRoom(next, left.id).in) continue
      const crossfades = { ...next.crossfades }
      delete crossfades[id]
      next = {
        ...next,
        crossfades,
        regions: {
          ...next.regions,
          [left.id]: moveEnd(left, room.frame - regionEnd(left)),
          [right.id]: moveStart(right, room.frame - right.start),
        },
      }
    }
    return next
  },
})

/** Moves only the sound of the right region of a crossfade by so many frames, so that the two sides agree better. */
export const alignCrossfade = defineEdit<{ crossfadeId: string; byFrames: number }>({
  name: 'alignCrossfade',
  label: (session, { crossfadeId }) => `Slip into crossfade ${named(session, [crossfadeId])}`,
  apply(session, { crossfadeId, byFrames }) {
    const fade = session.crossfades[crossfadeId]
    const right = fade && session.regions[fade.rightId]
    if (!right || right.locked) return session
    const { frames } = session.sources[right.sourceId]!
    const wanted = right.offset + (right.reversed ? byFrames : -byFrames)
    const offset = clamp(Math.round(wanted), 0, frames - right.length)
    return offset === right.offset
      ? session
      : { ...session, regions: { ...session.regions, [right.id]: { ...right, offset } } }
  },
})
