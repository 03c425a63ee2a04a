export { addSounds, type NewSound } from './add-sounds'
export { changeClipGain, clipGainRoom, resetClipGain, setClipGain } from './clip-gain'
export type { Edit } from './edit'
export { crossfadeRoom, setFade, type FadeChange, type FadeEdge } from './fade'
export { setTitle } from './title'
export { setTrack, type TrackChange } from './track'
export { setMixVolume } from './mix'
export {
  contiguous, deleteRegions, duplicateRegions, fitsTracks, joinRegions, movable, moveRegions, moveRoom, setRegion, slipRegions, splitRegions, trimRegions, unlinkRegions, type RegionChange,
} from './arrange'
export { edgeRoom, type EdgeRoom } from './span'
export { copyRegions, pasteRegions, type Clip } from './paste'
export { resetThreads, shapeThread } from './thread'
