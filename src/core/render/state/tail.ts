import type { ChunkCache, ChunkedSound } from '../region/chunk-cache'
import { QUANTUM_FRAMES } from '../../dsp/processors'
import { fileStart, soundingEnd } from './memory'
import type { RenderPlan } from '../plan/render-plan'
import { renderBlocksFrom } from '../blocks'
import type { Stage } from '../stage'

/** What a file has after the last region: nothing, what is heard of it, or so many seconds. */
export type Tail = 'none' | 'audible' | number

/** A sound that stays under this is not heard: -100 dBFS. */
export const AUDIBLE = 1e-5
/** So many times as long as it takes to settle within 1e-7 it is rendered before: then it is the file but for 1e-13. */
const SETTLING = 2

/** What a tail is looked for in. */
export interface TailOptions {
  stage: Exclude<Stage, 'clip'>
  tail: Tail
  /** Hears how far the search is, 0…1. */
  onPart?(part: number): Promise<void> | void
}

/** The session frame at which a file with such a tail ends at the latest. */
export function latestEnd(plan: RenderPlan, tail: Tail): number {
  if (tail === 'none') return plan.length
  return tail === 'audible'
    ? soundingEnd(plan).end
    : plan.length + (plan.length && Math.round(tail * plan.sampleRate))
}

/**
 * The session frame at which a file with such a tail ends: never before the end of the last region. An audible one ends where what is
 * rendered stays under -100 dBFS on all channels; it is rendered from where all that matters has settled, so that this
 * takes as long for an hour as for a minute.
 */
export async function tailEnd<Sound extends ChunkedSound>(
  plan: RenderPlan,
  cache: ChunkCache<Sound>,
  { stage, tail, onPart }: TailOptions,
): Promise<number> {
  const { length, memory } = plan
  const to = latestEnd(plan, tail)
  if (tail !== 'audible' || to === length) return to
  const settled = Math.floor((length - SETTLING * memory.settleFrames) / QUANTUM_FRAMES) * QUANTUM_FRAMES
  const from = Math.max(settled, fileStart(plan, length))
  return lastHeard(plan, cache, { stage, from, length, to, least: AUDIBLE, onPart })
}

/**
 * The session frame before which the last sample lies whose size is `least` or more, from `length` to `to`; `from` is where rendering
 * begins with nothing remembered.
 */
export async function lastHeard<Sound extends ChunkedSound>(
  plan: RenderPlan,
  cache: ChunkCache<Sound>,
  { stage, from, length, to, least, onPart }: Omit<TailOptions, 'tail'> & SearchRange,
): Promise<number> {
  let end = length
  for await (const block of renderBlocksFrom(plan, cache, { from, to, stage })) {
    for (const side of [block.left, block.right]) end = Math.max(end, block.from + lastOver(side, least) + 1)
    await onPart?.((block.from + block.left.length - from) / (to - from))
  }
  return end
}

interface SearchRange {
  from: number
  length: number
  to: number
  least: number
}

/** The last sample whose size is a level or more; far before the first where there is none. */
function lastOver(side: Float32Array, level: number): number {
  for (let i = side.length - 1; i >= 0; i--) if (Math.abs(side[i]!) >= level) return i
  return -Infinity
}
