import { QUANTUM_FRAMES } from '../../dsp/processors'
import type { RegionPlan, RenderPlan } from './render-plan'
import { sourceSpan } from '../region/region-sound'

/** A stretch of a source that a render is about to read, in source frames. */
export interface SourceSpan {
  sourceId: string
  from: number
  count: number
}

/**
 * Where in a track's regions to begin looking for those that sound at a frame. Ends are not sorted where regions overlap, but
 * at most two overlap: one step back from the last start is enough.
 */
export const firstReaching = (regions: readonly RegionPlan[], frame: number): number => {
  let low = 0
  let high = regions.length
  while (low < high) {
    const middle = (low + high) >>> 1
    if (regions[middle]!.start <= frame) low = middle + 1
    else high = middle
  }
  return Math.max(0, low - 2)
}

/**
 * The source frames that rendering `count` session frames from `from` reads. Where something remembers, whole quanta are
 * rendered, and what looks ahead needs what comes later. `without` are tracks that are rendered elsewhere.
 */
export function spansNeeded(
  plan: RenderPlan,
  first: number,
  frames: number,
  without?: { has(trackId: string): boolean },
): SourceSpan[] {
  const { remembers, aheadFrames } = plan.memory
  const from = remembers ? Math.floor(first / QUANTUM_FRAMES) * QUANTUM_FRAMES : first
  const count = remembers
    ? Math.ceil((first + frames) / QUANTUM_FRAMES) * QUANTUM_FRAMES + aheadFrames - from
    : frames
  const spans: SourceSpan[] = []
  for (const track of plan.tracks) {
    if ((track.feeds.length === 0 && !plan.only?.has(track.id)) || without?.has(track.id)) continue
    for (let r = firstReaching(track.regions, from); r < track.regions.length; r++) {
      const region = track.regions[r]!
      if (region.start >= from + count) break
      const first = Math.max(from, region.start)
      const last = Math.min(from + count, region.end) - 1
      if (last < first) continue
      spans.push(sourceSpan(region, first, last - first + 1))
    }
  }
  return spans
}
