export {
  crossfadeSides,
  planRegion,
  planSession,
  type Correlations,
  type PlanOptions,
  type RegionPlan,
  type RenderPlan,
  type Sides,
  type TrackPlan,
} from './plan'
export { RENDER_BLOCK, Renderer, spansNeeded, type SourceSpan, type Stage, type TrackMeter } from './run'
export { gainAt } from './region-gain'
export { readRegion, RegionRenderer, sourceAt, sourceSpan } from './region-sound'
export { measureCorrelations, overlapRelation, type OverlapRelation } from './overlap'
export type { SourceReader } from './source-reader'
