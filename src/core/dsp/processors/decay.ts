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

/** A memory from a function that gives the frames until what is remembered has fallen to a part. */
export const memoryOf = (frames: (to: number) => number): Memory => ({
  tailFrames: frames(1e-6),
  settleFrames: frames(1e-7),
})
