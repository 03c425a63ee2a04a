import type { ChunkCache, ChunkedSound } from './chunk-cache'
import type { RenderPlan } from './plan'
import { Renderer } from './run'
import { spansNeeded } from './spans'
import type { Stage, TrackMeter } from './stage'

/** What is rendered: session frames `from` ≤ n < `to` of a stage, so many frames at a time. */
export interface BlockRange {
  from: number
  to: number
  stage?: Stage
  blockFrames?: number
  meter?: TrackMeter
}

/** A rendered block: the session frame of its beginning, and its two sides, which are its receiver's to keep. */
export interface RenderedBlock {
  from: number
  left: Float32Array<ArrayBuffer>
  right: Float32Array<ArrayBuffer>
}

/** Renders a range block by block, fetching the sound that each block needs. Memory does not grow with the length. */
export async function* renderedBlocks<Sound extends ChunkedSound>(
  plan: RenderPlan,
  cache: ChunkCache<Sound>,
  { from, to, stage = 'mix', blockFrames = 32768, meter }: BlockRange,
): AsyncGenerator<RenderedBlock> {
  const renderer = new Renderer(plan, cache)
  for (let at = from; at < to; at += blockFrames) {
    const count = Math.min(blockFrames, to - at)
    const block = { from: at, left: new Float32Array(count), right: new Float32Array(count) }
    await cache.using(spansNeeded(plan, at, count), () =>
      renderer.renderStage(stage, at, block.left, block.right, meter),
    )
    yield block
  }
}
