import { exp2Quick, log2Quick } from '../../units/exact'
import { SOUND_FRAMES } from './frames'
import { HEARD, LEVELS } from './processing-places'
import type { Sound } from './sound'

/** Frames that may be heard for a block. */
export const HEARD_FRAMES = 12_288

/** dB of a factor of two. */
export const DB_PER_OCTAVE = 6.020599913279624

const PROCESS_QUANTUM = 64
/** Levels below this are as loud as it. */
const LEAST = 1e-20

/** A number that changes by `step` with every frame. */
export interface Moving {
  value: number
  step: number
}

/** What asks for a reduction. In dB but for `slope`, which is 1 - 1/ratio, and `inverse`, which is 1/(4·half). */
export interface GainComputer {
  threshold: Moving
  slope: Moving
  /** Half the knee, over 0. */
  half: Moving
  inverse: Moving
  /** The limit of the reduction. */
  most: Moving
}

/** The loops of what depends on level. `heard` and `levels` are shared by all that call it: nothing outlasts a call. */
export interface Dynamics {
  /** What was heard, oldest first: `width - 1` frames from before, then those to be worked on. `windowMaximum` uses it up. */
  readonly heard: Float64Array
  readonly levels: Float64Array
  /** Writes the size of the sound, the larger of both sides, into the first `count` levels. */
  hearPeaks(channels: 1 | 2, count: number): void
  /** Writes the squares of a side of the sound into them. */
  hearSquares(side: number, count: number): void
  /** Writes the largest of the `width` newest of `heard` into the first `count` levels. */
  windowMaximum(width: number, count: number): void
  /** Raises the first `count` levels to the mean of the `width` newest of `heard`, summed anew every 64 frames. */
  windowMean(width: number, count: number): void
  /**
   * Levels from index `from` to `to` become the reductions in dB that they ask for (D. Giannoulis, M. Massberg, J. D. Reiss,
   * JAES 60(6), 2012, eq. 4, as what is taken away). `dbPerOctave` is `DB_PER_OCTAVE`, or half of it for squares.
   */
  askReductions(from: number, to: number, dbPerOctave: number, by: GainComputer): void
  /** Reductions follow what is asked, from `reduction` on; returns the last. */
  follow(from: number, to: number, reduction: number, attack: Moving, release: Moving): number
  /** Reductions become gains, linear, raised by `makeupDb`. */
  toGains(from: number, to: number, makeupDb: number): void
  /**
   * Does the three of them, one after the other, with the first `to` levels, where nothing moves: steps count as 0.
   */
  toStillGains(
    to: number,
    dbPerOctave: number,
    by: GainComputer,
    reduction: number,
    attack: Moving,
    release: Moving,
    makeupDb: number,
  ): number
  /** Multiplies the first `count` frames of the sound by the levels. */
  apply(channels: 1 | 2, count: number): void
}

/** The definition: what every other form must give, to the bit. */
export function plainDynamics(sound: Sound, buffer: ArrayBuffer): Dynamics {
  const heard = heardIn(buffer)
  const levels = levelsIn(buffer)
  const plain: Dynamics = {
    heard,
    levels,
    hearPeaks(channels, count) {
      const [left, right] = sound
      for (let i = 0; i < count; i++) {
        const [l, r] = [Math.abs(left[i]!), channels === 2 ? Math.abs(right[i]!) : 0]
        levels[i] = l < r ? r : l
      }
    },
    hearSquares(side, count) {
      for (let i = 0; i < count; i++) levels[i] = sound[side]![i]! * sound[side]![i]!
    },
    apply(channels, count) {
      for (let c = 0; c < channels; c++)
        for (let i = 0; i < count; i++) sound[c]![i] = sound[c]![i]! * levels[i]!
    },
    windowMaximum(width, count) {
      for (let i = 0; i < count; i++) {
        let largest = 0
        for (let k = i; k < i + width; k++) if (heard[k]! > largest) largest = heard[k]!
        levels[i] = largest
      }
    },
    windowMean(width, count) {
      let sum = 0
      for (let i = 0; i < count; i++) {
        if (i % PROCESS_QUANTUM === 0) {
          const parts = [0, 0, 0, 0]
          const whole = width - (width % 4)
          for (let k = 0; k < whole; k++) parts[k % 4] = parts[k % 4]! + heard[i + k]!
          sum = parts[0]! + parts[2]! + (parts[1]! + parts[3]!)
          for (let k = whole; k < width; k++) sum += heard[i + k]!
        } else sum += heard[i + width - 1]! - heard[i - 1]!
        const mean = sum * (1 / width)
        if (mean > levels[i]!) levels[i] = mean
      }
    },
    askReductions(from, to, dbPerOctave, { threshold, slope, half, inverse, most }) {
      const at = ({ value, step }: Moving, t: number) => value + t * step
      for (let i = from; i < to; i++) {
        const t = i - from
        const over = log2Quick(Math.max(levels[i]!, LEAST)) * dbPerOctave - at(threshold, t)
        const h = at(half, t)
        const knee = Math.min(Math.max(over + h, 0), h + h)
        const asked = at(slope, t) * (knee * knee * at(inverse, t) + Math.max(over - h, 0))
        levels[i] = Math.min(asked, at(most, t))
      }
    },
    follow(from, to, reduction, attack, release) {
      let y = reduction
      let [rise, fall] = [attack.value, release.value]
      for (let i = from; i < to; i++) {
        const by = levels[i]! - y
        y = by > 0 ? y + rise * by : y + fall * by
        if (y < 1e-12) y = 0
        levels[i] = y
        rise += attack.step
        fall += release.step
      }
      return y
    },
    toGains(from, to, makeupDb) {
      for (let i = from; i < to; i++) levels[i] = exp2Quick((makeupDb - levels[i]!) * (1 / DB_PER_OCTAVE))
    },
    toStillGains(to, dbPerOctave, by, reduction, attack, release, makeupDb) {
      const still = ({ value }: Moving): Moving => ({ value, step: 0 })
      const { threshold, slope, half, inverse, most } = by
      plain.askReductions(0, to, dbPerOctave, {
        threshold: still(threshold),
        slope: still(slope),
        half: still(half),
        inverse: still(inverse),
        most: still(most),
      })
      const last = plain.follow(0, to, reduction, still(attack), still(release))
      plain.toGains(0, to, makeupDb)
      return last
    },
  }
  return plain
}

export interface DynamicsExports {
  hearPeaks(channels: number, count: number): void
  hearSquares(side: number, count: number): void
  windowMaximum(width: number, count: number): void
  windowMean(width: number, count: number): void
  askReductions(from: number, to: number, dbPerOctave: number, ...by: number[]): void
  follow(from: number, to: number, reduction: number, ...by: number[]): number
  toGains(from: number, to: number, makeupDb: number): void
  toStillGains(to: number, dbPerOctave: number, ...by: number[]): number
  applyLevels(channels: number, count: number): void
}

const heardIn = (buffer: ArrayBuffer) => new Float64Array(buffer, HEARD, HEARD_FRAMES)
const levelsIn = (buffer: ArrayBuffer) => new Float64Array(buffer, LEVELS, SOUND_FRAMES)

/** The WebAssembly form. */
export function wasmDynamics(buffer: ArrayBuffer, exports: DynamicsExports): Dynamics {
  const { hearPeaks, hearSquares, windowMaximum, windowMean, toGains, applyLevels } = exports
  return {
    heard: heardIn(buffer),
    levels: levelsIn(buffer),
    hearPeaks,
    hearSquares,
    windowMaximum,
    windowMean,
    askReductions: (from, to, dbPerOctave, { threshold, slope, half, inverse, most }) =>
      exports.askReductions(
        from,
        to,
        dbPerOctave,
        threshold.value,
        threshold.step,
        slope.value,
        slope.step,
        half.value,
        half.step,
        inverse.value,
        inverse.step,
        most.value,
        most.step,
      ),
    follow: (from, to, reduction, attack, release) =>
      exports.follow(from, to, reduction, attack.value, attack.step, release.value, release.step),
    toGains,
    toStillGains: (to, dbPerOctave, by, reduction, attack, release, makeupDb) =>
      exports.toStillGains(
        to,
        dbPerOctave,
        by.threshold.value,
        by.slope.value,
        by.half.value,
        by.inverse.value,
        by.most.value,
        reduction,
        attack.value,
        release.value,
        makeupDb,
      ),
    apply: applyLevels,
  }
}
