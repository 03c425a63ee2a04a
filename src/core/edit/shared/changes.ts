import { STEP_SECONDS } from '../../curve/thread'
import { allParameters, type Strip } from '../../model/parameters'
import { regionEnd } from '../../model/queries'
import type { Knot, Lane, Mix, Region, Session } from '../../model/session'
import { rowIds, rowOf, type Row } from '../../model/strips'
import { least, most } from '../../units/extremes'

/** A stretch of session frames, `from` ≤ n < `to`; `to` may be Infinity. */
export interface Span {
  from: number
  to: number
}

/** Where two versions of a session may sound different. */
export interface SoundChanges {
  /** By track or bus, as it leaves its fader, whether it is heard or not. Those that sound the same are left out. */
  tracks: Map<string, Span[]>
  /** Of the mix, besides where its tracks differ: its own fader, and which tracks are heard. */
  mix: Span[]
}

const ALL: Span = { from: 0, to: Infinity }

/** Where two lists of knots make another thread: between the knots around those that differ. */
function knotSpan(a: readonly Knot[], b: readonly Knot[], stepFrames: number): Span | null {
  if (a === b) return null
  // Without knots it is the fader that holds.
  if (a.length === 0 || b.length === 0) return a.length === b.length ? null : ALL
  const shorter = Math.min(a.length, b.length)
  let first = 0
  while (first < shorter && a[first] === b[first]) first++
  let same = 0
  while (same < shorter - first && a[a.length - 1 - same] === b[b.length - 1 - same]) same++
  if (first === a.length && first === b.length) return null
  return {
    from: first === 0 ? 0 : Math.max(0, a[first - 1]!.frame),
    to: same === 0 ? Infinity : a[a.length - same]!.frame + stepFrames,
  }
}

function* laneSpans(a: Lane | undefined, b: Lane | undefined, stepFrames: number): Generator<Span> {
  if (a === b) return
  const knots = (lane: Lane | undefined) => (!lane || lane.bypassed ? [] : lane.knots)
  const span = knotSpan(knots(a), knots(b), stepFrames)
  if (span) yield span
}

function* faderSpans(a: Strip, b: Strip, stepFrames: number): Generator<Span> {
  if (allParameters().some(({ value }) => value && value.read(a) !== value.read(b))) yield ALL
  for (const key of new Set([...Object.keys(a.lanes), ...Object.keys(b.lanes)]))
    yield* laneSpans(a.lanes[key], b.lanes[key], stepFrames)
}

function* rowSpans(a: Row, b: Row, stepFrames: number): Generator<Span> {
  if (a === b) return
  yield* faderSpans(a, b, stepFrames)
  if (
    a.trimDb !== b.trimDb ||
    a.polarity !== b.polarity ||
    a.sides !== b.sides ||
    a.panMode !== b.panMode ||
    a.channels !== b.channels ||
    a.inserts !== b.inserts
  )
    yield ALL
}

/** Whether a row is heard in another way: elsewhere, or not at all. */
const leadsElsewhere = (a: Row, b: Row) =>
  a.muted !== b.muted || a.soloed !== b.soloed || a.output !== b.output || a.sends !== b.sends

const sameInserts = (a: Mix, b: Mix) => a.inserts === b.inserts && a.lastInserts === b.lastInserts

const regionSpan = (region: Region): Span => ({ from: region.start, to: regionEnd(region) })

function addRegions(before: Session, after: Session, add: (region: Region) => void): void {
  const threadOf = (s: Session, r: Region) => (r.gainThreadId === null ? null : s.gainThreads[r.gainThreadId])
  const both = (id: string) => {
    for (const region of [before.regions[id], after.regions[id]]) if (region) add(region)
  }
  if (before.crossfades !== after.crossfades)
    for (const fade of [...Object.values(before.crossfades), ...Object.values(after.crossfades)])
      if (before.crossfades[fade.id] !== after.crossfades[fade.id]) {
        both(fade.leftId)
        both(fade.rightId)
      }
  if (before.regions === after.regions && before.gainThreads === after.gainThreads) return
  const changed = new Set<string>()
  const note = (id: string) => {
    changed.add(id)
    both(id)
  }
  for (const id in before.regions) {
    const [a, b] = [before.regions[id]!, after.regions[id]]
    if (!b || a !== b || threadOf(before, a) !== threadOf(after, b)) note(id)
  }
  for (const id in after.regions) if (!before.regions[id]) note(id)
  // Under the level law the other side of a crossfade changes with what both have in common.
  for (const { leftId, rightId } of Object.values(after.crossfades))
    if (changed.has(leftId) !== changed.has(rightId)) both(changed.has(leftId) ? rightId : leftId)
}

/** Where two versions of one session may sound different; null where that may be anywhere. */
export function soundChanges(before: Session, after: Session): SoundChanges | null {
  if (before.id !== after.id || before.panLaw !== after.panLaw || before.sampleRate !== after.sampleRate)
    return null
  const stepFrames = Math.ceil(STEP_SECONDS * after.sampleRate) + 1
  const changes: SoundChanges = { tracks: new Map(), mix: [...faderSpans(before.mix, after.mix, stepFrames)] }
  const add = (trackId: string, span: Span) => {
    const list = changes.tracks.get(trackId)
    if (list) list.push(span)
    else changes.tracks.set(trackId, [span])
  }
  if (before.mix.trimDb !== after.mix.trimDb || !sameInserts(before.mix, after.mix)) changes.mix.push(ALL)
  for (const id of rowIds(after)) {
    const [a, b] = [rowOf(before, id), rowOf(after, id)!]
    if (a === b) continue
    if (!a) add(id, ALL)
    else {
      for (const span of rowSpans(a, b, stepFrames)) add(id, span)
      if (leadsElsewhere(a, b)) changes.mix.push(ALL)
    }
  }
  if (rowIds(before).some((id) => !rowOf(after, id))) changes.mix.push(ALL)
  addRegions(before, after, (region) => add(region.trackId, regionSpan(region)))
  return changes
}

/**
 * A part of a session that a step changed: session frames of a track or, with null, of the mix. Without frames it is the
 * track as a whole: its name, its fader, its switches.
 */
export interface ChangedPlace {
  trackId: string | null
  span: Span | null
}

function* lanePlaces(before: Strip, after: Strip, trackId: string | null): Generator<ChangedPlace> {
  for (const key of new Set([...Object.keys(before.lanes), ...Object.keys(after.lanes)])) {
    const [a, b] = [before.lanes[key], after.lanes[key]]
    if (a === b) continue
    const knots = [...(a?.knots ?? []), ...(b?.knots ?? [])]
    const span = a && b ? knotSpan(a.knots, b.knots, 1) : null
    const ends = { from: least(knots, (k) => k.frame), to: most(knots, (k) => k.frame) }
    // Where a lane appears or goes altogether it is where its knots are.
    yield {
      trackId,
      span: knots.length
        ? { from: Math.max(span?.from ?? 0, ends.from), to: Math.min(span?.to ?? Infinity, ends.to) }
        : null,
    }
  }
}

const withoutLanes = <T extends Strip>({ lanes: _, ...rest }: T) => rest

function differs(a: object, b: object): boolean {
  const [x, y] = [a as Record<string, unknown>, b as Record<string, unknown>]
  return Object.keys({ ...x, ...y }).some((key) => x[key] !== y[key])
}

/** Where two versions of one session differ, to be looked at; tempo, markers and the title have no place here. */
export function changedPlaces(before: Session, after: Session): ChangedPlace[] {
  const places: ChangedPlace[] = []
  for (const id of new Set([...rowIds(before), ...rowIds(after)])) {
    const [a, b] = [rowOf(before, id), rowOf(after, id)]
    if (a === b || !b) continue
    if (!a || differs(withoutLanes(a), withoutLanes(b))) places.push({ trackId: id, span: null })
    if (a) places.push(...lanePlaces(a, b, id))
  }
  if (before.mix !== after.mix) {
    places.push(...lanePlaces(before.mix, after.mix, null))
    if (differs(withoutLanes(before.mix as Strip), withoutLanes(after.mix as Strip)))
      places.push({ trackId: null, span: null })
  }
  const spans = new Map<string, Span>()
  addRegions(before, after, (region) => {
    if (!after.tracks[region.trackId]) return
    const known = spans.get(region.trackId)
    const own = regionSpan(region)
    spans.set(region.trackId, {
      from: Math.min(known?.from ?? Infinity, own.from),
      to: Math.max(known?.to ?? 0, own.to),
    })
  })
  for (const [trackId, span] of spans) places.push({ trackId, span })
  return places
}
