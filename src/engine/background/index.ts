export {
  compareLoudness,
  measuredVersion,
  measureFailed,
  measureOf,
  measureSeams,
  measureStrip,
  measureTrack,
  millisecondPeaks,
  onMeasured,
  overlapPicture,
  phaseOf,
  phaseOfTracks,
  phraseSteps,
  relationFor,
  slipFor,
  tracksSteps,
} from './analysis'
export { COURSE_STEP_SECONDS } from './loudness-course'
export { type Overload, OverloadFinder } from './overloads'
export type { TrackPhase } from './track-phase'
