import { gainKind, panKind, type ThreadKind } from '../curve/knots'
import type { Knot, Lane, Session } from '../model/session'
import { dbToHeight } from '../units/taper'
import { defineEdit, regionWords } from './edit'
import { withMix, withTrack } from './owner'
import { freshId } from './span'

/** The lanes of tracks; the mix has the first two. */
export type LaneKey = 'volume' | 'pan' | 'panLeft' | 'panRight'

/** Which thread is meant: that of a region (in source frames), or a lane of a track or, with null, of the mix (in session frames). */
export type ThreadRef =
  { kind: 'region'; regionId: string } | { kind: 'lane'; trackId: string | null; lane: LaneKey }

/** A thread as it is: its knots, and what its values are. */
export interface ThreadState {
  knots: readonly Knot[]
  kind: ThreadKind
}

/** A word for a reference, the same for the same thread of the same owner. */
export const refKey = (ref: ThreadRef): string =>
  ref.kind === 'region' ? `region ${ref.regionId}` : `lane ${ref.trackId ?? ''} ${ref.lane}`

export const sameRef = (a: ThreadRef, b: ThreadRef): boolean => refKey(a) === refKey(b)

const none: readonly Knot[] = []

const lanesOf = (session: Session, trackId: string | null): Record<string, Lane> | undefined =>
  (trackId === null ? session.mix : session.tracks[trackId])?.lanes

/** The thread that a reference means; null when its region or track is not there, or the mix has no such lane. */
export function threadOf(session: Session, ref: ThreadRef): ThreadState | null {
  if (ref.kind === 'region') {
    const region = session.regions[ref.regionId]
    return region
      ? {
          knots: region.gainThreadId === null ? none : session.gainThreads[region.gainThreadId]!.knots,
          kind: gainKind(),
        }
      : null
  }
  const owner = ref.trackId === null ? session.mix : session.tracks[ref.trackId]
  if (!owner || (ref.trackId === null && !MIX_LANES.includes(ref.lane))) return null
  const knots = owner.lanes[ref.lane]?.knots ?? none
  if (ref.lane === 'volume')
    return { knots, kind: gainKind(owner.volumeDb === null ? 0 : dbToHeight(owner.volumeDb)) }
  return {
    knots,
    kind: panKind(ref.lane === 'panLeft' ? -1 : ref.lane === 'panRight' ? 1 : (owner.pan ?? 0)),
  }
}

/** The lanes that act on a track, or with null on the mix: its volume, and its pan or the pans of both channels. */
export function laneKeysOf(session: Session, trackId: string | null): LaneKey[] {
  if (trackId === null) return [...MIX_LANES]
  const track = session.tracks[trackId]!
  return track.channels === 2 && track.panMode === 'pair'
    ? ['volume', 'panLeft', 'panRight']
    : ['volume', 'pan']
}

const MIX_LANES: readonly LaneKey[] = ['volume', 'pan']

const laneWords: Record<LaneKey, string> = {
  volume: 'volume',
  pan: 'pan',
  panLeft: 'left pan',
  panRight: 'right pan',
}

/** The thread in words: gain thread of “wheel turn”, volume of “Narrator”. */
export function threadWords(session: Session, ref: ThreadRef): string {
  if (ref.kind === 'region') return `gain thread of ${regionWords(session, [ref.regionId])}`
  return `${laneWords[ref.lane]} of ${ref.trackId === null ? 'the mix' : `“${session.tracks[ref.trackId]?.name ?? ''}”`}`
}

function checkKnots(knots: readonly Knot[], kind: ThreadKind): void {
  let last = -Infinity
  for (const { frame, value } of knots) {
    if (!(value >= kind.min && value <= kind.max))
      throw new RangeError(`a knot at ${value} is outside ${kind.min}…${kind.max}`)
    if (frame < last) throw new RangeError(`a knot at frame ${frame} comes after one at ${last}`)
    last = frame
  }
}

/** The session with other knots in a thread; the same session when they are the same. */
export function withKnots(session: Session, ref: ThreadRef, knots: readonly Knot[]): Session {
  const thread = threadOf(session, ref)
  if (!thread) return session
  checkKnots(knots, thread.kind)
  const before = thread.knots
  if (before.length === knots.length && before.every((k, i) => k === knots[i])) return session
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
  const lanes = lanesOf(session, ref.trackId)!
  // Knots changed by hand are ordinary ones; they no longer follow from other tracks.
  const { giveWay: _, ...kept } = { bypassed: false, visible: true, ...lanes[ref.lane] }
  const lane: Lane = { ...kept, knots: [...knots] }
  const changed = { lanes: { ...lanes, [ref.lane]: lane } }
  return ref.trackId === null ? withMix(session, changed) : withTrack(session, ref.trackId, changed)
}

/**
 * Gives a thread other knots (sorted, in range); all linked copies of a region follow. `what` names the step: "Plateau" makes "Plateau in
 * gain thread of …". Throws a RangeError for knots that are out of order or out of range.
 */
export const shapeThread = defineEdit<{ ref: ThreadRef; knots: readonly Knot[]; what?: string }>({
  name: 'shapeThread',
  label: (session, { ref, what }) => `${what ?? 'Shape'} in ${threadWords(session, ref)}`,
  apply: (session, { ref, knots }) => withKnots(session, ref, knots),
})

/** The same for several threads at once, as one step with one name. */
export const shapeThreads = defineEdit<{
  threads: readonly { ref: ThreadRef; knots: readonly Knot[] }[]
  what: string
}>({
  name: 'shapeThreads',
  label: (session, { threads, what }) =>
    threads.length === 1
      ? `${what} in ${threadWords(session, threads[0]!.ref)}`
      : `${what} in ${threads.length} threads`,
  apply: (session, { threads }) =>
    threads.reduce((next, { ref, knots }) => withKnots(next, ref, knots), session),
})

/** Takes the shape out of the gain threads of regions; linked copies stay linked. */
export const resetThreads = defineEdit<{ regionIds: readonly string[] }>({
  name: 'resetThreads',
  label: (session, { regionIds }) => `Reset gain thread of ${regionWords(session, regionIds)}`,
  apply(session, { regionIds }) {
    let next: Session = session
    for (const id of regionIds)
      if (session.regions[id]?.gainThreadId) next = withKnots(next, { kind: 'region', regionId: id }, [])
    return next
  },
})
