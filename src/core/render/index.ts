export {
  crossfadeSides,
  planRegion,
  planSession,
  soundingLength,
  type Correlations,
  type PlanOptions,
  type Sides,
} from './plan'
export type { RegionPlan, RenderPlan, TrackPlan } from './render-plan'
export { fileStart, soundingEnd } from './memory'
export type { PlanMemory } from './render-plan'
export { ChainRender, ProvidedChains, type ChainSlice } from './chain-render'
export { newGraphState, type GraphState } from './graph'
export { Renderer, type KeptRender } from './run'
export type { Stage, TrackMeter } from './stage'
export { RENDER_BLOCK } from './render-block'
export { spansNeeded, type SourceSpan } from './spans'
export { renderedBlocks, type BlockRange, type RenderedBlock } from './blocks'
export { gainAt } from './region-gain'
export { readRegion, RegionRenderer, sourceAt, sourceSpan } from './region-sound'
export { fetchCorrelations, measureCorrelations, overlapRelation, type OverlapRelation } from './overlap'
export type { SourceReader } from './source-reader'
export { CHUNK_FRAMES, ChunkCache, type ChunkedSound, type LoadChunk } from './chunk-cache'
