import { gainKind, threadKind, type ThreadKind } from '../../curve/knots'
import { weavesLeft, type WeaveContext } from '../../curve/weave'
import { together } from '../../model/groups'
import { sameKnot } from '../../model/weave'
import { findParameter, gainThreadLook, type ThreadLook } from '../../model/parameters'
import type { Knot, Lane, LaneWeave, Session } from '../../model/session'
import { counted, defineEdit, groupRegions, regionWords } from '../shared/edit'
import { placedKnots, placedWeaves, writtenKnots, writtenWeaves } from '../../model/lane-places'
import { rowOf, stripOf } from '../../model/strips'
import { withStrip } from '../shared/with-strip'
import { freshId } from '../shared/span'
import { refKey, type LaneRef, type ThreadRef } from '../shared/thread-ref'

/** A thread as it is: its knots, what its values are, and how it is called and drawn. */
export interface ThreadState {
  knots: readonly Knot[]
  /** The weaves of a lane, whose knots are among the others; gain threads have none. */
  weaves: readonly LaneWeave[]
  kind: ThreadKind
  look: ThreadLook
}

const none: readonly Knot[] = []
const noWeaves: readonly LaneWeave[] = []

/** A strip within a sentence: “Narrator”, the mix. */
export const stripWords = (session: Session, trackId: string | null): string =>
  trackId === null ? 'the mix' : `“${rowOf(session, trackId)?.name ?? ''}”`

/** The thread that a reference means; null when its region or track is not there, or the mix has no such lane. */
export function threadOf(session: Session, ref: ThreadRef): ThreadState | null {
  if (ref.kind === 'region') {
    const region = session.regions[ref.regionId]
    return region
      ? {
          knots: region.gainThreadId === null ? none : session.gainThreads[region.gainThreadId]!.knots,
          weaves: noWeaves,
          kind: gainKind(),
          look: gainThreadLook,
        }
      : null
  }
  const strip = stripOf(session, ref.trackId)
  const parameter = strip && findParameter(strip, ref.lane)
  if (!strip || !parameter || (ref.trackId === null && !parameter.actsOn(strip))) return null
  const { scale } = parameter
  return {
    knots: placedKnots(scale, strip.lanes[ref.lane]?.knots ?? none),
    weaves: placedWeaves(scale, strip.lanes[ref.lane]?.weaves ?? noWeaves),
    kind: threadKind(parameter.scale, parameter.laneDefault(strip)),
    look: parameter,
  }
}

/** The thread in words: gain thread of “wheel turn”, volume of “Narrator”. */
export function threadWords(session: Session, ref: ThreadRef): string {
  if (ref.kind === 'region') return `${gainThreadLook.words} of ${regionWords(session, [ref.regionId])}`
  const strip = stripOf(session, ref.trackId)
  const words = strip && findParameter(strip, ref.lane)?.words
  return `${words ?? 'a lane'} of ${stripWords(session, ref.trackId)}`
}

/** Lanes in words: volume of “Narrator”, or how many there are. */
export const lanesInWords = (session: Session, lanes: readonly LaneRef[]): string =>
  lanes.length === 1 ? threadWords(session, lanes[0]!) : counted(lanes.length, 'lane')

function checkKnots(knots: readonly Knot[], kind: ThreadKind): void {
  let last = -Infinity
  for (const { frame, value } of knots) {
    if (!(value >= kind.min && value <= kind.max))
      throw new RangeError(`a knot at ${value} is outside ${kind.min}…${kind.max}`)
    if (frame < last) throw new RangeError(`a knot at frame ${frame} comes after one at ${last}`)
    last = frame
  }
}

/** What the knots of a thread's weaves are worked out with. */
export const weaveContextOf = (session: Session, kind: ThreadKind): WeaveContext => ({
  tempo: session.tempo,
  sampleRate: session.sampleRate,
  kind,
})

const sameItems = <T>(a: readonly T[], b: readonly T[]) =>
  a.length === b.length && a.every((item, i) => item === b[i])

/**
 * The session with other knots in a thread; the same session when they are the same. Of a lane's weaves, by default
 * those that it has, that stays whose knots are still there.
 */
export function withKnots(
  session: Session,
  ref: ThreadRef,
  knots: readonly Knot[],
  weaves?: readonly LaneWeave[],
): Session {
  const thread = threadOf(session, ref)
  if (!thread) return session
  checkKnots(knots, thread.kind)
  const sameKnots = sameItems(thread.knots, knots)
  if (sameKnots && (weaves === undefined || sameItems(thread.weaves, weaves))) return session
  if (ref.kind === 'region') {
    const region = session.regions[ref.regionId]!
    const id = region.gainThreadId ?? freshId(session.gainThreads, `thread-${ref.regionId}`)
    return {
      ...session,
      gainThreads: { ...session.gainThreads, [id]: { id, knots: [...knots] } },
      regions:
        region.gainThreadId === null
          ? { ...session.regions, [region.id]: { ...region, gainThreadId: id } }
          : session.regions,
    }
  }
  const { lanes } = stripOf(session, ref.trackId)!
  // Knots changed by hand are ordinary ones; they no longer follow from other tracks.
  const { giveWay, weaves: _, ...kept } = { bypassed: false, visible: true, ...lanes[ref.lane] }
  const left = weavesLeft(weaves ?? thread.weaves, knots, weaveContextOf(session, thread.kind))
  const lane: Lane = {
    ...kept,
    knots: sameKnots ? lanes[ref.lane]!.knots : writtenKnots(thread.kind, knots),
    // Without knots there is nothing to bypass.
    ...(knots.length === 0 ? { bypassed: false } : {}),
    ...(sameKnots && giveWay ? { giveWay } : {}),
    ...(left.length ? { weaves: writtenWeaves(thread.kind, left) } : {}),
  }
  return withStrip(session, ref.trackId, { lanes: { ...lanes, [ref.lane]: lane } })
}

/** Other knots for a thread, and with them other weaves for a lane. */
export interface ShapedThread {
  ref: ThreadRef
  knots: readonly Knot[]
  weaves?: readonly LaneWeave[]
}

/**
 * The same shape for the regions that a region's group takes along, where their gain threads were the same as its own;
 * one that differs stays as it is.
 */
function sameThreads(session: Session, { ref, knots }: ShapedThread): ShapedThread[] {
  if (ref.kind !== 'region') return []
  const region = session.regions[ref.regionId]
  if (!region) return []
  const before = threadOf(session, ref)!.knots
  return together(session, [region.id])
    .regionIds.slice(1)
    .flatMap((id) => {
      const other = session.regions[id]!
      if (other.reversed !== region.reversed) return []
      const linked = other.gainThreadId !== null && other.gainThreadId === region.gainThreadId
      // Knots count in frames of the source: the same time is another frame there.
      const by = region.reversed
        ? other.offset + other.length + other.start - (region.offset + region.length + region.start)
        : other.offset - other.start - (region.offset - region.start)
      const moved = (all: readonly Knot[]) => all.map((k) => (by === 0 ? k : { ...k, frame: k.frame + by }))
      const its = threadOf(session, { kind: 'region', regionId: id })!.knots
      const same = moved(before)
      const alike =
        its.length === same.length && its.every((k, i) => k.frame === same[i]!.frame && sameKnot(k, same[i]!))
      return alike && !linked ? [{ ref: { kind: 'region' as const, regionId: id }, knots: moved(knots) }] : []
    })
}

/**
 * Gives a thread other knots (sorted, in range); all linked copies of a region follow. `what` names the step:
 * "Plateau" makes "Plateau in gain thread of …". Throws a RangeError for knots that are out of order or out
 * of range.
 */
export const shapeThread = defineEdit<ShapedThread & { what?: string; also?: readonly ShapedThread[] }>({
  name: 'shapeThread',
  together(session, args) {
    const also = sameThreads(session, args)
    return { args: also.length ? { ...args, also } : args, missing: [] }
  },
  label: (session, { ref, what }) => `${what ?? 'Shape'} in ${threadWords(session, ref)}`,
  apply: (session, { ref, knots, weaves, also = [] }) =>
    also.reduce(
      (next, other) => withKnots(next, other.ref, other.knots),
      withKnots(session, ref, knots, weaves),
    ),
})

/** The same for several threads at once, as one step with one name. */
export const shapeThreads = defineEdit<{
  threads: readonly ShapedThread[]
  what: string
}>({
  name: 'shapeThreads',
  together(session, args) {
    const given = new Set(args.threads.map((t) => refKey(t.ref)))
    const also = args.threads.flatMap((t) => sameThreads(session, t)).filter((t) => !given.has(refKey(t.ref)))
    return { args: also.length ? { ...args, threads: [...args.threads, ...also] } : args, missing: [] }
  },
  label: (session, { threads, what }) =>
    threads.length === 1
      ? `${what} in ${threadWords(session, threads[0]!.ref)}`
      : `${what} in ${threads.length} threads`,
  apply: (session, { threads }) =>
    threads.reduce((next, { ref, knots, weaves }) => withKnots(next, ref, knots, weaves), session),
})

/** Takes the shape out of the gain threads of regions; linked copies stay linked. */
export const resetThreads = defineEdit<{ regionIds: readonly string[] }>({
  name: 'resetThreads',
  together: groupRegions,
  label: (session, { regionIds }) => `Reset ${gainThreadLook.words} of ${regionWords(session, regionIds)}`,
  apply(session, { regionIds }) {
    let next: Session = session
    for (const id of regionIds)
      if (session.regions[id]?.gainThreadId) next = withKnots(next, { kind: 'region', regionId: id }, [])
    return next
  },
})
