import { SOUND_FRAMES } from './frames'
import {
  FEEDBACKS,
  MIXES,
  REPEAT_STATES,
  WET_LEFT,
  WET_RIGHT,
  WRITTEN_LEFT,
  WRITTEN_RIGHT,
} from './processing-places'
import type { Sound } from './sound'

/** Frames from one time that what is too small to matter is taken for nothing to the next. */
const FLUSH_FRAMES = 64

type Both = readonly [Float64Array, Float64Array]

/** The loops of a delay. The arrays are shared by all that call it: nothing outlasts a call. */
export interface Repeats {
  /** What came out of the lines of both sides, from index 0 on. */
  readonly wets: Both
  /** What goes into them. */
  readonly written: Both
  /** How much of what came out goes in again, and how much of it is heard, 0…1, for every frame of the sound. */
  readonly feedbacks: Float64Array
  readonly mixes: Float64Array
  /** The states of the cuts of both sides. */
  readonly states: Float64Array
  /**
   * A high cut of first order (bilinear, its coefficient is `cut`) over the first `count` of what came out, which begin with frame
   * `from` of the sound; `fade` of it, the rest as it came.
   */
  cutHigh(from: number, count: number, cut: number, fade: number): void
  /** Works out what goes into the lines from frame `from` of the sound on, and mixes what came out into the sound. */
  mix(channels: 1 | 2, from: number, count: number): void
}

/** The definition: what every other form must give, to the bit. */
export function plainRepeats(sound: Sound, buffer: ArrayBuffer): Repeats {
  const arrays = repeatArrays(buffer)
  const { wets, written, feedbacks, mixes, states } = arrays
  return {
    ...arrays,
    cutHigh(from, count, cut, fade) {
      wets.forEach((wet, c) => {
        let state = states[c]!
        for (let k = 0; k < count; k++) {
          if ((from + k) % FLUSH_FRAMES === 0 && Math.abs(state) < 1e-30) state = 0
          const v = (wet[k]! - state) * cut
          const low = v + state
          state = low + v
          wet[k] = fade === 1 ? low : low * fade + wet[k]! * (1 - fade)
        }
        states[c] = state
      })
    },
    mix(channels, from, count) {
      for (let c = 0; c < channels; c++)
        for (let k = 0; k < count; k++) {
          const [x, wet, mix] = [sound[c]![from + k]!, wets[c as 0 | 1][k]!, mixes[from + k]!]
          written[c as 0 | 1][k] = x + feedbacks[from + k]! * wet
          sound[c]![from + k] = (1 - mix) * x + mix * wet
        }
    },
  }
}

export interface RepeatExports {
  cutRepeats(from: number, count: number, cut: number, fade: number): void
  mixRepeats(channels: number, from: number, count: number): void
}

function repeatArrays(buffer: ArrayBuffer) {
  const array = (at: number) => new Float64Array(buffer, at, SOUND_FRAMES)
  return {
    wets: [array(WET_LEFT), array(WET_RIGHT)] as const,
    written: [array(WRITTEN_LEFT), array(WRITTEN_RIGHT)] as const,
    feedbacks: array(FEEDBACKS),
    mixes: array(MIXES),
    states: new Float64Array(buffer, REPEAT_STATES, 2),
  }
}

/** The WebAssembly form. */
export const wasmRepeats = (buffer: ArrayBuffer, exports: RepeatExports): Repeats => ({
  ...repeatArrays(buffer),
  cutHigh: exports.cutRepeats,
  mix: exports.mixRepeats,
})
