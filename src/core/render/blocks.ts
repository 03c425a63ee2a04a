import { CHUNK_FRAMES, type ChunkCache, type ChunkedSound } from './region/chunk-cache'
import { fileStart } from './state/memory'
import type { Probe } from './graph/probe'
import type { RenderPlan } from './plan/render-plan'
import { Renderer } from './graph/run'
import { spansNeeded } from './plan/spans'
import type { Stage, TrackMeter } from './stage'

/** What is rendered: session frames `from` ≤ n < `to` of a stage, so many frames at a time. */
export interface BlockRange {
  from: number
  to: number
  stage?: Stage
  blockFrames?: number
  meter?: TrackMeter
  /** Is told the id of an insert that output NaN, and was left out. */
  onFault?(insertId: string): void
  /** Is told of the sound at inserts. */
  probe?: Probe
  /** Is called while what comes before the range is rendered; rendering goes on when what it returns is done. */
  onWarm?(part: number): Promise<void> | void
}

/** A rendered block: the session frame of its beginning, and its two sides, which are its receiver's to keep. */
export interface RenderedBlock {
  from: number
  left: Float32Array<ArrayBuffer>
  right: Float32Array<ArrayBuffer>
  /** Whether it is known to be silence; what is silent may be so without being known to. */
  silent?: boolean
}

/**
 * Renders a range block by block, fetching the sound that each block needs. Memory does not grow with the length. Where
 * something of the plan remembers, what comes before the range is rendered first, as far back as it matters; `onWarm` hears
 * how far that is, 0…1.
 */
export async function* renderedBlocks<Sound extends ChunkedSound>(
  plan: RenderPlan,
  cache: ChunkCache<Sound>,
  { from, to, stage = 'mix', blockFrames = 32768, meter, onWarm, onFault, probe }: BlockRange,
): AsyncGenerator<RenderedBlock> {
  const renderer = new Renderer(plan, cache, { onFault, probe })
  const start = stage === 'clip' ? from : fileStart(plan, from)
  const unheard = [new Float32Array(0), new Float32Array(0)]
  for (let at = start; at < from; at += blockFrames) {
    const count = Math.min(blockFrames, from - at)
    if (unheard[0]!.length !== count) unheard.fill(new Float32Array(count))
    await cache.using(spansNeeded(plan, at, count), () =>
      renderer.renderStage(stage, at, unheard[0]!, unheard[1]!),
    )
    await onWarm?.((at + count - start) / (from - start))
  }
  yield* blocksOf(renderer, cache, { from, to, stage, blockFrames, meter })
}

/** The same beginning with nothing remembered, whatever comes before: what sounds on from there is not in it. */
export async function* renderBlocksFrom<Sound extends ChunkedSound>(
  plan: RenderPlan,
  cache: ChunkCache<Sound>,
  { from, to, stage = 'mix', blockFrames = 32768 }: Pick<BlockRange, 'from' | 'to' | 'stage' | 'blockFrames'>,
): AsyncGenerator<RenderedBlock> {
  yield* blocksOf(new Renderer(plan, cache), cache, { from, to, stage, blockFrames })
}

type Rendered = Required<Pick<BlockRange, 'from' | 'to' | 'stage' | 'blockFrames'>> &
  Pick<BlockRange, 'meter'>

async function* blocksOf<Sound extends ChunkedSound>(
  renderer: Renderer,
  cache: ChunkCache<Sound>,
  { from, to, stage, blockFrames, meter }: Rendered,
): AsyncGenerator<RenderedBlock> {
  const { plan } = renderer
  for (let at = from; at < to; at += blockFrames) {
    const count = Math.min(blockFrames, to - at)
    const block = { from: at, left: new Float32Array(count), right: new Float32Array(count) }
    const spans = spansNeeded(plan, at, count)
    // Where nothing plays, and nothing sounds on, there is silence without rendering it.
    if (spans.length === 0 && !plan.memory.remembers) {
      yield { ...block, silent: true }
      continue
    }
    const soon = spansNeeded(plan, at + count, Math.min(CHUNK_FRAMES, to - at - count))
    await cache.using(spans, () => renderer.renderStage(stage, at, block.left, block.right, meter), soon)
    yield block
  }
}
