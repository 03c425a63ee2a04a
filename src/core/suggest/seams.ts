import { clamp } from '../units/clamp'
import { contiguous, crossfadeOf, joinRoom, mendSeams, type Cure } from '../edit'
import { measureSeam, SEAM_SECONDS, seamStandsDb, type SeamMeasure } from '../measure/seam'
import { excerpt } from '../model/excerpt'
import { identityOf } from '../model/identity'
import { regionEnd, regionsOf } from '../model/queries'
import type { Region, Session } from '../model/session'
import {
  measureCorrelations,
  planSession,
  Renderer,
  spansNeeded,
  type SourceReader,
  type SourceSpan,
} from '../render'
import { overlapSpans } from '../render'

/** A place where a region begins or ends, or where two meet. */
export interface Seam {
  /** Names it as long as its regions meet there. */
  id: string
  trackId: string
  frame: number
  kind: 'start' | 'end' | 'join' | 'crossfade'
  leftId: string | null
  rightId: string | null
}

/** A seam with what was measured, and the shortest cure where it clicks; null where none of the lengths is enough. */
export interface MeasuredSeam extends Seam, SeamMeasure {
  cure: Cure | null
}

/** Lengths that are tried, in milliseconds. */
const LENGTHS_MS = [1, 2, 5, 10, 20, 50]

/** All seams of a session, or of one track, in order. Muted regions count as not there. */
export function listSeams(session: Session, trackId?: string): Seam[] {
  return (trackId === undefined ? session.trackIds : [trackId]).flatMap((id) => {
    const regions = regionsOf(session, id).filter((r) => !r.muted)
    return regions.flatMap((region, i): Seam[] => {
      const [left, right] = [regions[i - 1], regions[i + 1]]
      const seams: Seam[] = []
      const seam = (kind: Seam['kind'], frame: number, leftId: string | null, rightId: string | null) =>
        seams.push({
          id: `${kind} ${leftId ?? ''} ${rightId ?? ''}`,
          trackId: id,
          frame,
          kind,
          leftId,
          rightId,
        })
      if (!left || regionEnd(left) < region.start) seam('start', region.start, null, region.id)
      if (!right || right.start > regionEnd(region)) seam('end', regionEnd(region), region.id, null)
      else seam(right.start < regionEnd(region) ? 'crossfade' : 'join', right.start, region.id, right.id)
      return seams
    })
  })
}

/** The frames at which a seam is looked at: where regions begin, end or meet, and the inner ends of what mends it. */
function places(session: Session, seam: Seam): number[] {
  const [left, right] = [session.regions[seam.leftId ?? ''], session.regions[seam.rightId ?? '']]
  const frames = [
    right?.start,
    left && regionEnd(left),
    right?.fadeIn && right.start + right.fadeIn.length,
    left?.fadeOut && regionEnd(left) - left.fadeOut.length,
  ]
  return [...new Set(frames.filter((f): f is number => typeof f === 'number' && f > 0))]
}

/** The track's regions near a seam, as a session of their own. */
function near(session: Session, seam: Seam): Session {
  const reach = Math.ceil(session.sampleRate * (SEAM_SECONDS + 0.06))
  const ids = regionsOf(session, seam.trackId)
    .filter((r) => r.start < seam.frame + reach && regionEnd(r) > seam.frame - reach)
    .map((r) => r.id)
  const part = excerpt(session, [...ids, ...[seam.leftId, seam.rightId].filter((id) => id !== null)])
  return { ...part, trackIds: [seam.trackId] }
}

const windowOf = (session: Session) => Math.round(session.sampleRate * SEAM_SECONDS)

/** The source frames that measuring a seam, with its cures, reads. */
export function seamSpans(session: Session, seam: Seam): SourceSpan[] {
  const part = near(session, seam)
  const margin = Math.ceil(session.sampleRate * 0.12)
  // Cures pull out sound beyond the edges.
  const spans: SourceSpan[] = Object.values(part.regions).flatMap((r) => {
    const { frames } = part.sources[r.sourceId]!
    return [seam.frame, ...places(session, seam)].map((frame) => {
      const at = r.reversed ? r.offset + r.length - 1 - (frame - r.start) : r.offset + frame - r.start
      const from = clamp(at - margin, 0, frames)
      return { sourceId: r.sourceId, from, count: Math.max(0, Math.min(frames, at + margin) - from) }
    })
  })
  const window = windowOf(session)
  const plan = planSession(part, { trackId: seam.trackId })
  return [
    ...spans,
    ...places(session, seam).flatMap((f) => spansNeeded(plan, Math.max(0, f - window), 2 * window)),
    ...Object.values(part.crossfades).flatMap((x) => overlapSpans(part, x)),
  ].filter((s) => s.count > 0)
}

/** Calls back with both sides of the track's sound before its inserts at a frame, channel by channel. */
function eachChannelAt(
  renderer: Renderer,
  part: Session,
  trackId: string,
  frame: number,
  call: (before: Float64Array, after: Float64Array) => void,
): void {
  const window = windowOf(part)
  const from = Math.max(0, frame - window)
  const sides = [new Float32Array(frame + window - from), new Float32Array(frame + window - from)]
  renderer.renderStage('clip', from, sides[0]!, sides[1]!)
  for (let c = 0; c < part.tracks[trackId]!.channels; c++) {
    const before = new Float64Array(window)
    before.set(sides[c]!.subarray(0, frame - from), window - (frame - from))
    call(before, Float64Array.from(sides[c]!.subarray(frame - from)))
  }
}

const rendererOf = (part: Session, trackId: string, reader: SourceReader) =>
  new Renderer(planSession(part, { trackId, correlations: measureCorrelations(part, reader) }), reader)

/** The worst of the places of a seam; what the spans name must be at hand. */
function look(part: Session, seam: Seam, reader: SourceReader): SeamMeasure {
  const renderer = rendererOf(part, seam.trackId, reader)
  let worst: SeamMeasure = { jump: 0, times: 0, clicks: false }
  for (const frame of places(part, seam))
    eachChannelAt(renderer, part, seam.trackId, frame, (before, after) => {
      const measured = measureSeam(before, after, part.sampleRate)
      if (
        (measured.clicks && !worst.clicks) ||
        (measured.clicks === worst.clicks && measured.jump > worst.jump)
      )
        worst = measured
    })
  return worst
}

/** By how much a mended seam still stands out of what surrounds it, in dB: at its ends, and between them. */
function standsOut(part: Session, seam: Seam, reader: SourceReader): number {
  const renderer = rendererOf(part, seam.trackId, reader)
  const ends = places(part, seam).sort((a, b) => a - b)
  const frames = ends.length > 1 ? [...ends, Math.round((ends[0]! + ends.at(-1)!) / 2)] : ends
  let most = -Infinity
  for (const frame of frames)
    eachChannelAt(renderer, part, seam.trackId, frame, (before, after) => {
      most = Math.max(most, seamStandsDb(before, after, part.sampleRate))
    })
  return most
}

/** The cures that are tried for a seam at one length, the better one first. */
function curesOf(session: Session, seam: Seam, lengthFrames: number): Cure[] {
  const { leftId, rightId } = seam
  if (leftId === null) return [{ kind: 'fade', regionId: rightId!, edge: 'in', lengthFrames }]
  if (rightId === null) return [{ kind: 'fade', regionId: leftId, edge: 'out', lengthFrames }]
  const join = { leftId, rightId }
  const [left, right] = [session.regions[leftId]!, session.regions[rightId]!]
  // A side that fades already keeps its fade; the bare one gets one of its own.
  if (left.fadeOut && !right.fadeIn) return [{ kind: 'fade', regionId: rightId, edge: 'in', lengthFrames }]
  if (right.fadeIn && !left.fadeOut) return [{ kind: 'fade', regionId: leftId, edge: 'out', lengthFrames }]
  const room = joinRoom(session, join)
  const fades: Cure = { kind: 'fades', leftId, rightId, lengthFrames }
  if (left.fadeOut || right.fadeIn) return [fades]
  if (!room || room.left + room.right < lengthFrames) return seam.kind === 'join' ? [fades] : []
  const known = crossfadeOf(session, join)
  // The halves of one recording agree, so their gains must add up to one.
  const one = contiguous(
    { ...left, clipGainDb: 0, gainThreadId: null, polarity: 1 },
    { ...right, clipGainDb: 0, gainThreadId: null, polarity: 1 },
  )
  return [
    { kind: 'crossfade', ...join, lengthFrames, law: known?.law ?? (one ? 'equal-gain' : 'equal-power') },
  ]
}

/** The longest cure that a region's own length allows. */
const fits = (session: Session, seam: Seam, length: number) =>
  [seam.leftId, seam.rightId].every((id) => id === null || session.regions[id]!.length > length)

/**
 * A cure is good where what is left stands out by no more than this, in dB; sounds do so by themselves now
 * and then.
 */
const GOOD_CURE_DB = 6
/** A longer cure has to be better by more than this, in dB, to be preferred where none is good. */
const BETTER_DB = 1

/**
 * Measures a seam, and finds the shortest cure where it clicks: one after which it clicks no more, and
 * nothing of it stands out in any octave. Where every length leaves something, as at a beat of a drum, it is
 * the one that leaves the least. What `seamSpans` names must be at hand.
 */
export function measureSeamOf(session: Session, seam: Seam, reader: SourceReader): MeasuredSeam {
  const part = near(session, seam)
  const measured = look(part, seam, reader)
  if (!measured.clicks) return { ...seam, ...measured, cure: null }
  let best: { cure: Cure; standsDb: number } | null = null
  for (const ms of LENGTHS_MS) {
    const length = Math.round((ms / 1000) * session.sampleRate)
    if (!fits(part, seam, length)) break
    for (const cure of curesOf(part, seam, length)) {
      const mended = mendSeams.apply(part, { cures: [cure] })
      if (mended === part || look(mended, seam, reader).clicks) continue
      const standsDb = standsOut(mended, seam, reader)
      if (standsDb <= GOOD_CURE_DB) return { ...seam, ...measured, cure }
      if (!best || standsDb < best.standsDb - BETTER_DB) best = { cure, standsDb }
    }
  }
  return { ...seam, ...measured, cure: best?.cure ?? null }
}

/** A word for everything that the measure of a seam depends on. */
export function seamKey(session: Session, seam: Seam): string {
  const part = near(session, seam)
  const side = (r: Region) => [
    r.start,
    r.offset,
    r.length,
    r.clipGainDb,
    r.polarity,
    r.sides,
    r.reversed,
    r.muted,
    r.fadeIn,
    r.fadeOut,
    part.sources[r.sourceId]!.sha256,
    r.gainThreadId === null ? 0 : identityOf(part.gainThreads[r.gainThreadId]!.knots),
  ]
  return JSON.stringify([
    seam.kind,
    seam.frame,
    Object.values(part.regions).map(side),
    Object.values(part.crossfades).map((x) => [x.law, x.out, x.in]),
  ])
}
