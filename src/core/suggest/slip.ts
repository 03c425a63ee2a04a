import { regionEnd } from '../model/queries'
import type { Crossfade, Region, Session } from '../model/session'
import {
  planRegion,
  RegionRenderer,
  sourceSpan,
  type RegionPlan,
  type SourceReader,
  type SourceSpan,
} from '../render'

/**
 * How far the incoming region is shifted at most to find the best place, in seconds; and how much of the
 * overlap is compared.
 */
export const SLIP_SECONDS = 0.01
const COMPARED_SECONDS = 0.25

/**
 * The shift of the right region's sound (frames, positive: later) at which both sides agree best, with ρ as
 * it is and as it would be.
 */
export interface Slip {
  byFrames: number
  before: number
  after: number
}

const plain = (session: Session, region: Region): RegionPlan =>
  planRegion(session, { ...region, fadeIn: null, fadeOut: null }, undefined)

/**
 * The stretch that is compared, in the middle of the overlap, and how far the right sound can be shifted to
 * each side.
 */
function placeOf(session: Session, fade: Crossfade) {
  const [left, right] = [session.regions[fade.leftId]!, session.regions[fade.rightId]!]
  const overlap = regionEnd(left) - right.start
  const count = Math.min(overlap, Math.round(COMPARED_SECONDS * session.sampleRate))
  const from = right.start + Math.floor((overlap - count) / 2)
  const most = Math.round(SLIP_SECONDS * session.sampleRate)
  const after = session.sources[right.sourceId]!.frames - right.offset - right.length
  const [later, earlier] = right.reversed ? [after, right.offset] : [right.offset, after]
  return { left, right, from, count, later: Math.min(most, later), earlier: Math.min(most, earlier) }
}

/** The right region as if its edges were moved out by what a shift may need. */
function widened(session: Session, fade: Crossfade): { plan: RegionPlan; from: number; count: number } {
  const { right, from, count, later, earlier } = placeOf(session, fade)
  const start = from - later - right.start
  const region: Region = {
    ...right,
    start: right.start + start,
    offset: right.reversed ? right.offset - earlier : right.offset + start,
    length: right.length - start + earlier,
  }
  return { plan: plain(session, region), from: from - later, count: count + later + earlier }
}

/** The source frames that looking for the best shift reads. */
export function slipSpans(session: Session, fade: Crossfade): SourceSpan[] {
  const { left, from, count } = placeOf(session, fade)
  const wide = widened(session, fade)
  return [sourceSpan(plain(session, left), from, count), sourceSpan(wide.plan, wide.from, wide.count)]
}

const summed = (channels: readonly Float32Array[]) =>
  Float64Array.from(channels[0]!, (v, i) => channels.reduce((sum, c) => sum + c[i]!, 0 * v))

/** Finds, within ±10 ms and what hidden sound allows, the shift of the incoming region that makes ρ largest. */
export function bestSlip(session: Session, fade: Crossfade, reader: SourceReader): Slip {
  const { left, from, count, later, earlier } = placeOf(session, fade)
  const wide = widened(session, fade)
  const renderer = new RegionRenderer(reader)
  const sound = (plan: RegionPlan, at: number, frames: number) => {
    const out = Array.from({ length: plan.channels }, () => new Float32Array(frames))
    renderer.render(plan, at, out)
    return summed(out)
  }
  const x = sound(plain(session, left), from, count)
  const y = sound(wide.plan, wide.from, wide.count)
  const xx = x.reduce((sum, v) => sum + v * v, 0)
  const correlation = (shift: number) => {
    let [xy, yy] = [0, 0]
    const base = later - shift
    for (let i = 0; i < count; i++) {
      const v = y[base + i]!
      xy += x[i]! * v
      yy += v * v
    }
    return xx > 0 && yy > 0 ? xy / Math.sqrt(xx * yy) : 0
  }
  const before = correlation(0)
  let best: Slip = { byFrames: 0, before, after: before }
  for (let shift = -earlier; shift <= later; shift++) {
    const after = correlation(shift)
    if (after > best.after + 1e-9) best = { byFrames: shift, before, after }
  }
  return best
}
