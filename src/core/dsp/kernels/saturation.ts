import { SOUND_FRAMES } from './frames'
import { sumOf, productOf } from './narrow'
import {
  SATURATION_BENT,
  SATURATION_CURVE,
  SATURATION_DRIVES,
  SATURATION_EVEN1,
  SATURATION_EVEN2,
  SATURATION_EVEN3,
  SATURATION_HIGH,
  SATURATION_INPUT,
  SATURATION_NUMBERS,
  SATURATION_ODD1,
  SATURATION_ODD2,
  SATURATION_ODD3,
  SATURATION_RISE1,
  SATURATION_RISE2,
  SATURATION_SIDE,
  SATURATION_WET_LEFT,
  SATURATION_WET_RIGHT,
} from './processing-places'
import {
  FIRST_INTEGRAL,
  hardStep,
  narrowTanh,
  offsetOf,
  PIECES,
  placesFor,
  SECOND_INTEGRAL,
  shortStep,
  step,
  stepByPlaces,
  STEP_PLACES,
} from './saturation-steps'

export { BENDS } from './saturation-steps'

/** Frames of input that are read before those of a block. */
export const FRAMES_BEFORE = 87
/** Frames before and after those of a block whose drive matters, together. */
export const DRIVES_AROUND = 46
/**
 * By how many frames what is bent lies behind what comes in: up and down again 2·(37·4 + 9·2 + 5) samples of eight times the rate, one for
 * the mean over two steps and one for making up for its droop.
 */
export const SATURATION_DELAY = 43

/** What is smaller than this (-360 dB) counts as silence: its square would be a slow number. */
const SMALLEST = Math.fround(1e-18)

/**
 * The mean over two steps droops by x = (1 - cos w)/3; what makes up for it adds 1.01·x, so that 1e-4 of the size is never missing up to a
 * sixteenth of the rate.
 */
const DROOP = Math.fround(0.1683)
const MIDDLE = Math.fround(1.3366)

/**
 * Filters that keep the lower half of a band, from the rate to two, four and eight times it. Every second tap is 0 but the middle one, which is
 * ½; these are the taps at odd distances 1, 3, … from it, the same on both sides. Of all filters with so many taps that are 1 at 0 Hz they
 * are those whose largest error up to 20.1, 22 and 22 kHz (at 48 kHz), and in the stop band as far from its end, is least: -101, -96 and
 * -97 dB.
 */
const TAPS = [
  [
    0.3173345969, -0.1032102988, 0.05894455021, -0.03908179175, 0.02749862216, -0.01982140909, 0.01437312061,
    -0.01037058442, 0.007386520143, -0.005162035978, 0.003518239553, -0.002325939958, 0.001480692517,
    -0.0009012629519, 0.0005178730058, -0.0002774041496, 0.0001341854214, -5.666232015e-5, 1.898890381e-5,
  ],
  [0.3069416257, -0.07607550608, 0.02442911942, -0.006156539827, 0.0008613008242],
  [0.2947334274, -0.05155184615, 0.006818418782],
].map((taps) => Float32Array.from(taps))

/** The loops of a saturator. The arrays are shared by all that call it: nothing outlasts a call. */
export interface Saturation {
  /** Both sides: `FRAMES_BEFORE` frames from before, then those of the block. */
  readonly input: readonly [Float32Array, Float32Array]
  /** The drive, linear, of each frame, from `DRIVES_AROUND / 2` before the first that comes out. */
  readonly drives: Float32Array
  /** What comes out, `SATURATION_DELAY` frames after what came in. */
  readonly wets: readonly [Float32Array, Float32Array]
  /**
   * Bends `count` frames of a side (0 is the left), a multiple of sixteen, at eight times the rate by a curve of `BENDS`: `soft` tanh(gx),
   * `hard` clamp(gx, -1, 1), `asymmetric` tanh(gx + 0.3) - tanh(0.3). Each sample is the mean of the curve over the steps to it and from
   * it, weighted by a triangle (second-order antiderivative anti-aliasing: S. Bilbao, F. Esqueda, J. D. Parker, V. Välimäki, IEEE SPL
   * 24(7), 2017), and the droop of that is made up for.
   */
  bend(side: number, count: number, curve: number): void
}

/** The definition: what every other form must give, to the bit. That loops go on to whole vectors of samples is a part of it. */
export function plainSaturation(buffer: ArrayBuffer): Saturation {
  const { input, drives, wets, rise1, rise2, high, bent, even, odd } = saturationArrays(buffer)
  return {
    input,
    drives,
    wets,
    bend(side, count, curve) {
      const sound = input[side as 0 | 1]
      for (let i = 0; i < count + FRAMES_BEFORE; i++) if (!(Math.abs(sound[i]!) >= SMALLEST)) sound[i] = 0
      upsample(sound, count + 64, TAPS[0]!, rise1)
      upsample(rise1, 2 * count + 96, TAPS[1]!, rise2)
      upsample(rise2, 4 * count + 192, TAPS[2]!, high)
      const { offset, out } = offsetOf(curve)
      for (let i = 8; i < 8 * count + 360; i++) {
        high[i] = sumOf(high[i]! * drives[(i >> 3) + 1]!, offset)
        bent[i] = curve === 1 ? high[i]! : narrowTanh(high[i]!)
      }
      meanAll(high, bent, 8 * count + 356, curve, out)
      for (let k = 0; k < 8 * count + 344; k++) {
        const around = sumOf(high[k + 9]!, high[k + 11]!)
        const whole = sumOf(high[k + 10]! * MIDDLE, -around * DROOP)
        if (k % 2) odd[2]![k >> 1] = whole
        else even[2]![k >> 1] = whole
      }
      halve(even[2]!, odd[2]!, 4 * count + 176, TAPS[2]!, even[1]!, odd[1]!)
      halve(even[1]!, odd[1]!, 2 * count + 80, TAPS[1]!, even[0]!, odd[0]!)
      const wet = wets[side as 0 | 1]
      for (let n = 0; n < count; n++) wet[n] = downsampled(even[0]!, odd[0]!, n, TAPS[0]!)
    },
  }
}

/**
 * Takes the means of a curve over the steps to each sample from 8 on and from it. How a step is averaged is decided by the longest of four.
 * `bent` holds tanh of each sample.
 */
function meanAll(high: Float32Array, bent: Float32Array, end: number, curve: number, out: number): void {
  let rise = 0
  for (let first = 8; first < end; first += 4) {
    let size = 0
    for (let i = first; i < first + 4; i++) size = Math.max(size, Math.abs(sumOf(high[i + 1]!, -high[i]!)))
    const places = placesFor(size)
    for (let i = first; i < first + 4; i++) {
      const by = sumOf(high[i + 1]!, -high[i]!)
      if (curve === 1) hardStep(high[i]!, high[i + 1]!)
      else if (places) stepByPlaces(high[i]!, by, out, places)
      else shortStep(by, bent[i]!, bent[i + 1]!, out)
      high[i] = sumOf(rise, step.fall)
      rise = step.rise
    }
  }
}

/** The sum of taps at both sides of a place in some samples: that of every second tap, and that of the others. */
function tapped(samples: Float32Array, at: number, taps: Float32Array): number {
  const sums = [0, 0]
  for (let j = 0; j < taps.length; j++) {
    const pair = productOf(taps[j]!, sumOf(samples[at + j]!, samples[at - 1 - j]!))
    sums[j % 2] = j < 2 ? pair : sumOf(sums[j % 2]!, pair)
  }
  return sumOf(sums[0]!, sums[1]!)
}

/**
 * Twice as many samples: output m is that of the filter at m, `delay` after the input. `input` has `count` samples and the `delay` before them,
 * `output` takes `2·count`.
 */
function upsample(input: Float32Array, count: number, taps: Float32Array, output: Float32Array): void {
  // Output m is the sum of 2·h[k]·x[(m - k)/2] over even m - k; the middle tap is that of an odd k.
  for (let n = 0; n < count; n++) {
    const at = n + taps.length
    output[2 * n] = 2 * tapped(input, at, taps)
    output[2 * n + 1] = input[at]!
  }
}

/** Half as many samples, from those with even and odd numbers: output n is that of the filter at `2n`. */
const downsampled = (even: Float32Array, odd: Float32Array, n: number, taps: Float32Array): number =>
  sumOf(0.5 * odd[taps.length + n - 1]!, tapped(even, taps.length + n, taps))

/** The same for `count` samples, which are put apart again. */
function halve(
  even: Float32Array,
  odd: Float32Array,
  count: number,
  taps: Float32Array,
  nextEven: Float32Array,
  nextOdd: Float32Array,
): void {
  for (let n = 0; n < count; n++) {
    const sum = downsampled(even, odd, n, taps)
    if (n % 2) nextOdd[n >> 1] = sum
    else nextEven[n >> 1] = sum
  }
}

function saturationArrays(buffer: ArrayBuffer) {
  const array = (at: number, length: number) => new Float32Array(buffer, at, length)
  const numbers = [...TAPS, STEP_PLACES].flatMap((of) => [...of])
  array(SATURATION_NUMBERS, numbers.length).set(numbers)
  new Float64Array(buffer, SATURATION_CURVE, 8 * PIECES).set([...FIRST_INTEGRAL, ...SECOND_INTEGRAL])
  return {
    input: [array(SATURATION_INPUT, 1136), array(SATURATION_INPUT + SATURATION_SIDE, 1136)] as const,
    drives: array(SATURATION_DRIVES, 1072),
    wets: [array(SATURATION_WET_LEFT, SOUND_FRAMES), array(SATURATION_WET_RIGHT, SOUND_FRAMES)] as const,
    rise1: array(SATURATION_RISE1, 2176),
    rise2: array(SATURATION_RISE2, 4304),
    high: array(SATURATION_HIGH, 8576),
    bent: array(SATURATION_BENT, 8576),
    even: [array(SATURATION_EVEN1, 1072), array(SATURATION_EVEN2, 2144), array(SATURATION_EVEN3, 4288)],
    odd: [array(SATURATION_ODD1, 1072), array(SATURATION_ODD2, 2144), array(SATURATION_ODD3, 4288)],
  }
}

export interface SaturationExports {
  bendSound(side: number, count: number, curve: number): void
}

/** The WebAssembly form. */
export function wasmSaturation(buffer: ArrayBuffer, exports: SaturationExports): Saturation {
  const { input, drives, wets } = saturationArrays(buffer)
  return { input, drives, wets, bend: exports.bendSound }
}
