import type { Relation } from '../../curve/crossfade'
import { identityOf } from '../../model/identity'
import { regionEnd } from '../../model/queries'
import type { Crossfade, Region, Session } from '../../model/session'
import type { ChunkCache, ChunkedSound } from '../region/chunk-cache'
import { planRegion } from './plan-region'
import type { RegionPlan } from './render-plan'
import { RegionRenderer, sourceSpan } from '../region/region-sound'
import type { SourceReader } from '../region/source-reader'
import type { SourceSpan } from './spans'

/**
 * Frames looked at in one go, and the most of an overlap that is measured: beyond, evenly spread blocks stand
 * for the whole.
 */
const OVERLAP_BLOCK_FRAMES = 4096
const MOST_BLOCKS = 256

/**
 * How the two sides of a crossfade relate over their overlap, as they leave the gain stages and before the
 * crossfade.
 */
export type OverlapRelation = Relation

/** The regions of a crossfade without fades and crossfades, since these come after what is measured. */
function bare(session: Session, region: Region, unshaped: boolean): RegionPlan {
  return planRegion(
    session,
    {
      ...region,
      fadeIn: region.fadeIn?.kind === 'tape' ? region.fadeIn : null,
      fadeOut: region.fadeOut?.kind === 'tape' ? region.fadeOut : null,
    },
    undefined,
    unshaped,
  )
}

/** The blocks of an overlap that are measured: first session frame and length. */
function blocksOf(from: number, length: number): { from: number; count: number }[] {
  const all = Math.ceil(length / OVERLAP_BLOCK_FRAMES)
  const step = Math.max(1, all / MOST_BLOCKS)
  const blocks = []
  for (let b = 0; b < all; b += step) {
    const at = Math.floor(b) * OVERLAP_BLOCK_FRAMES
    blocks.push({ from: from + at, count: Math.min(OVERLAP_BLOCK_FRAMES, length - at) })
  }
  return blocks
}

/** The source frames that measuring an overlap reads, shaped or unshaped. */
export function overlapSpans(session: Session, fade: Crossfade, unshaped = false): SourceSpan[] {
  const [left, right] = [session.regions[fade.leftId]!, session.regions[fade.rightId]!]
  const plans = [bare(session, left, unshaped), bare(session, right, unshaped)]
  return blocksOf(right.start, regionEnd(left) - right.start).flatMap(({ from, count }) =>
    plans.map((plan) => sourceSpan(plan, from, count)),
  )
}

/**
 * Measures ρ = E[xy]/√(E[x²]·E[y²]) and the mean squares of the two sides of a crossfade over its overlap,
 * all channels together; a mono side stands for both channels of a stereo one. ρ is 0 where a side is silent.
 * What `overlapSpans` names must be at hand.
 */
export function overlapRelation(
  session: Session,
  fade: Crossfade,
  reader: SourceReader,
  unshaped = false,
): OverlapRelation {
  const [left, right] = [session.regions[fade.leftId]!, session.regions[fade.rightId]!]
  const [x, y] = [bare(session, left, unshaped), bare(session, right, unshaped)]
  const renderer = new RegionRenderer(reader)
  let [xy, xx, yy, frames] = [0, 0, 0, 0]
  for (const { from, count } of blocksOf(right.start, regionEnd(left) - right.start)) {
    const a = Array.from({ length: x.channels }, () => new Float32Array(count))
    const b = Array.from({ length: y.channels }, () => new Float32Array(count))
    renderer.render(x, from, a)
    renderer.render(y, from, b)
    const channels = Math.max(x.channels, y.channels)
    for (let c = 0; c < channels; c++) {
      const [p, q] = [a[Math.min(c, a.length - 1)]!, b[Math.min(c, b.length - 1)]!]
      for (let i = 0; i < count; i++) {
        xy += p[i]! * q[i]!
        xx += p[i]! * p[i]!
        yy += q[i]! * q[i]!
      }
      frames += count
    }
  }
  return { correlation: xx > 0 && yy > 0 ? xy / Math.sqrt(xx * yy) : 0, out: xx / frames, in: yy / frames }
}

/** A word for all that the relation of a crossfade's sides depends on. */
export function overlapKey(session: Session, fade: Crossfade, unshaped = false): string {
  const [left, right] = [session.regions[fade.leftId]!, session.regions[fade.rightId]!]
  const side = (r: Region) => {
    const knots = r.gainThreadId === null ? null : session.gainThreads[r.gainThreadId]!.knots
    return [
      session.sources[r.sourceId]!.sha256,
      r.offset,
      r.reversed,
      r.polarity,
      r.sides,
      r.clipGainDb,
      knots?.length ? identityOf(knots) : 0,
      r.fadeIn?.kind === 'tape' ? r.fadeIn : 0,
      r.fadeOut?.kind === 'tape' ? r.fadeOut : 0,
    ]
  }
  return JSON.stringify([
    unshaped,
    side(left),
    side(right),
    left.length,
    right.start - left.start,
    regionEnd(left) - right.start,
  ])
}

const byLevel = (session: Session) => Object.values(session.crossfades).filter((x) => x.law === 'level')

/**
 * The measured ρ of all crossfades by the level law, by their ids; others need none. It is that of the sound that is
 * rendered, shaped or unshaped. All sound must be at hand.
 */
export function measureCorrelations(
  session: Session,
  reader: SourceReader,
  unshaped = false,
): Map<string, number> {
  return new Map(
    byLevel(session).map((x) => [x.id, overlapRelation(session, x, reader, unshaped).correlation]),
  )
}

/** The same where the sound has to be fetched first. */
export async function fetchCorrelations<Sound extends ChunkedSound>(
  session: Session,
  cache: ChunkCache<Sound>,
  unshaped = false,
): Promise<Map<string, number>> {
  const map = new Map<string, number>()
  for (const fade of byLevel(session))
    map.set(
      fade.id,
      await cache.using(
        overlapSpans(session, fade, unshaped),
        () => overlapRelation(session, fade, cache, unshaped).correlation,
      ),
    )
  return map
}
