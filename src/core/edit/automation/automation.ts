import { clearBetween, clipOf, putClip, type ThreadClip } from '../../curve/clip'
import { putWeave } from '../../curve/weave'
import { findCommonParameter } from '../../model/parameters'
import { regionEnd } from '../../model/queries'
import type { LaneWeave, Region, Session } from '../../model/session'
import { defineEdit, type Edit } from '../shared/edit'
import { lanesInWords, weaveContextOf, threadOf, withKnots, type ThreadState } from './thread'
import type { LaneRef } from '../shared/thread-ref'
import { laneKeysOf } from '../../model/parameters'

/** Seconds of the ramps that join what was put into a lane to what is left of it. */
const JOIN_SECONDS = 0.001

/** What a lane does over a stretch, to be put elsewhere; its weaves, like its knots, count from its start. */
export interface LaneClip extends ThreadClip {
  weaves: readonly LaneWeave[]
}

const movedWeave = (weave: LaneWeave, by: number): LaneWeave => ({
  ...weave,
  from: weave.from + by,
  to: weave.to + by,
  origin: weave.origin + by,
})

const laneClip = ({ knots, weaves, kind }: ThreadState, from: number, to: number): LaneClip => ({
  ...clipOf(knots, from, to, kind),
  weaves: weaves.flatMap((w) =>
    w.to > from && w.from < to
      ? [movedWeave({ ...w, from: Math.max(w.from, from), to: Math.min(w.to, to) }, -from)]
      : [],
  ),
})

/**
 * What a lane does over a range of session frames; null for a lane that is not there. Throws a RangeError
 * when `to` is not after `from`.
 */
export function automationOf(session: Session, ref: LaneRef, from: number, to: number): LaneClip | null {
  const thread = threadOf(session, ref)
  return thread && laneClip(thread, from, to)
}

/** The name of a lane's scale: what it does can be put into lanes of the same one, levels into levels, pans into pans. */
export const laneScaleName = (session: Session, ref: LaneRef): string | undefined =>
  threadOf(session, ref)?.look.scale.name

/** The lane of another strip that takes what a lane does; undefined where there is none. */
function laneFor(session: Session, trackId: string, lane: string, scaleName: string): string | undefined {
  const keys = laneKeysOf(session, trackId)
  if (keys.includes(lane)) return lane
  // What an insert or a send does is about that one alone.
  if (!findCommonParameter(lane)) return undefined
  return keys.find((key) => laneScaleName(session, { kind: 'lane', trackId, lane: key }) === scaleName)
}

function put(session: Session, ref: LaneRef, at: number, clip: LaneClip): Session {
  const thread = threadOf(session, ref)
  if (!thread) return session
  const { kind } = thread
  const context = weaveContextOf(session, kind)
  const weaves = clip.weaves.map((w) => movedWeave(w, at))
  // A weave follows the beats of the place that it has come to.
  const knots = weaves.reduce<ThreadState['knots']>(
    (now, weave) => putWeave(now, weave, context, weave),
    putClip(thread.knots, at, clip, Math.round(session.sampleRate * JOIN_SECONDS), kind),
  )
  const kept = withKnots(session, ref, knots)
  return weaves.length
    ? withKnots(
        kept,
        ref,
        knots,
        [...threadOf(kept, ref)!.weaves, ...weaves].sort((a, b) => a.from - b.from),
      )
    : kept
}

function clear(session: Session, ref: LaneRef, from: number, to: number): Session {
  const thread = threadOf(session, ref)
  return thread ? withKnots(session, ref, clearBetween(thread.knots, from, to, thread.kind)) : session
}

/**
 * Takes the knots of lanes out of a range of session frames: a straight line is left there, and nothing
 * changes outside.
 */
export const clearAutomation = defineEdit<{
  lanes: readonly LaneRef[]
  from: number
  to: number
  verb?: 'Clear' | 'Cut'
}>({
  name: 'clearAutomation',
  label: (session, { lanes, verb }) => `${verb ?? 'Clear'} a range of ${lanesInWords(session, lanes)}`,
  apply: (session, { lanes, from, to }) =>
    to > from ? lanes.reduce((next, ref) => clear(next, ref, from, to), session) : session,
})

/**
 * Puts what was copied into lanes from session frame `at` on, `times` one after the other (1…999), in place
 * of what they did there.
 */
export const pasteAutomation = defineEdit<{
  clips: readonly { ref: LaneRef; clip: LaneClip }[]
  at: number
  times: number
}>({
  name: 'pasteAutomation',
  label: (session, { clips, times }) =>
    `${times > 1 ? `Repeat ${times} times in` : 'Paste into'} ${lanesInWords(
      session,
      clips.map((c) => c.ref),
    )}`,
  apply(session, { clips, at, times }) {
    let next = session
    for (const { ref, clip } of clips)
      for (let n = 0; n < Math.min(999, times); n++)
        next = put(next, ref, Math.max(0, Math.round(at)) + n * clip.length, clip)
    return next
  },
})

/**
 * Moves what lanes do in a range by so many frames, not before the start of the session; where it was a
 * straight line is left.
 */
export const shiftAutomation = defineEdit<{
  lanes: readonly LaneRef[]
  from: number
  to: number
  byFrames: number
}>({
  name: 'shiftAutomation',
  label: (session, { lanes }) => `Shift a range of ${lanesInWords(session, lanes)}`,
  apply(session, { lanes, from, to, byFrames }) {
    const by = Math.max(-from, Math.round(byFrames))
    if (by === 0 || to <= from) return session
    return lanes.reduce((next, ref) => {
      const thread = threadOf(next, ref)
      return thread && thread.knots.length > 0
        ? put(clear(next, ref, from, to), ref, from + by, laneClip(thread, from, to))
        : next
    }, session)
  },
})

/**
 * A region that was moved, copied or deleted: where it was and, unless it was deleted, where it is. `stays`
 * tells of a copy.
 */
interface Travel {
  from: Region
  to: Region | null
  stays: boolean
}

const sameSound = (a: Region, b: Region) =>
  a.sourceId === b.sourceId && a.offset === b.offset && a.length === b.length && a.reversed === b.reversed

function travelsOf(before: Session, after: Session): Travel[] {
  const travels: Travel[] = []
  for (const id in before.regions) {
    const [from, to] = [before.regions[id]!, after.regions[id]]
    if (from === to) continue
    if (!to) travels.push({ from, to: null, stays: false })
    else if (sameSound(from, to) && (from.start !== to.start || from.trackId !== to.trackId))
      travels.push({ from, to, stays: false })
  }
  for (const id in after.regions) {
    if (before.regions[id]) continue
    const to = after.regions[id]!
    const original = Object.values(before.regions)
      .filter((r) => sameSound(r, to) && r.name === to.name)
      .sort((a, b) => Math.abs(a.start - to.start) - Math.abs(b.start - to.start))[0]
    if (original) travels.push({ from: original, to, stays: true })
  }
  return travels
}

/**
 * The session after regions were moved, copied or deleted, with what the lanes of their tracks did under them
 * taken along (levels to the volume, pans to the pan of the new track), or taken out with those that are
 * gone. Lanes without knots have nothing that could go.
 */
export function carryAutomation(before: Session, after: Session): Session {
  const travels = travelsOf(before, after)
  let next = after
  const puts: { ref: LaneRef; at: number; clip: LaneClip }[] = []
  for (const { from, to, stays } of travels) {
    if (!before.tracks[from.trackId] || !next.tracks[from.trackId]) continue
    for (const lane of laneKeysOf(before, from.trackId)) {
      const ref: LaneRef = { kind: 'lane', trackId: from.trackId, lane }
      const thread = threadOf(before, ref)!
      if (thread.knots.length === 0) continue
      if (to) {
        const target = laneFor(next, to.trackId, lane, thread.look.scale.name)
        if (target === undefined) continue
        puts.push({
          ref: { kind: 'lane', trackId: to.trackId, lane: target },
          at: to.start,
          clip: laneClip(thread, from.start, regionEnd(from)),
        })
      }
      if (!stays) next = clear(next, ref, from.start, regionEnd(from))
    }
  }
  return puts.reduce((session, { ref, at, clip }) => put(session, ref, at, clip), next)
}

/** The same edit of regions, with the automation under them going along when `travels` is set. */
export const carrying = <Args>(edit: Edit<Args>, travels: boolean): Edit<Args> =>
  travels
    ? {
        ...edit,
        apply(session, args) {
          const after = edit.apply(session, args)
          return after === session ? session : carryAutomation(session, after)
        },
      }
    : edit
