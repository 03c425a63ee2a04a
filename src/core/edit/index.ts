export { addSounds, type NewSound } from './add-sounds'
export { changeClipGain, clipGainRoom, resetClipGain, setClipGain, setClipGains } from './clip-gain'
export { alone, type Edit, type EditTogether } from './edit'
export { copyFades, crossfadeRoom, setFade, setFades, type FadeChange, type FadeEdge } from './fade'
export {
  alignCrossfade,
  crossfadeEdges,
  crossfadeJoins,
  crossfadeOf,
  joinRoom,
  joinsOf,
  removeCrossfades,
  setCrossfade,
  shiftCrossfade,
  spread,
  type CrossfadeChange,
  type Join,
  type JoinRoom,
} from './crossfade'
export { setTitle } from './title'
export { setTrack, type TrackChange } from './track'
export { addTrack, deleteTracks, duplicateTracks, moveTracks, setSolos, setTrackChannels } from './tracks'
export { addBus, busesFor, moveBus, removeBuses, setOutput } from './buses'
export { chainPreset, copyToOtherChain, putChain, setPreset, swapChains } from './chains'
export { setRegionSides, setTrackSides, SIDE_DB } from './sides'
export { readLane } from './read-lane'
export { setInsertKey } from './keys'
export { lastMove, moveGain, moveGainBack } from './move-gain'
export { movedGain, type GainMove, type GainMoved } from './moved-gain'
export { addSend, removeSend, setSend } from './sends'
export {
  addInsert,
  bypassInsert,
  copyInserts,
  insertOf,
  moveInsert,
  removeInsert,
  setInsertValue,
  setInsertValues,
  type Chain,
} from './inserts'
export { groupTracks, renameGroup, ungroupTracks } from './groups'
export { insertTime, insertTimeRefusal, removeTime, removeTimeRefusal } from './time'
export { fadeMix } from './fade-mix'
export { setParameter, setParameters } from './parameter'
export {
  fitsTracks,
  movable,
  moveRegions,
  moveRoom,
  setLengths,
  slipRegions,
  trimRegions,
} from './move-regions'
export { contiguous, joinRegions, splitRegions } from './split-join'
export { deleteRegions } from './delete-regions'
export { copyRegionsBy, duplicateRegions, freePlace } from './duplicate-regions'
export { setRegion, unlinkRegions, type RegionChange } from './set-region'
export { edgeRoom, type EdgeRoom } from './span'
export { mendSeams, type Cure } from './mend'
export { copyRegions, pasteRegions } from './paste'
export { goBackTo } from './go-back'
export { replaceSounds } from './replace-sound'
export { setGiveWay } from './give-way'
export { isOutOfDate, markOfTracks } from './give-way-mark'
export {
  automationOf,
  carryAutomation,
  carrying,
  clearAutomation,
  pasteAutomation,
  laneScaleName,
  shiftAutomation,
  type LaneClip,
} from './automation'
export { isAutomated, isBypassed, lanesWithKnots, setLanesBypassed } from './lane'
export { setPanMode } from './pan-mode'
export {
  laneKeysOf,
  loomOf,
  refKey,
  resetThreads,
  sameRef,
  shapeThread,
  shapeThreads,
  threadOf,
  threadWords,
  withKnots,
  stripOf,
  stripWords,
  type LaneRef,
  type ShapedThread,
  type ThreadRef,
  type ThreadState,
} from './thread'
export {
  detachWeave,
  placedWeave,
  removeWeave,
  resizedWeave,
  setWeave,
  weaveOf,
  type WeaveRef,
} from './weave'
export { setLanes, shiftLanes, type LaneScope } from './whole-lane'
export { addMarker, changeMarker, removeMarker } from './markers'
export { slowestRefusal, setTempo, tempoAt } from './tempo'
export { keepParts, type Part } from './keep-parts'
export { closeGapsRefusal, cutAndClose, gapsOf, type Parts } from './cut-silence'
export { canPutBack, partToRender, putBackRendered, renderInPlace } from './render-in-place'
