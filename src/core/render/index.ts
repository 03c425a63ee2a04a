export { crossfadeSides, planRegion, planSession, type PlanOptions, type RegionPlan, type RenderPlan, type Sides, type TrackPlan } from './plan'
export { RENDER_BLOCK, Renderer, spansNeeded, type SourceReader, type SourceSpan, type Stage, type TrackMeter } from './run'
export { regionGain } from './region-gain'
