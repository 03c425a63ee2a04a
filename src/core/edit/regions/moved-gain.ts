import { clamp } from '../../units/clamp'
import { plateau, replaceBetween, valueAt } from '../../curve/knots'
import { arrivingValue } from '../../curve/thread'
import { FADER } from '../../model/parameters'
import { regionEnd, regionsOf } from '../../model/queries'
import type { Knot, Region, Session } from '../../model/session'
import { heightToDb, UNITY_HEIGHT } from '../../units/taper'
import { CLIP_GAIN_DB } from '../../units/decibel'
import { between, isFlat, Limits, line, mirrored, multiplied } from './gain-product'
import { withoutUnusedThreads } from './resolve-overlaps'
import { freshId } from '../shared/span'
import { threadOf, withKnots } from '../automation/thread'
import type { LaneRef } from '../shared/thread-ref'

/**
 * What is carried to the other side of a track's inserts: the clip gain of regions, or a stretch of their gain threads, to the volume
 * lane; or a stretch of the volume lane to the regions. Frames are session frames; no stretch is all of a region.
 */
export type GainMove =
  | { what: 'clip-gain'; regionIds: readonly string[] }
  | { what: 'thread'; regionIds: readonly string[]; stretch: { from: number; to: number } | null }
  | { what: 'volume'; trackId: string; from: number; to: number }

/** What would become of a session; or why it cannot be, in a sentence. */
export type GainMoved =
  | {
      session: Session
      trackId: string
      /** By how many dB something would have passed the end of its range, where it was held; 0 where nothing did. */
      limitedDb: number
      /** The stretch in which something changes. */
      from: number
      to: number
    }
  | { problem: string }

const volumeOf = (trackId: string): LaneRef => ({ kind: 'lane', trackId, lane: FADER })

/** The regions that are crossfaded with some, directly or through others, with those; sorted by their starts. */
function crossfaded(session: Session, id: string): Region[] {
  const found = new Set([id])
  for (const from of found)
    for (const { leftId, rightId } of Object.values(session.crossfades)) {
      if (leftId === from) found.add(rightId)
      if (rightId === from) found.add(leftId)
    }
  return [...found].map((r) => session.regions[r]!).sort((a, b) => a.start - b.start)
}

/** Groups of regions that hang together by crossfades, each once. */
function groupsOf(session: Session, regionIds: readonly string[]): Region[][] {
  const seen = new Set<string>()
  const groups: Region[][] = []
  for (const id of regionIds) {
    if (seen.has(id) || !session.regions[id]) continue
    const group = crossfaded(session, id)
    for (const region of group) seen.add(region.id)
    groups.push(group)
  }
  return groups
}

const NOTHING =
  'There is nothing to move: select a region whose clip gain is not 0 dB, or that has a gain thread.'
const BYPASSED =
  'The volume lane of this track is bypassed. Let it act first, or what is moved there would not be heard.'

/** Carries gain to the other side of the inserts so that the level at the other stage is the same. */
export function movedGain(session: Session, move: GainMove): GainMoved {
  if (move.what === 'volume') return volumeToRegions(session, move)
  const groups = groupsOf(session, move.regionIds)
  const trackId = groups[0]?.[0]?.trackId
  if (trackId === undefined) return { problem: NOTHING }
  if (groups.some((group) => group[0]!.trackId !== trackId))
    return { problem: 'The regions lie on several tracks: move those of one track at a time.' }
  if (session.tracks[trackId]!.lanes[FADER]?.bypassed) return { problem: BYPASSED }
  return move.what === 'clip-gain'
    ? clipGainToVolume(session, trackId, groups)
    : threadsToVolume(session, trackId, groups.flat(), move.stretch)
}

function clipGainToVolume(session: Session, trackId: string, groups: readonly Region[][]): GainMoved {
  const ref = volumeOf(trackId)
  const { knots: before, kind } = threadOf(session, ref)!
  let knots = before
  let [from, to] = [Infinity, -Infinity]
  let limitedDb = 0
  const regions = { ...session.regions }
  for (const group of groups) {
    const gain = group[0]!.clipGainDb
    const other = group.find((region) => region.clipGainDb !== gain)
    if (other)
      return {
        problem: `“${group[0]!.name}” and “${other.name}” are crossfaded and have different clip gains; a volume lane has one level where they overlap. Give them the same, or take the crossfade away.`,
      }
    if (gain === 0) continue
    const [start, end] = [group[0]!.start, Math.max(...group.map(regionEnd))]
    const top = Math.max(
      ...[start, ...knots.filter((k) => k.frame > start && k.frame < end).map((k) => k.frame)].map((f) =>
        valueAt(kind, knots, f),
      ),
    )
    if (top > 0) limitedDb = Math.max(limitedDb, heightToDb(top) + gain - heightToDb(kind.max))
    knots = plateau(knots, start, end, gain, 0, kind)
    for (const region of group) regions[region.id] = { ...region, clipGainDb: 0 }
    from = Math.min(from, start)
    to = Math.max(to, end)
  }
  if (from === Infinity) return { problem: NOTHING }
  return { session: withKnots({ ...session, regions }, ref, knots), trackId, limitedDb, from, to }
}

/** The source frame that plays at a session frame of a region. */
const sourceFrame = ({ reversed, start, offset, length }: Region, frame: number) =>
  reversed ? offset + length - (frame - start) : offset + (frame - start)

/** A stretch of a region's gain thread in session frames. */
function threadInSession(session: Session, region: Region, from: number, to: number): Knot[] {
  const { knots, kind } = threadOf(session, { kind: 'region', regionId: region.id })!
  const [a, b] = [sourceFrame(region, from), sourceFrame(region, to)]
  if (!region.reversed) return between(kind, knots, a, b).map((k) => ({ ...k, frame: k.frame - a + from }))
  return mirrored(between(kind, knots, b, a), (frame) => from + (a - frame))
}

/** A region with a gain thread of its own, which no other shares. */
function withOwnThread(session: Session, regionId: string): Session {
  const { gainThreadId } = session.regions[regionId]!
  const shared =
    gainThreadId !== null &&
    Object.values(session.regions).some((r) => r.id !== regionId && r.gainThreadId === gainThreadId)
  if (!shared) return session
  const id = freshId(session.gainThreads, gainThreadId)
  return {
    ...session,
    gainThreads: { ...session.gainThreads, [id]: { ...session.gainThreads[gainThreadId]!, id } },
    regions: { ...session.regions, [regionId]: { ...session.regions[regionId]!, gainThreadId: id } },
  }
}

function threadsToVolume(
  session: Session,
  trackId: string,
  group: readonly Region[],
  stretch: { from: number; to: number } | null,
): GainMoved {
  const ref = volumeOf(trackId)
  const limits = new Limits(0, 1)
  let next = session
  let [first, last] = [Infinity, -Infinity]
  const moved = group.filter((region) => region.gainThreadId !== null)
  for (const region of moved) {
    const [from, to] = [
      Math.max(region.start, stretch?.from ?? -Infinity),
      Math.min(regionEnd(region), stretch?.to ?? Infinity),
    ]
    if (to - from < 2) continue
    if (crossfadeMeets(session, region, from, to))
      return {
        problem: `“${region.name}” is crossfaded within the stretch, and its gain thread is its own; a volume lane has one level for both. Move a stretch outside of the crossfade.`,
      }
    const { knots, kind } = threadOf(next, ref)!
    const inside = multiplied(
      threadInSession(session, region, from, to),
      between(kind, knots, from, to),
      UNITY_HEIGHT,
      limits,
    )
    next = withKnots(next, ref, replaceBetween(knots, from, to, inside, 0, kind))
    next = withoutThread(next, region, from, to)
    first = Math.min(first, from)
    last = Math.max(last, to)
  }
  if (first === Infinity) return { problem: NOTHING }
  return { session: withoutUnusedThreads(next), trackId, limitedDb: limits.db, from: first, to: last }
}

/** Whether a crossfade of a region lies within some frames. */
const crossfadeMeets = (session: Session, region: Region, from: number, to: number): boolean =>
  Object.values(session.crossfades).some(({ leftId, rightId }) => {
    if (leftId !== region.id && rightId !== region.id) return false
    const [left, right] = [session.regions[leftId]!, session.regions[rightId]!]
    return right.start < to && regionEnd(left) > from
  })

/** A session in which the gain thread of a region changes nothing between two session frames. */
function withoutThread(session: Session, region: Region, from: number, to: number): Session {
  if (from <= region.start && to >= regionEnd(region)) {
    const bare: Region = { ...session.regions[region.id]!, gainThreadId: null }
    return { ...session, regions: { ...session.regions, [region.id]: bare } }
  }
  const own = withOwnThread(session, region.id)
  const ref = { kind: 'region', regionId: region.id } as const
  const { knots, kind } = threadOf(own, ref)!
  const ends = [sourceFrame(region, from), sourceFrame(region, to)].sort((x, y) => x - y) as [number, number]
  const flat = ends.map((frame) => line(frame, UNITY_HEIGHT))
  return withKnots(own, ref, replaceBetween(knots, ...ends, flat, 0, kind))
}

function volumeToRegions(
  session: Session,
  { trackId, from, to }: Extract<GainMove, { what: 'volume' }>,
): GainMoved {
  const ref = volumeOf(trackId)
  const lane = threadOf(session, ref)
  if (!lane || lane.knots.length === 0)
    return { problem: 'The volume of this track has no lane there: its fader holds everywhere.' }
  if (session.tracks[trackId]!.lanes[FADER]?.bypassed) return { problem: BYPASSED }
  if (!(to > from + 1)) return { problem: 'Mark the stretch of the lane first: hold R and sweep.' }
  const { knots, kind } = lane
  const base = arrivingValue(knots, from)
  if (base === 0)
    return {
      problem: 'The volume lane is silent where the stretch begins, so there is no level to go back to.',
    }
  const regions = regionsOf(session, trackId).filter((r) => r.start < to && regionEnd(r) > from)
  if (regions.length === 0)
    return { problem: 'No region lies in this stretch of the lane, so nothing could take its gain.' }
  const limits = new Limits(0, 1)
  let limitedDb = 0
  let next = session
  for (const region of regions) {
    const [a, b] = [Math.max(from, region.start), Math.min(to, regionEnd(region))]
    if (b - a < 2) continue
    const part = between(kind, knots, a, b)
    const whole = a === region.start && b === regionEnd(region)
    if (whole && isFlat(part) && part[0]!.value > 0) {
      const db = region.clipGainDb + heightToDb(part[0]!.value) - heightToDb(base)
      const held = clamp(db, CLIP_GAIN_DB.min, CLIP_GAIN_DB.max)
      limitedDb = Math.max(limitedDb, Math.abs(db - held))
      next = {
        ...next,
        regions: { ...next.regions, [region.id]: { ...next.regions[region.id]!, clipGainDb: held } },
      }
      continue
    }
    next = withOwnThread(next, region.id)
    const inside = multiplied(part, threadInSession(next, region, a, b), base, limits)
    const [sa, sb] = [sourceFrame(region, a), sourceFrame(region, b)]
    const inSource = region.reversed
      ? mirrored(inside, (frame) => sb + (b - frame))
      : inside.map((k) => ({ ...k, frame: k.frame - a + sa }))
    const own = { kind: 'region', regionId: region.id } as const
    const thread = threadOf(next, own)!
    next = withKnots(
      next,
      own,
      replaceBetween(thread.knots, Math.min(sa, sb), Math.max(sa, sb), inSource, 0, thread.kind),
    )
  }
  const flat = [line(from, base), line(to, base)]
  next = withKnots(next, ref, replaceBetween(knots, from, to, flat, 0, kind))
  return { session: next, trackId, limitedDb: Math.max(limitedDb, limits.db), from, to }
}
