export {
  changeIsHeard,
  isUserBusy,
  jobBegins,
  jobsRun,
  onJobs,
  onRestReason,
  playbackBegins,
  type RestReason,
  setPointerHeld,
  untilIdle,
  watchInteraction,
  whenIdle,
} from './background-pause'
export { loadAhead } from './load-ahead'
export { Cancelled, type OnProgress, type Progress } from './progress'
export { callable, WorkerLost } from './worker-call'
export { exposeJobs, inWorker, seldomly } from './worker-job'
