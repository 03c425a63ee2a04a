import { SOUND_FRAMES } from './frames'
import { SOURCE_LEFT, SOURCE_RIGHT } from './processing-places'
import type { Cubic } from '../levels'

/** Both sides of the sound that processors change in place. */
export type Sound = readonly [Float64Array, Float64Array]

/** Brings sound to the processors, and looks at it. */
export interface SoundLoops {
  /** Where both sides of a source are put before they are placed. */
  readonly source: readonly [Float32Array, Float32Array]
  /**
   * Writes the first `count` frames of the source, times `gain`, into the sound from frame `at` on; with a thread (of heights)
   * `gain` is multiplied by the cube of its height.
   */
  placeSource(at: number, count: number, channels: 1 | 2, gain: number, thread: Cubic | null): void
  /** Whether all of the sound from frame `from` to `to` are numbers. */
  isFinite(channels: 1 | 2, from: number, to: number): boolean
}

/** The definition: what every other form must give, to the bit. */
export function plainSound(sound: Sound, buffer: ArrayBuffer): SoundLoops {
  const source = sourcesIn(buffer)
  return {
    source,
    placeSource(at, count, channels, gain, thread) {
      for (let i = 0; i < count; i++) {
        let g = gain
        if (thread) {
          const { start, c0, c1, c2, c3 } = thread
          const t = start + i
          const h = c0 + t * (c1 + t * (c2 + t * c3))
          g = h * h * h * gain
        }
        for (let c = 0; c < channels; c++) sound[c]![at + i] = 0 + source[c]![i]! * g
      }
    },
    isFinite(channels, from, to) {
      let sum = 0
      for (let c = 0; c < channels; c++) for (let i = from; i < to; i++) sum += sound[c]![i]! * 0
      return sum === 0
    },
  }
}

export interface SoundExports {
  placeSource(at: number, count: number, channels: number, threaded: boolean, ...by: number[]): void
  isFiniteSound(channels: number, from: number, to: number): number
}

const sourcesIn = (buffer: ArrayBuffer) =>
  [
    new Float32Array(buffer, SOURCE_LEFT, SOUND_FRAMES),
    new Float32Array(buffer, SOURCE_RIGHT, SOUND_FRAMES),
  ] as const

/** The WebAssembly form. */
export const wasmSound = (buffer: ArrayBuffer, exports: SoundExports): SoundLoops => ({
  source: sourcesIn(buffer),
  placeSource(at, count, channels, gain, thread) {
    if (thread) {
      const { start, c0, c1, c2, c3 } = thread
      exports.placeSource(at, count, channels, true, gain, start, c0, c1, c2, c3)
    } else exports.placeSource(at, count, channels, false, gain, 0, 0, 0, 0, 0)
  },
  isFinite: (channels, from, to) => exports.isFiniteSound(channels, from, to) !== 0,
})
