export { addSounds, type NewSound } from './regions/add-sounds'
export { changeClipGain, clipGainRoom, resetClipGain, setClipGain, setClipGains } from './regions/clip-gain'
export { alone, type Edit, type EditTogether } from './shared/edit'
export { copyFades, crossfadeRoom, setFade, setFades, type FadeChange, type FadeEdge } from './regions/fade'
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
} from './regions/crossfade'
export { setTitle } from './shared/title'
export { setTrack, type TrackChange } from './strips/track'
export {
  addTrack,
  deleteTracks,
  duplicateTracks,
  moveTracks,
  setSolos,
  setTrackChannels,
} from './strips/tracks'
export { addBus, busesFor, moveBus, removeBuses, setOutput } from './strips/buses'
export { chainPreset, copyToOtherChain, putChain, setPreset, swapChains } from './strips/chains'
export { setRegionSides, setTrackSides, SIDE_DB } from './regions/sides'
export { readLane } from './automation/read-lane'
export { setInsertKey } from './strips/sidechain'
export { lastMove, moveGain, moveGainBack } from './regions/move-gain'
export { movedGain, type GainMove, type GainMoved } from './regions/moved-gain'
export { addSend, removeSend, setSend } from './strips/sends'
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
} from './strips/inserts'
export { groupTracks, renameGroup, ungroupTracks } from './regions/groups'
export { insertTime, insertTimeRefusal, removeTime, removeTimeRefusal } from './time/time'
export { fadeMix } from './regions/fade-mix'
export { setParameter, setParameters } from './automation/parameter'
export {
  fitsTracks,
  movable,
  moveRegions,
  moveRoom,
  setLengths,
  slipRegions,
  trimRegions,
} from './regions/move-regions'
export { contiguous, joinRegions, splitRegions } from './regions/split-join'
export { deleteRegions } from './regions/delete-regions'
export { copyRegionsBy, duplicateRegions, freePlace } from './regions/duplicate-regions'
export { setRegion, unlinkRegions, type RegionChange } from './regions/set-region'
export { edgeRoom, type EdgeRoom } from './shared/span'
export { mendSeams, type Cure } from './regions/mend'
export { copyRegions, pasteRegions } from './regions/paste'
export { goBackTo } from './shared/go-back'
export { replaceSounds } from './regions/replace-sound'
export { setGiveWay } from './automation/give-way'
export { isOutOfDate, markOfTracks } from './automation/give-way-mark'
export {
  automationOf,
  carryAutomation,
  carrying,
  clearAutomation,
  pasteAutomation,
  laneScaleName,
  shiftAutomation,
  type LaneClip,
} from './automation/automation'
export { isAutomated, isBypassed, lanesWithKnots, setLanesBypassed } from './automation/lane'
export { setPanMode } from './automation/pan-mode'
export { refKey, sameRef, type LaneRef, type ThreadRef } from './shared/thread-ref'
export { laneKeysOf } from '../model/parameters'
export { stripOf } from '../model/strips'
export {
  weaveContextOf,
  resetThreads,
  shapeThread,
  shapeThreads,
  threadOf,
  threadWords,
  withKnots,
  stripWords,
  type ShapedThread,
  type ThreadState,
} from './automation/thread'
export {
  detachWeave,
  placedWeave,
  removeWeave,
  resizedWeave,
  setWeave,
  weaveOf,
  type WeaveRef,
} from './automation/weave'
export { setLanes, shiftLanes, type LaneScope } from './automation/whole-lane'
export { addMarker, changeMarker, removeMarker } from './time/markers'
export { slowestRefusal, setTempo, tempoAt } from './time/tempo'
export { keepParts, type Part } from './regions/keep-parts'
export { closeGapsRefusal, cutAndClose, gapsOf, type Parts } from './regions/cut-silence'
export { canPutBack, partToRender, putBackRendered, renderInPlace } from './regions/render-in-place'
export { type ChangedPlace, changedPlaces, soundChanges, type Span } from './shared/changes'
export { defineEdit } from './shared/edit'
