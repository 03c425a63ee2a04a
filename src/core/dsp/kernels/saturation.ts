import { exp, ln, LN2 } from '../../units/exact'
import { besselI0 } from '../kaiser'
import { SOUND_FRAMES } from './frames'
import {
  SATURATION_CURVE,
  SATURATION_DRIVES,
  SATURATION_HIGH,
  SATURATION_INPUT,
  SATURATION_NUMBERS,
  SATURATION_RISE1,
  SATURATION_RISE2,
  SATURATION_WET_LEFT,
  SATURATION_WET_RIGHT,
} from './processing-places'

/** Curves, in the order in which their kinds are numbered. */
export const BENDS = ['soft', 'hard', 'asymmetric'] as const

/** Delays of the half-bands from the rate to twice, four and eight times it, in samples of the higher rate. */
const DELAYS = [41, 11, 9] as const
/** 100 dB. */
const BETA = 10.06

/** Frames of input that are read before those of a block. */
export const FRAMES_BEFORE = 99
/** Frames before and after those of a block whose drive matters, together. */
export const DRIVES_AROUND = 52
/**
 * By how many frames what is bent lies behind what comes in: up and down again 2·(41·4 + 11·2 + 9) samples of eight times the rate, one for
 * the mean over two steps and one for making up for its droop.
 */
export const SATURATION_DELAY = 49

/**
 * A filter that keeps the lower half of a band, of `2·delay + 1` taps (`delay` is odd): a sinc under a Kaiser window (J. F. Kaiser, 1974).
 * Every second tap is 0 but the middle one; what is returned are the taps at odd distances 1, 3, … from it, which are the same on both
 * sides; the middle is ½.
 */
function halfBandTaps(delay: number): number[] {
  const taps = Array.from({ length: (delay + 1) / 2 }, (_, k) => {
    const n = 2 * k + 1
    const x = n / (delay + 1)
    const window = besselI0(BETA * Math.sqrt(1 - x * x)) / besselI0(BETA)
    // sin(πn/2)/(πn): the sign turns with each.
    return ((k % 2 ? -1 : 1) * window) / (Math.PI * n)
  })
  // At 0 Hz it is exactly 1.
  const sum = taps.reduce((all, tap) => all + 2 * tap, 0)
  return taps.map((tap) => (tap * 0.5) / sum)
}

/** Places and weights of Gauss and Legendre on 0…1: half the distance from the middle, and the weight of each pair. */
const THREE = [
  [-0.7745966692414834, 5 / 9],
  [0, 8 / 9],
  [0.7745966692414834, 5 / 9],
] as const
const SIX = [0.9324695142031521, 0.6612093864662645, 0.2386191860831969].flatMap((x, n) => {
  const weight = [0.1713244923791704, 0.3607615730481386, 0.467913934572691][n]!
  return [[-x, weight] as const, [x, weight] as const]
})

/** For each place: itself, its weight where the weight of the step rises, and where it falls. */
const placesOf = (pairs: readonly (readonly [number, number])[]) =>
  pairs.flatMap(([x, weight]) => {
    const t = (1 + x) / 2
    return [t, (weight / 2) * t, (weight / 2) * (1 - t)]
  })

/** All numbers that the loops need besides their arrays. */
const saturationNumbers = (): number[] => [
  ...DELAYS.flatMap(halfBandTaps),
  ...placesOf(THREE),
  ...placesOf(SIX),
]
const TAP_COUNTS = DELAYS.map((delay) => (delay + 1) / 2)
const THREE_AT = TAP_COUNTS.reduce((sum, n) => sum + n, 0)
const SIX_AT = THREE_AT + 9
const PLACES_END = SIX_AT + 18

/**
 * Steps up to the first are averaged as a cubic, those up to the others over three and six places, longer ones by antiderivatives; each within
 * some 1e-6.
 */
const SHORT_STEP = 0.125
const MIDDLE_STEP = 0.7
const LONG_STEP = 2.5
const OFFSET = 0.3
/**
 * The mean over two steps droops by x = (1 - cos w)/3; what makes up for it adds 1.01·x, so that 1e-4 of the size is never missing up to a
 * sixteenth of the rate.
 */
const DROOP = 0.1683

const PI_SQUARED_24 = 0.4112335167120566

/** Pieces of the curve of tanh from 0 to where it ends. */
const PIECES = 384
const PER_ONE = 32
const LAST = 11.984375

/** For each piece the cubic with the values and slopes (a unit) of a function at both its ends. */
function cubicsOf(value: (u: number) => number, slope: (u: number) => number): Float64Array {
  const cubics = new Float64Array(4 * PIECES)
  for (let k = 0; k < PIECES; k++) {
    const [from, to] = [value(k / PER_ONE), value((k + 1) / PER_ONE)]
    const [m0, m1] = [slope(k / PER_ONE) / PER_ONE, slope((k + 1) / PER_ONE) / PER_ONE]
    cubics.set([from, m0, 3 * (to - from) - 2 * m0 - m1, 2 * (from - to) + m0 + m1], 4 * k)
  }
  return cubics
}

const exactTanh = (u: number) => (1 - exp(-2 * u)) / (1 + exp(-2 * u))
/** What log cosh u has over u - log 2. */
const exactFirst = (u: number) => ln(1 + exp(-2 * u))
/** The integral of that from 0 on: π²/24 and half the dilogarithm of -e^(-2u), by Landen's identity. */
function exactSecond(u: number): number {
  const w = exp(-2 * u) / (1 + exp(-2 * u))
  let sum = 0
  for (let k = 60; k > 0; k--) sum = (sum + 1 / (k * k)) * w
  return PI_SQUARED_24 - (exactFirst(u) ** 2 / 2 + sum) / 2
}

/** tanh, and what its first and second integral have besides a parabola, from 0 on: each within 1e-8. */
const TANH = cubicsOf(exactTanh, (u) => 1 - exactTanh(u) ** 2)
const FIRST = cubicsOf(exactFirst, (u) => exactTanh(u) - 1)
const SECOND = cubicsOf(exactSecond, exactFirst)

/** A function by its cubics at a size. */
function valueOf(cubics: Float64Array, size: number): number {
  const scaled = Math.min(size, LAST) * PER_ONE
  const index = Math.trunc(scaled)
  const t = scaled - index
  const at = 4 * index
  return ((cubics[at + 3]! * t + cubics[at + 2]!) * t + cubics[at + 1]!) * t + cubics[at]!
}

function tanh(u: number): number {
  const size = valueOf(TANH, Math.abs(u))
  return u < 0 || (u === 0 && 1 / u < 0) ? -size : size
}
const OFFSET_OUT = tanh(OFFSET)

/** The loops of a saturator, on left and right at once. The arrays are shared by all that call it: nothing outlasts a call. */
export interface Saturation {
  /** Both sides in turn: `FRAMES_BEFORE` frames from before, then those of the block. */
  readonly input: Float64Array
  /** The drive, linear, of each frame, from `DRIVES_AROUND / 2` before the first that comes out. */
  readonly drives: Float64Array
  /** What comes out, `SATURATION_DELAY` frames after what came in. */
  readonly wets: readonly [Float64Array, Float64Array]
  /**
   * Bends `count` frames at eight times the rate by a curve of `BENDS`: `soft` tanh(gx), `hard` clamp(gx, -1, 1), `asymmetric`
   * tanh(gx + 0.3) - tanh(0.3). Each sample is the mean of the curve over the steps to it and from it, weighted by a triangle
   * (second-order antiderivative anti-aliasing: S. Bilbao, F. Esqueda, J. D. Parker, V. Välimäki, IEEE SPL 24(7), 2017), and the droop of
   * that is made up for.
   */
  bend(count: number, curve: number): void
}

/** What a step adds to the sample it leads to (`rise`), and to the one it comes from (`fall`). */
const step = { rise: 0, fall: 0 }

/** The definition: what every other form must give, to the bit. */
export function plainSaturation(buffer: ArrayBuffer): Saturation {
  const arrays = saturationArrays(buffer)
  const { input, drives, wets, rise1, rise2, high, numbers } = arrays
  return {
    input,
    drives,
    wets,
    bend(count, curve) {
      const [one, two, three] = TAP_COUNTS as [number, number, number]
      upsample(input, count + 58, numbers, 0, one, rise1)
      upsample(rise1, 2 * count + 105, numbers, one, two, rise2)
      upsample(rise2, 4 * count + 201, numbers, one + two, three, high)
      for (const side of [0, 1]) bendSide(high, drives, numbers, side, 8 * count + 402, curve)
      downsample(high, 4 * count + 186, numbers, one + two, three, rise2)
      downsample(rise2, 2 * count + 82, numbers, one, two, rise1)
      downsample(rise1, count, numbers, 0, one, high)
      for (const side of [0, 1] as const) for (let n = 0; n < count; n++) wets[side][n] = high[2 * n + side]!
    },
  }
}

/** Bends the first `length` samples of a side in place; what comes out stands ten places earlier. */
function bendSide(
  high: Float64Array,
  drives: Float64Array,
  numbers: Float64Array,
  side: number,
  length: number,
  curve: number,
): void {
  const offset = curve === 2 ? OFFSET : 0
  const out = curve === 2 ? OFFSET_OUT : 0
  let u = high[2 * 8 + side]! * drives[2]! + offset
  let [rise, before, now] = [0, 0, 0]
  for (let i = 9; i < length; i++) {
    const next = high[2 * i + side]! * drives[(i >> 3) + 1]! + offset
    if (curve === 1) hardStep(u, next)
    else softStep(u, next, numbers, out)
    const mean = rise + step.fall
    if (i > 11) high[2 * (i - 12) + side] = now * (1 + 2 * DROOP) - (before + mean) * DROOP
    before = now
    now = mean
    rise = step.rise
    u = next
  }
}

function softStep(from: number, to: number, numbers: Float64Array, out: number): void {
  const by = to - from
  const size = Math.abs(by)
  if (size > LONG_STEP) return longStep(from, to, out)
  if (size <= SHORT_STEP) return shortStep(from, to, by, out)
  const [first, last] = size <= MIDDLE_STEP ? [THREE_AT, SIX_AT] : [SIX_AT, PLACES_END]
  step.rise = step.fall = 0
  for (let k = first; k < last; k += 3) {
    const value = tanh(from + by * numbers[k]!) - out
    step.rise += value * numbers[k + 1]!
    step.fall += value * numbers[k + 2]!
  }
}

/** By the cubic with the values and slopes at both ends. */
function shortStep(from: number, to: number, by: number, out: number): void {
  const [first, last] = [tanh(from), tanh(to)]
  const [m0, m1] = [by * (1 - first * first), by * (1 - last * last)]
  const [p0, p1] = [first - out, last - out]
  step.rise = p0 * 0.15 + p1 * 0.35 + (m0 * (1 / 30) - m1 * 0.05)
  step.fall = p0 * 0.35 + p1 * 0.15 + (m0 * 0.05 - m1 * (1 / 30))
}

/** By the integral of tanh, log cosh, and its integral, in which the dilogarithm stands. */
function longStep(from: number, to: number, out: number): void {
  integrals(from)
  const [first, second] = [integral.first, integral.second]
  integrals(to)
  const inverse = 1 / (to - from)
  const mean = (integral.first - first) * inverse
  step.rise = (integral.first - (integral.second - second) * inverse) * inverse
  step.fall = mean - step.rise - out * 0.5
  step.rise = step.rise - out * 0.5
}

const integral = { first: 0, second: 0 }

function integrals(u: number): void {
  const size = Math.abs(u)
  const second = size * (size * 0.5 - LN2) + valueOf(SECOND, size)
  integral.first = size - LN2 + valueOf(FIRST, size)
  integral.second = u < 0 ? -second : second
}

function straightStep(from: number, to: number): void {
  const by = to - from
  step.rise = from * 0.5 + by * (1 / 3)
  step.fall = from * 0.5 + by * (1 / 6)
}

function hardStep(from: number, to: number): void {
  straightStep(from, to)
  if (Math.abs(from) <= 1 && Math.abs(to) <= 1) return
  const [rise, fall] = [step.rise, step.fall]
  beyond(from - 1, to - 1)
  const [riseOver, fallOver] = [step.rise, step.fall]
  beyond(-from - 1, -to - 1)
  step.rise = rise - riseOver + step.rise
  step.fall = fall - fallOver + step.fall
}

/** The same of what a step has over 0. */
function beyond(from: number, to: number): void {
  step.rise = step.fall = 0
  if (from > 0 && to > 0) straightStep(from, to)
  else if (to > 0) {
    // It passes 0 on its way: this part of it is over.
    const part = to / (to - from)
    step.rise = to * part * ((1 - part) * 0.5 + part * (1 / 3))
    step.fall = to * part * part * (1 / 6)
  } else if (from > 0) {
    const part = from / (from - to)
    step.rise = from * part * part * (1 / 6)
    step.fall = from * part * (0.5 - part * (1 / 6))
  }
}

/**
 * Twice as many samples of both sides: output m is that of the filter at m, `delay` after the input. `input` has `count` samples and the
 * `delay` before them, `output` takes `2·count`; the taps stand from `first` on, `delay` is `2·taps - 1`.
 */
function upsample(
  input: Float64Array,
  count: number,
  numbers: Float64Array,
  first: number,
  taps: number,
  output: Float64Array,
): void {
  // Output m is the sum of 2·h[k]·x[(m - k)/2] over even m - k; the middle tap is that of an odd k.
  for (let n = 0; n < count; n++)
    for (let side = 0; side < 2; side++) {
      const at = n + taps
      let even = 0
      for (let j = 0; j < taps; j++)
        even += numbers[first + j]! * (input[2 * (at + j) + side]! + input[2 * (at - 1 - j) + side]!)
      output[4 * n + side] = even + even
      output[4 * n + 2 + side] = input[2 * at + side]!
    }
}

/** Half as many samples: output n is that of the filter at `2n`. `input` has `2·count` samples and the `2·delay` before them. */
function downsample(
  input: Float64Array,
  count: number,
  numbers: Float64Array,
  first: number,
  taps: number,
  output: Float64Array,
): void {
  for (let n = 0; n < count; n++)
    for (let side = 0; side < 2; side++) {
      const middle = 2 * taps - 1 + 2 * n
      let sum = input[2 * middle + side]! * 0.5
      for (let j = 0; j < taps; j++)
        sum +=
          numbers[first + j]! *
          (input[2 * (middle + 2 * j + 1) + side]! + input[2 * (middle - 2 * j - 1) + side]!)
      output[2 * n + side] = sum
    }
}

function saturationArrays(buffer: ArrayBuffer) {
  const array = (at: number, length: number) => new Float64Array(buffer, at, length)
  const numbers = array(SATURATION_NUMBERS, PLACES_END)
  numbers.set(saturationNumbers())
  array(SATURATION_CURVE, 12 * PIECES).set([...TANH, ...FIRST, ...SECOND])
  return {
    input: array(SATURATION_INPUT, 2 * (SOUND_FRAMES + FRAMES_BEFORE)),
    drives: array(SATURATION_DRIVES, SOUND_FRAMES + DRIVES_AROUND),
    wets: [array(SATURATION_WET_LEFT, SOUND_FRAMES), array(SATURATION_WET_RIGHT, SOUND_FRAMES)] as const,
    rise1: array(SATURATION_RISE1, 2 * (2 * SOUND_FRAMES + 116)),
    rise2: array(SATURATION_RISE2, 2 * (4 * SOUND_FRAMES + 210)),
    high: array(SATURATION_HIGH, 2 * (8 * SOUND_FRAMES + 402)),
    numbers,
  }
}

export interface SaturationExports {
  bendSound(count: number, curve: number): void
}

/** The WebAssembly form. */
export function wasmSaturation(buffer: ArrayBuffer, exports: SaturationExports): Saturation {
  const { input, drives, wets } = saturationArrays(buffer)
  return { input, drives, wets, bend: exports.bendSound }
}
