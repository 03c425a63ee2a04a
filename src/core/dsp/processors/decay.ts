import { exp2Quick, ln, LOG2_OF_E } from '../../units/exact'
import type { Memory } from './processor'

/** How much of the way is gone with each frame, of a time in ms in which 1 - 1/e of it is. */
export const perFrame = (ms: number, sampleRate: number): number =>
  1 - exp2Quick((-1000 * LOG2_OF_E) / (ms * sampleRate))

/** Frames until what falls as `e^(-rate·t)`, `rate` in 1/s, has fallen to a part (under 1) of what it was. */
export const decayFrames = (rate: number, sampleRate: number, to: number): number =>
  Math.ceil((-ln(to) / rate) * sampleRate)

/** The same for what a filter remembers whose slowest pole lies at `hz`, times `damping` for a pair of poles. */
export const filterFrames = (hz: number, sampleRate: number, to: number, damping = 1): number =>
  decayFrames(2 * Math.PI * hz * damping, sampleRate, to)

/** What is left of what came in when nothing of it is heard any more: see `Memory.ringFrames`. */
const RUNG_OUT = 4e-8

/** The memory of what only follows a level, from a function that gives the frames until it has fallen to a part. */
export const memoryOf = (frames: (to: number) => number): Memory => ({
  tailFrames: frames(1e-6),
  settleFrames: frames(1e-7),
  ringFrames: 0,
})

/** The same of what sounds on; `rings` is how long, where that is not all that it remembers. */
export const ringingMemory = (
  frames: (to: number) => number,
  rings: (to: number) => number = frames,
): Memory => ({ ...memoryOf(frames), ringFrames: rings(RUNG_OUT) })
