import { breach, firstBreaches, type Breach } from './breach'
import { findParameter } from '../parameters'
import { regionEnd, regionsByTrack } from '../queries'
import { LIMITS, type GiveWay, type Knot, type MovedGain, type Region, type Session } from '../session'
import { countKnots, shapeBreaches } from './shape'
import type { Strip } from '../strips'
import { busIdBreaches, has, insertBreaches, otherChainBreaches, wayBreaches } from './routing-rules'
import { weaveBreaches } from '../weave'

export { breachLine, MOST_BREACHES, type Breach } from './breach'

/** The limits that a session of the right shape exceeds. Quick enough to be asked after every edit. */
export function* limitBreaches(session: Session): Generator<Breach> {
  const regions = Object.keys(session.regions).length
  if (regions > LIMITS.regions)
    yield breach('limits', 'regions', regions, `must have at most ${LIMITS.regions} entries`)
  const knots = countKnots(session)
  if (knots > LIMITS.knots)
    yield breach('limits', 'session', knots, `knots in all; there may be at most ${LIMITS.knots}`)
}

function* idBreaches(session: Session): Generator<Breach> {
  for (const kind of ['tracks', 'buses', 'regions', 'sources', 'gainThreads', 'crossfades'] as const)
    for (const [key, entity] of Object.entries(session[kind]))
      if (entity.id !== key)
        yield breach('ids', `${kind}.${key}`, entity.id, 'is filed under another id than its own')
  const listed = new Set(session.trackIds)
  if (listed.size !== session.trackIds.length)
    yield breach('ids', 'trackIds', session.trackIds, 'lists a track twice')
  for (const trackId of session.trackIds)
    if (!has(session.tracks, trackId)) yield breach('ids', 'trackIds', trackId, 'is not a track')
  for (const trackId of Object.keys(session.tracks))
    if (!listed.has(trackId)) yield breach('ids', `tracks.${trackId}`, trackId, 'is missing from trackIds')
  yield* busIdBreaches(session)
  for (const region of Object.values(session.regions)) {
    if (!has(session.tracks, region.trackId))
      yield breach('ids', `regions.${region.id}.trackId`, region.trackId, 'is not a track')
    if (region.gainThreadId !== null && !has(session.gainThreads, region.gainThreadId))
      yield breach('ids', `regions.${region.id}.gainThreadId`, region.gainThreadId, 'is not a gain thread')
  }
  yield* groupBreaches(session)
  const markers = new Set<string>()
  for (const marker of session.markers) {
    if (markers.has(marker.id)) yield breach('ids', `markers.${marker.id}`, marker.id, 'names two markers')
    markers.add(marker.id)
  }
}

function* groupBreaches(session: Session): Generator<Breach> {
  const ids = new Set<string>()
  const grouped = new Set<string>()
  for (const group of session.groups ?? []) {
    if (ids.has(group.id)) yield breach('ids', `groups.${group.id}`, group.id, 'names two groups')
    ids.add(group.id)
    for (const trackId of group.trackIds) {
      if (!has(session.tracks, trackId)) yield breach('ids', `groups.${group.id}`, trackId, 'is not a track')
      if (grouped.has(trackId))
        yield breach('ids', `groups.${group.id}`, trackId, 'is a track that is in a group already')
      grouped.add(trackId)
    }
  }
}

function* sourceBreaches(session: Session): Generator<Breach> {
  for (const source of Object.values(session.sources))
    if (source.sampleRate !== session.sampleRate)
      yield breach(
        'sources',
        `sources.${source.id}.sampleRate`,
        source.sampleRate,
        `must be the session's rate of ${session.sampleRate} Hz`,
      )
  for (const region of Object.values(session.regions)) {
    if (!(region.start >= 0 && region.length >= 1 && region.offset >= 0))
      yield breach(
        'sources',
        `regions.${region.id}`,
        `${region.start}, ${region.offset}, ${region.length}`,
        'begins before the start, or has no length',
      )
    if (region.start + region.length > LIMITS.frames)
      yield breach(
        'limits',
        `regions.${region.id}`,
        region.start + region.length,
        `ends after frame ${LIMITS.frames}, the last that a session can have`,
      )
    const source = has(session.sources, region.sourceId) ? session.sources[region.sourceId] : undefined
    if (!source) yield breach('ids', `regions.${region.id}.sourceId`, region.sourceId, 'is not a source')
    else if (region.offset + region.length > source.frames)
      yield breach(
        'sources',
        `regions.${region.id}`,
        region.offset + region.length,
        `reaches beyond the ${source.frames} frames of its source`,
      )
  }
}

function* overlapBreaches(session: Session): Generator<Breach> {
  const pairs = new Map<string, string>()
  for (const fade of Object.values(session.crossfades)) {
    const key = `${fade.leftId} ${fade.rightId}`
    if (!has(session.regions, fade.leftId) || !has(session.regions, fade.rightId))
      yield breach('ids', `crossfades.${fade.id}`, key, 'joins regions that do not exist')
    if (pairs.has(key))
      yield breach('overlaps', `crossfades.${fade.id}`, key, 'is a second crossfade of the same pair')
    pairs.set(key, fade.id)
  }
  for (const regions of regionsByTrack(session.regions).values()) {
    for (let i = 0; i + 1 < regions.length; i++) {
      const left = regions[i]!
      const right = regions[i + 1]!
      const third = regions[i + 2]
      if (regionEnd(left) <= right.start) continue
      const key = `${left.id} ${right.id}`
      if (!pairs.delete(key))
        yield breach(
          'overlaps',
          `regions.${right.id}.start`,
          right.start,
          `overlaps region ${left.id} without a crossfade`,
        )
      if (right.start === left.start || regionEnd(right) <= regionEnd(left))
        yield breach('overlaps', `regions.${right.id}`, right.start, `lies within region ${left.id}`)
      if (third && third.start < regionEnd(left))
        yield breach(
          'overlaps',
          `regions.${third.id}.start`,
          third.start,
          `is a third region over ${left.id}`,
        )
    }
  }
  for (const [key, fadeId] of pairs)
    if (key) yield breach('overlaps', `crossfades.${fadeId}`, key, 'joins regions that do not overlap')
}

/** Frames that a region's crossfades take from its start and its end. */
function crossfadeLengths(session: Session): Map<string, { left: number; right: number }> {
  const map = new Map<string, { left: number; right: number }>()
  const entry = (id: string) => map.get(id) ?? map.set(id, { left: 0, right: 0 }).get(id)!
  for (const fade of Object.values(session.crossfades)) {
    const left = session.regions[fade.leftId]
    const right = session.regions[fade.rightId]
    if (!left || !right) continue
    const overlap = Math.max(0, regionEnd(left) - right.start)
    entry(left.id).right = overlap
    entry(right.id).left = overlap
  }
  return map
}

function fadeBreach(region: Region, left: number, right: number): Breach | null {
  for (const key of ['fadeIn', 'fadeOut'] as const) {
    const fade = region[key]
    if (fade?.kind === 'gain' && fade.piece && fade.piece.from + fade.length > fade.piece.of)
      return breach(
        'fades',
        `regions.${region.id}.${key}.piece`,
        fade.piece.from + fade.length,
        `reaches beyond the ${fade.piece.of} frames of its fade`,
      )
  }
  if (left && region.fadeIn)
    return breach('fades', `regions.${region.id}.fadeIn`, region.fadeIn.length, 'lies where a crossfade is')
  if (right && region.fadeOut)
    return breach('fades', `regions.${region.id}.fadeOut`, region.fadeOut.length, 'lies where a crossfade is')
  const total = left + right + (region.fadeIn?.length ?? 0) + (region.fadeOut?.length ?? 0)
  return total > region.length
    ? breach(
        'fades',
        `regions.${region.id}`,
        total,
        `fades are longer than the region's ${region.length} frames`,
      )
    : null
}

function knotBreach(entity: string, knots: readonly Knot[], min: number, max: number): Breach | null {
  for (let i = 0; i < knots.length; i++) {
    const knot = knots[i]!
    if (knot.value < min || knot.value > max)
      return breach('knots', `${entity}.knots.${i}`, knot.value, `must lie in ${min}…${max}`)
    if (i > 0 && knot.frame < knots[i - 1]!.frame)
      return breach('knots', `${entity}.knots.${i}`, knot.frame, 'comes before the knot ahead of it')
    if (i > 1 && knot.frame === knots[i - 2]!.frame)
      return breach(
        'knots',
        `${entity}.knots.${i}`,
        knot.frame,
        'is a third knot on its frame; two make a step',
      )
  }
  return null
}

/** A lane may stay on a strip on which it does not act at present, such as the pans of a pair on a track in balance. */
function hasLane(strip: Strip, key: string): boolean {
  const parameter = findParameter(strip, key)
  return parameter !== undefined && ('channels' in strip || parameter.actsOn(strip))
}

function* stripBreaches(session: Session, owner: string, strip: Strip): Generator<Breach> {
  yield* insertBreaches(session, owner, strip)
  yield* laneBreaches(session, owner, strip)
  const { chainB } = strip
  if (chainB) {
    yield* otherChainBreaches(owner, strip)
    yield* laneBreaches(session, `${owner}.chainB`, {
      ...strip,
      inserts: chainB.inserts,
      lanes: chainB.lanes,
    })
  }
  if ('moved' in strip) yield* movedBreaches(owner, strip.moved)
}

/** The way back of gain that was moved leads to threads, which are held to the same rules as others. */
function* movedBreaches(owner: string, moved: readonly MovedGain[] = []): Generator<Breach> {
  for (const [i, { before, after }] of moved.entries())
    for (const [which, { lane, regions }] of Object.entries({ before, after })) {
      const entity = `${owner}.moved.${i}.${which}`
      const bad = lane && knotBreach(`${entity}.lane`, lane.knots, 0, 1)
      if (bad) yield bad
      for (const [id, { knots }] of Object.entries(regions)) {
        const worse = knots && knotBreach(`${entity}.regions.${id}`, knots, 0, 1)
        if (worse) yield worse
      }
    }
}

function* laneBreaches(session: Session, owner: string, strip: Strip): Generator<Breach> {
  for (const [key, lane] of Object.entries(strip.lanes)) {
    if (!hasLane(strip, key)) yield breach('ids', `${owner}.lanes`, key, 'is not a lane of this version')
    const { min, max } = writtenRange(strip, key)
    const bad = knotBreach(`${owner}.lanes.${key}`, lane.knots, min, max)
    if (bad) yield bad
    if (lane.giveWay) yield* giveWayBreaches(session, `${owner}.lanes.${key}.giveWay`, lane.giveWay)
    if (lane.weaves)
      yield* weaveBreaches(`${owner}.lanes.${key}`, lane, { min, max }, session.tempo, session.sampleRate)
  }
}

/** The values that knots of a lane may have in a file. */
function writtenRange(strip: Strip, key: string): { min: number; max: number } {
  const scale = findParameter(strip, key)?.scale
  if (!scale) return ANY
  return scale.toValue ? { min: scale.unitRange.min, max: scale.unitRange.max } : scale
}

/** For a lane that nobody knows, which is a breach by itself. */
const ANY = { min: -Infinity, max: Infinity }

/** What a lane that gives way was made from must be there, so that it can be made anew. */
function* giveWayBreaches(session: Session, entity: string, giveWay: GiveWay): Generator<Breach> {
  for (const id of giveWay.others)
    if (!has(session.tracks, id)) yield breach('ids', `${entity}.others`, id, 'is not a track')
  const bad = knotBreach(`${entity}.base`, giveWay.base, 0, 1)
  if (bad) yield bad
}

function* knotBreaches(session: Session): Generator<Breach> {
  for (const thread of Object.values(session.gainThreads)) {
    const bad = knotBreach(`gainThreads.${thread.id}`, thread.knots, 0, 1)
    if (bad) yield bad
  }
  for (const track of Object.values(session.tracks))
    yield* stripBreaches(session, `tracks.${track.id}`, track)
  for (const bus of Object.values(session.buses)) yield* stripBreaches(session, `buses.${bus.id}`, bus)
  yield* stripBreaches(session, 'mix', session.mix)
  for (let i = 1; i < session.tempo.length; i++)
    if (session.tempo[i]!.beat <= session.tempo[i - 1]!.beat)
      yield breach('knots', `tempo.${i}.beat`, session.tempo[i]!.beat, 'must come after the change before it')
  if (session.tempo[0]!.beat !== 0) yield breach('knots', 'tempo.0.beat', session.tempo[0]!.beat, 'must be 0')
}

function* fadeBreaches(session: Session): Generator<Breach> {
  const crossfades = crossfadeLengths(session)
  for (const region of Object.values(session.regions)) {
    const taken = crossfades.get(region.id)
    const bad = fadeBreach(region, taken?.left ?? 0, taken?.right ?? 0)
    if (bad) yield bad
  }
}

function* partBreaches(session: Session): Generator<Breach> {
  yield* limitBreaches(session)
  yield* idBreaches(session)
  yield* wayBreaches(session)
  yield* sourceBreaches(session)
  yield* fadeBreaches(session)
  yield* knotBreaches(session)
}

function* ruleBreaches(session: Session): Generator<Breach> {
  yield* partBreaches(session)
  yield* overlapBreaches(session)
}

/** The broken rules of a session's parts by themselves, wherever its regions lie; for regions that were copied. */
export const brokenParts = (session: Session): Breach[] => firstBreaches(partBreaches(session))

/**
 * The rules that a session breaks that has the right shape; empty when it keeps them all, at most `MOST_BREACHES` of
 * those that it breaks.
 */
export const brokenRules = (session: Session): Breach[] => firstBreaches(ruleBreaches(session))

/**
 * The rules that plain JSON breaks as a session: its shape first, and when that holds, the rules between its parts.
 * At most `MOST_BREACHES` are listed.
 */
export function checkSession(input: unknown): Breach[] {
  const shape = firstBreaches(shapeBreaches(input))
  return shape.length ? shape : brokenRules(input as Session)
}
