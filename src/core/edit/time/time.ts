import { insertKnot, threadKind, type ThreadKind } from '../../curve/knots'
import { arrivingValue } from '../../curve/thread'
import { weavesLeft } from '../../curve/weave'
import { placedKnots, placedWeaves, writtenKnots, writtenWeaves } from '../../model/lane-places'
import { findParameter, type Strip } from '../../model/parameters'
import { regionEnd, sessionLength } from '../../model/queries'
import { LIMITS, type Knot, type Lane, type LaneWeave, type Region, type Session } from '../../model/session'
import { secondsToBeat, type TempoChange } from '../../units/tempo'
import { showLength } from '../../units/typed'
import { splitRegions } from '../regions/split-join'
import { defineEdit } from '../shared/edit'
import { isOutOfDate, markOfTracks } from '../automation/give-way-mark'
import { withoutUnusedThreads } from '../regions/resolve-overlaps'
import { weaveContextOf } from '../automation/thread'

/** Why time cannot be cut at a frame: what lies there cannot be divided without changing its sound. */
function cutRefusal(session: Session, frame: number): string | null {
  for (const { leftId, rightId } of Object.values(session.crossfades)) {
    const [left, right] = [session.regions[leftId]!, session.regions[rightId]!]
    if (frame >= right.start && frame <= regionEnd(left))
      return `the crossfade of “${left.name}” into “${right.name}” lies there`
  }
  for (const region of Object.values(session.regions)) {
    const { fadeIn, fadeOut, start } = region
    if (frame <= start || frame >= regionEnd(region)) continue
    if (
      (fadeIn?.kind === 'tape' && frame < start + fadeIn.length) ||
      (fadeOut?.kind === 'tape' && frame > regionEnd(region) - fadeOut.length)
    )
      return `a tape fade of “${region.name}” lies there`
  }
  return null
}

const lockedAfter = (session: Session, frame: number): Region | undefined =>
  Object.values(session.regions).find((r) => r.locked && regionEnd(r) > frame)

/** Why no time can be inserted at a frame, as a sentence; null where it can. */
export function insertTimeRefusal(session: Session, at: number, frames: number): string | null {
  const cut = cutRefusal(session, at)
  if (cut) return `No time can be inserted here: ${cut}. Choose a place beside it.`
  const locked = lockedAfter(session, at)
  if (locked) return `No time can be inserted here: “${locked.name}” is locked and would have to move.`
  if (sessionLength(session) + frames > LIMITS.frames)
    return 'No time can be inserted here: the session would become too long.'
  return null
}

/** Why a range cannot be removed, as a sentence; null where it can. */
export function removeTimeRefusal(session: Session, from: number, to: number): string | null {
  for (const frame of [from, to]) {
    const cut = cutRefusal(session, frame)
    if (cut)
      return `This time cannot be removed: ${cut}, at the ${frame === from ? 'start' : 'end'} of the range. Mark another range.`
  }
  const locked = lockedAfter(session, from)
  return locked ? `This time cannot be removed: “${locked.name}” is locked.` : null
}

/** How a change of time moves what lies in it. Frames and beats (quarter notes) are those of before. */
interface TimeChange {
  knots(knots: readonly Knot[], kind: ThreadKind): readonly Knot[]
  weaves(weaves: readonly LaneWeave[]): readonly LaneWeave[]
}

function changedLanes(session: Session, strip: Strip, change: TimeChange): Record<string, Lane> {
  return Object.fromEntries(
    Object.entries(strip.lanes).map(([key, lane]) => {
      const parameter = findParameter(strip, key)
      if (!parameter) return [key, lane]
      const kind = threadKind(parameter.scale, parameter.laneDefault(strip))
      const { weaves: before, giveWay, ...rest } = lane
      const knots = change.knots(placedKnots(kind, lane.knots), kind)
      const weaves =
        before && weavesLeft(change.weaves(placedWeaves(kind, before)), knots, weaveContextOf(session, kind))
      return [
        key,
        {
          ...rest,
          knots: writtenKnots(kind, knots),
          ...(weaves?.length ? { weaves: writtenWeaves(kind, weaves) } : {}),
          ...(giveWay ? { giveWay: { ...giveWay, base: [...change.knots(giveWay.base, kind)] } } : {}),
        },
      ]
    }),
  )
}

/** The session with all lanes changed. What gave way to others still does: they moved along. */
function withLanes(before: Session, session: Session, change: TimeChange): Session {
  const moved: Session = {
    ...session,
    tracks: Object.fromEntries(
      Object.entries(session.tracks).map(([id, track]) => [
        id,
        { ...track, lanes: changedLanes(session, track, change) },
      ]),
    ),
    buses: Object.fromEntries(
      Object.entries(session.buses).map(([id, bus]) => [
        id,
        { ...bus, lanes: changedLanes(session, bus, change) },
      ]),
    ),
    mix: { ...session.mix, lanes: changedLanes(session, session.mix, change) },
  }
  const marked = (lanes: Record<string, Lane>): Record<string, Lane> =>
    Object.fromEntries(
      Object.entries(lanes).map(([key, lane]) => [
        key,
        lane.giveWay?.made !== undefined && !isOutOfDate(before, lane.giveWay)
          ? { ...lane, giveWay: { ...lane.giveWay, made: markOfTracks(moved, lane.giveWay.others) } }
          : lane,
      ]),
    )
  return {
    ...moved,
    tracks: Object.fromEntries(
      Object.entries(moved.tracks).map(([id, track]) => [id, { ...track, lanes: marked(track.lanes) }]),
    ),
    mix: { ...moved.mix, lanes: marked(moved.mix.lanes) },
  }
}

/** Divides what lies over frames of the session. */
const dividedAt = (session: Session, frames: readonly number[]): Session =>
  splitRegions.apply(session, { regionIds: Object.keys(session.regions), frames })

const beatAt = (session: Session, frame: number) => secondsToBeat(session.tempo, frame / session.sampleRate)

/** A beat that is as good as another one is that one. */
const AS_GOOD = 1e-9

/** Knots with a stretch of so many frames inserted in which the thread keeps the value that it has arrived at. */
function knotsWithTime(
  knots: readonly Knot[],
  at: number,
  frames: number,
  kind: ThreadKind,
): readonly Knot[] {
  const later = (k: Knot): Knot => ({ ...k, frame: Math.min(LIMITS.frames, k.frame + frames) })
  if (!knots.some((k) => k.frame < at)) return knots.map(later)
  if (!knots.some((k) => k.frame >= at)) return knots
  const divided = insertKnot(knots, at, undefined, kind).knots
  return [
    ...divided.filter((k) => k.frame < at),
    { frame: at, value: arrivingValue(knots, at), shape: 'hold', bend: 0 },
    ...divided.filter((k) => k.frame >= at).map(later),
  ]
}

/** Knots without what lies between two frames; where the two sides differ the thread steps. */
function knotsWithoutTime(
  knots: readonly Knot[],
  from: number,
  to: number,
  kind: ThreadKind,
): readonly Knot[] {
  const sooner = (k: Knot): Knot => ({ ...k, frame: k.frame - (to - from) })
  if (!knots.some((k) => k.frame < to)) return knots.map(sooner)
  if (!knots.some((k) => k.frame > from)) return knots
  let divided: readonly Knot[] = knots
  for (const frame of [from, to]) divided = insertKnot(divided, frame, undefined, kind).knots
  const arrives: Knot = { frame: from, value: arrivingValue(knots, from), shape: 'line', bend: 0 }
  const after = divided.filter((k) => k.frame >= to)
  // Of several knots at the end only the one that goes on belongs to what is left.
  while (after.length > 1 && after[1]!.frame === to) after.shift()
  const rest = after.map(sooner)
  const before = divided.filter((k) => k.frame < from)
  return rest[0]!.value === arrives.value ? [...before, ...rest] : [...before, arrives, ...rest]
}

const movedWeave = (weave: LaneWeave, by: number): LaneWeave => ({
  ...weave,
  from: weave.from + by,
  to: weave.to + by,
  origin: weave.origin + by,
})

/**
 * Inserts time on all tracks: what begins at frame `at` or later (regions, knots, weaves, markers, tempo changes) comes
 * so many frames later, what lies over it is divided, and lanes keep their values in between. No sample changes but by
 * its place. Changes nothing where `insertTimeRefusal` says why.
 */
export const insertTime = defineEdit<{ at: number; frames: number }>({
  name: 'insertTime',
  label: (session, { frames }) => `Insert ${showLength(frames, session.sampleRate)} on all tracks`,
  apply(session, { at, frames }) {
    if (frames < 1 || at < 0 || insertTimeRefusal(session, at, frames)) return session
    const later = (frame: number) => Math.min(LIMITS.frames, frame + frames)
    const divided = dividedAt(session, [at])
    const beat = beatAt(session, at)
    const beats = beatAt({ ...session, tempo: [tempoBefore(session.tempo, beat)] }, frames)
    return withLanes(
      session,
      {
        ...divided,
        regions: Object.fromEntries(
          Object.entries(divided.regions).map(([id, r]) => [
            id,
            r.start >= at ? { ...r, start: r.start + frames } : r,
          ]),
        ),
        markers: divided.markers.map((m) => (m.frame >= at ? { ...m, frame: later(m.frame) } : m)),
        tempo: divided.tempo.map((t) =>
          t.beat > 0 && t.beat >= beat - AS_GOOD ? { ...t, beat: t.beat + beats } : t,
        ),
      },
      {
        knots: (knots, kind) => knotsWithTime(knots, at, frames, kind),
        weaves: (weaves) =>
          weaves.flatMap((w) =>
            w.to <= at
              ? [w]
              : w.from >= at
                ? [movedWeave(w, frames)]
                : [{ ...w, to: at }, movedWeave({ ...w, from: at }, frames)],
          ),
      },
    )
  },
})

/** The tempo that holds just before a beat, as one from the start on. */
function tempoBefore(tempo: readonly TempoChange[], beat: number): TempoChange {
  const holds = tempo.findLast((t) => t.beat < beat - AS_GOOD) ?? tempo[0]!
  return { ...holds, beat: 0 }
}

/**
 * Removes the time between two frames from all tracks, with what lies in it; what comes later moves up, what lies over an
 * end is divided. Changes nothing where `removeTimeRefusal` says why.
 */
export const removeTime = defineEdit<{ from: number; to: number }>({
  name: 'removeTime',
  label: (session, { from, to }) => `Remove ${showLength(to - from, session.sampleRate)} on all tracks`,
  apply(session, { from, to }) {
    if (!(to > from) || from < 0 || removeTimeRefusal(session, from, to)) return session
    const gone = to - from
    const divided = dividedAt(session, [from, to])
    const regions: Session['regions'] = {}
    for (const [id, r] of Object.entries(divided.regions))
      if (r.start >= to) regions[id] = { ...r, start: r.start - gone }
      else if (r.start < from) regions[id] = r
    const [first, last] = [beatAt(session, from), beatAt(session, to)]
    const isIn = (t: TempoChange) => t.beat > first + AS_GOOD && t.beat <= last + AS_GOOD
    const holds = session.tempo.findLast(isIn)
    const tempo = [
      ...session.tempo.filter(
        (t) => t.beat <= first + AS_GOOD && !(holds && Math.abs(t.beat - first) <= AS_GOOD),
      ),
      ...(holds ? [{ ...holds, beat: first <= AS_GOOD ? 0 : first }] : []),
      ...session.tempo
        .filter((t) => t.beat > last + AS_GOOD)
        .map((t) => ({ ...t, beat: t.beat - (last - first) })),
    ]
    return withLanes(
      session,
      withoutUnusedThreads({
        ...divided,
        regions,
        crossfades: Object.fromEntries(
          Object.entries(divided.crossfades).filter(([, x]) => regions[x.leftId] && regions[x.rightId]),
        ),
        markers: session.markers.flatMap((m) =>
          m.frame >= to ? [{ ...m, frame: m.frame - gone }] : m.frame <= from ? [m] : [],
        ),
        tempo,
      }),
      {
        knots: (knots, kind) => knotsWithoutTime(knots, from, to, kind),
        weaves: (weaves) =>
          weaves.flatMap((w) => [
            ...(w.from < from ? [{ ...w, to: Math.min(w.to, from) }] : []),
            ...(w.to > to ? [movedWeave({ ...w, from: Math.max(w.from, to) }, -gone)] : []),
          ]),
      },
    )
  },
})
