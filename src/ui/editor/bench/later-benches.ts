/** Benches that the editor does not begin with, in one part of the program that follows it. */
export { CrossfadeView } from './crossfade-view'
export { RegionList } from './region-list'
export { StripBench } from './strip-bench'
