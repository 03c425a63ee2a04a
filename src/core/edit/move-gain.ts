import { insertKnot, plateau, replaceBetween, valueAt, type ThreadKind } from '../curve/knots'
import { arrivingValue, threadValue } from '../curve/thread'
import { FADER } from '../model/parameters'
import { regionEnd, regionsOf } from '../model/queries'
import type { Knot, Lane, MovedGain, Region, Session, Track } from '../model/session'
import { heightToDb, UNITY_HEIGHT } from '../units/taper'
import { CLIP_GAIN_DB } from '../units/decibel'
import { counted, defineEdit, regionWords } from './edit'
import { withTrack } from './owner'
import { withoutUnusedThreads } from './resolve-overlaps'
import { freshId } from './span'
import { threadOf, withKnots, type LaneRef } from './thread'

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

/** Watches what is held at the ends of a range. */
class Limits {
  db = 0
  constructor(
    private readonly min: number,
    private readonly max: number,
  ) {}

  height(height: number): number {
    if (height > this.max) this.db = Math.max(this.db, 60 * Math.log10(height / this.max))
    return Math.max(this.min, Math.min(this.max, height))
  }
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

/** Parts into which a stretch is divided where its shape cannot be kept. */
const PARTS = 24

const line = (frame: number, value: number): Knot => ({ frame, value, shape: 'line', bend: 0 })

/** Knots from one frame to another with a knot at both, as they are drawn. */
function between(kind: ThreadKind, knots: readonly Knot[], from: number, to: number): Knot[] {
  if (knots.length === 0) return [line(from, kind.neutral), line(to, kind.neutral)]
  const whole = insertKnot(insertKnot(knots, from, undefined, kind).knots, to, undefined, kind).knots
  const inside = whole.filter((k) => k.frame > from && k.frame < to)
  const first = whole.findLast((k) => k.frame === from)!
  return [first, ...inside, line(to, arrivingValue(whole, to))]
}

/** Whether a knot's stretch looks the same from its other end. */
const isStraight = ({ shape, bend, part }: Knot) => shape === 'line' && bend === 0 && !part

/** Knots the other way round, at frames that `place` says. */
function mirrored(knots: readonly Knot[], place: (frame: number) => number): Knot[] {
  const fine = knots.flatMap((knot, i) => {
    const next = knots[i + 1]
    if (!next || isStraight(knot) || next.frame === knot.frame) return [knot]
    return Array.from({ length: PARTS }, (_, n) => {
      const frame = knot.frame + ((next.frame - knot.frame) * n) / PARTS
      return line(frame, threadValue([knot, next], frame))
    })
  })
  return fine.reverse().map((k) => line(Math.round(place(k.frame)), k.value))
}

/** A stretch of a region's gain thread in session frames. */
function threadInSession(session: Session, region: Region, from: number, to: number): Knot[] {
  const { knots, kind } = threadOf(session, { kind: 'region', regionId: region.id })!
  const [a, b] = [sourceFrame(region, from), sourceFrame(region, to)]
  if (!region.reversed) return between(kind, knots, a, b).map((k) => ({ ...k, frame: k.frame - a + from }))
  return mirrored(between(kind, knots, b, a), (frame) => from + (a - frame))
}

const isFlat = (knots: readonly Knot[]) => knots.every((k) => k.value === knots[0]!.value)

/** More parts than this are not made of a stretch, and by how much of a gain a straight part may be off: 0.01 dB. */
const MOST_PARTS = 256
const PART_OFF = 0.00115

/**
 * Into how many straight parts the product of two stretches is divided: that of lines is off by a quarter of the product of their
 * changes over the square of the parts, and a gain, the cube of a height, by three times as much of itself.
 */
function partsOf(a: readonly Knot[], b: readonly Knot[], from: number, to: number): number {
  const ends = (knots: readonly Knot[]) => [threadValue(knots, from), arrivingValue(knots, to)] as const
  const [[a0, a1], [b0, b1]] = [ends(a), ends(b)]
  const least = Math.max(1e-4, Math.min(a0 * b0, a1 * b1))
  const wanted = Math.sqrt((3 * Math.abs((a1 - a0) * (b1 - b0))) / (4 * PART_OFF * least))
  return Math.min(MOST_PARTS, Math.max(PARTS, Math.ceil(wanted)))
}

/** Both threads multiplied, heights over `base`; where both move, in straight pieces. Both go from one frame to the same other. */
function multiplied(a: readonly Knot[], b: readonly Knot[], base: number, limits: Limits): Knot[] {
  const times = (knots: readonly Knot[], factor: number) =>
    knots.map((k) => ({ ...k, value: limits.height(k.value * factor) }))
  if (isFlat(b)) return times(a, b[0]!.value / base)
  if (isFlat(a)) return times(b, a[0]!.value / base)
  const frames = [...new Set([...a, ...b].map((k) => k.frame))].sort((x, y) => x - y)
  const out: Knot[] = []
  frames.forEach((frame, i) => {
    const arriving = limits.height((arrivingValue(a, frame) * arrivingValue(b, frame)) / base)
    const leaving = limits.height((threadValue(a, frame) * threadValue(b, frame)) / base)
    if (i > 0) out.push(line(frame, arriving))
    if (i === 0 || (leaving !== arriving && i < frames.length - 1)) out.push(line(frame, leaving))
    const next = frames[i + 1]
    if (next === undefined) return
    const parts = Math.min(partsOf(a, b, frame, next), next - frame)
    for (let n = 1; n < parts; n++) {
      const at = Math.round(frame + ((next - frame) * n) / parts)
      out.push(line(at, limits.height((threadValue(a, at) * threadValue(b, at)) / base)))
    }
  })
  return out
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
      const held = Math.max(CLIP_GAIN_DB.min, Math.min(CLIP_GAIN_DB.max, db))
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

/** What a move changed of a track, as it was or as it became. */
function stateOf(session: Session, trackId: string, regionIds: readonly string[]): MovedGain['before'] {
  const regions: MovedGain['before']['regions'] = {}
  for (const id of regionIds) {
    const region = session.regions[id]
    if (!region) continue
    const knots = region.gainThreadId === null ? null : session.gainThreads[region.gainThreadId]!.knots
    const { clipGainDb, gainThreadId } = region
    regions[id] = { clipGainDb, gainThreadId, knots }
  }
  return { regions, lane: session.tracks[trackId]!.lanes[FADER] ?? null }
}

/** Moves that are remembered for the way back, of a track. */
const MOST_MOVES = 20

const sameState = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b)

/** Carries gain to the other side of the inserts, and remembers how it was. Changes nothing where it cannot be. */
export const moveGain = defineEdit<GainMove>({
  name: 'moveGain',
  label: (session, move) =>
    move.what === 'clip-gain'
      ? `Move the clip gain of ${regionWords(session, move.regionIds)} to volume`
      : move.what === 'thread'
        ? `Move the gain thread of ${regionWords(session, move.regionIds)} to volume`
        : `Move volume of “${session.tracks[move.trackId]?.name ?? ''}” to the regions`,
  apply(session, move) {
    const moved = movedGain(session, move)
    if ('problem' in moved) return session
    const { trackId, session: next } = moved
    const ids = regionsOf(session, trackId)
      .map(({ id }) => id)
      .filter((id) => session.regions[id] !== next.regions[id] || threadsDiffer(session, next, id))
    const record: MovedGain = {
      id: freshId(Object.fromEntries((session.tracks[trackId]!.moved ?? []).map((m) => [m.id, m])), 'moved'),
      before: stateOf(session, trackId, ids),
      after: stateOf(next, trackId, ids),
    }
    const before = next.tracks[trackId]!.moved ?? []
    return withTrack(next, trackId, { moved: [...before.slice(1 - MOST_MOVES), record] })
  },
})

function threadsDiffer(a: Session, b: Session, id: string): boolean {
  const knots = (s: Session) => {
    const thread = s.regions[id]?.gainThreadId
    return thread ? s.gainThreads[thread]!.knots : null
  }
  return knots(a) !== knots(b)
}

/** The last move of a track that can be taken back exactly: nothing of what it changed has changed since. */
export function lastMove(session: Session, trackId: string): MovedGain | null {
  const moved = session.tracks[trackId]?.moved ?? []
  return (
    moved.findLast(({ after }) => sameState(stateOf(session, trackId, Object.keys(after.regions)), after)) ??
    null
  )
}

/** Puts back exactly what a track had before gain was moved, where nothing of it has changed since. */
export const moveGainBack = defineEdit<{ trackId: string }>({
  name: 'moveGainBack',
  label: (session, { trackId }) => {
    const move = lastMove(session, trackId)
    const count = move ? Object.keys(move.before.regions).length : 0
    return `Move gain back: ${counted(count, 'region')} of “${session.tracks[trackId]?.name ?? ''}”`
  },
  apply(session, { trackId }) {
    const move = lastMove(session, trackId)
    if (!move) return session
    let next: Session = session
    for (const [id, { clipGainDb, gainThreadId: before, knots }] of Object.entries(move.before.regions)) {
      const region = next.regions[id]
      if (!region) continue
      let gainThreadId = before
      if (before !== null && knots) {
        const there = next.gainThreads[before]
        // Others may have the thread of then by now, with other knots.
        const taken =
          there &&
          !sameState(there.knots, knots) &&
          Object.values(next.regions).some((r) => r.id !== id && r.gainThreadId === before)
        gainThreadId = taken ? freshId(next.gainThreads, before) : before
        if (!there || !sameState(there.knots, knots))
          next = {
            ...next,
            gainThreads: { ...next.gainThreads, [gainThreadId]: { id: gainThreadId, knots } },
          }
      }
      next = { ...next, regions: { ...next.regions, [id]: { ...region, clipGainDb, gainThreadId } } }
    }
    const track: Track = next.tracks[trackId]!
    const { [FADER]: _, ...others } = track.lanes
    const lanes: Record<string, Lane> = move.before.lane
      ? { ...track.lanes, [FADER]: move.before.lane }
      : others
    const moved = track.moved!.filter((m) => m !== move)
    const { moved: __, ...rest } = track
    const restored: Track = { ...rest, lanes, ...(moved.length ? { moved } : {}) }
    return withoutUnusedThreads({ ...next, tracks: { ...next.tracks, [trackId]: restored } })
  },
})
