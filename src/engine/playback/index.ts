export {
  type FaderDevice,
  type FaderMove,
  midiDevices,
  moveSimulated,
  PickUp,
  simulatedFader,
} from './midi-faders'
export { type Monitor, type MonitorView, monitorViews, PLAIN_MONITOR } from './monitor'
export { type HeardPlace, Player, type PlayerNotice } from './player'
export { NOTHING_WATCHED, type Watch, type Watched } from './probes'
export type { Listening } from './render-loop'
export {
  copyRing,
  createRing,
  framesRead,
  METER_FRAMES,
  METER_NUMBERS,
  positionAt,
  PROBE_NUMBERS,
  PROBE_SLOTS,
  PROBES,
  AUDIO_QUANTUM,
  setFramesRead,
} from './ring'
export { type FrameRange, Stream } from './stream'
export type { TestPlayer } from './test-player'
export { Preroller, prerollFrom } from './preroll'
