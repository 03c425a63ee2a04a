// A saturator in AssemblyScript; `plainSaturation` in `../saturation.ts` is its definition, to the bit. Four samples of a side at a time. Part
// of `processing.ts`.

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
} from '../processing-places'

/** Taps of the half-bands, and where they and the places of steps stand. */
const ONE_TAPS: usize = 19
const TWO_TAPS: usize = 5
const THREE_TAPS: usize = 3
const ONE_AT: usize = SATURATION_NUMBERS
const TWO_AT: usize = ONE_AT + 76
const THREE_AT: usize = TWO_AT + 20
const TWO_PLACES: usize = THREE_AT + 12
const THREE_PLACES: usize = TWO_PLACES + 24
const FOUR_PLACES: usize = THREE_PLACES + 36
const SIX_PLACES: usize = FOUR_PLACES + 48
const TWELVE_PLACES: usize = SIX_PLACES + 72
const PLACES_END: usize = TWELVE_PLACES + 144

const FRAMES_BEFORE: usize = 87
/** Bytes of the cubics of one function. */
const CURVE_BYTES: usize = 12288

const LONG_STEP: f32 = 5
const OFFSET: f32 = 0.3
const LN2: f64 = 0.6931471805599453

/** Numbers of the loops below, each in four lanes. */
const NUMBERS: usize = memory.data<f32>(
  [-7.5, -7.5, -7.5, -7.5, 7.5, 7.5, 7.5, 7.5, 1, 1, 1, 1, 0.99999821, 0.99999821, 0.99999821, 0.99999821, 0.122576503, 0.122576503, 0.122576503, 0.122576503, 0.00223550068, 0.00223550068, 0.00223550068, 0.00223550068, 3.72634652e-6, 3.72634652e-6, 3.72634652e-6, 3.72634652e-6, 0.455897206, 0.455897206, 0.455897206, 0.455897206, 0.0208831012, 0.0208831012, 0.0208831012, 0.0208831012, 0.00013774537, 0.00013774537, 0.00013774537, 0.00013774537, 0.15, 0.15, 0.15, 0.15, 0.35, 0.35, 0.35, 0.35, 0.03333333333333333, 0.03333333333333333, 0.03333333333333333, 0.03333333333333333, 0.05, 0.05, 0.05, 0.05, 0.125, 0.125, 0.125, 0.125, 0.35, 0.35, 0.35, 0.35, 0.9, 0.9, 0.9, 0.9, 1.5, 1.5, 1.5, 1.5, 2.75, 2.75, 2.75, 2.75, 5, 5, 5, 5, 1e-18, 1e-18, 1e-18, 1e-18, 1.3366, 1.3366, 1.3366, 1.3366, 0.1683, 0.1683, 0.1683, 0.1683, 0.5, 0.5, 0.5, 0.5, 0.3333333333333333, 0.3333333333333333, 0.3333333333333333, 0.3333333333333333, 0.16666666666666666, 0.16666666666666666, 0.16666666666666666, 0.16666666666666666],
  16,
)
const LEAST: usize = NUMBERS
const MOST: usize = NUMBERS + 16
const ONE: usize = NUMBERS + 32
const P0: usize = NUMBERS + 48
const P1: usize = NUMBERS + 64
const P2: usize = NUMBERS + 80
const P3: usize = NUMBERS + 96
const Q0: usize = NUMBERS + 112
const Q1: usize = NUMBERS + 128
const Q2: usize = NUMBERS + 144
const NEAR: usize = NUMBERS + 160
const FAR: usize = NUMBERS + 176
const LESS: usize = NUMBERS + 192
const MORE: usize = NUMBERS + 208
const SHORT: usize = NUMBERS + 224
const FOR_TWO: usize = NUMBERS + 240
const FOR_THREE: usize = NUMBERS + 256
const FOR_FOUR: usize = NUMBERS + 272
const FOR_SIX: usize = NUMBERS + 288
const LONG: usize = NUMBERS + 304
const SMALLEST: usize = NUMBERS + 320
const MIDDLE: usize = NUMBERS + 336
const DROOP: usize = NUMBERS + 352
const HALF: usize = NUMBERS + 368
const THIRD: usize = NUMBERS + 384
const SIXTH: usize = NUMBERS + 400
const SIZE: usize = memory.data<u32>([0x7fffffff, 0x7fffffff, 0x7fffffff, 0x7fffffff], 16)

/** What the last four steps add to the samples they lead to, and to those they come from, where they are not cubics. */
const RISE: usize = memory.data(32, 16)
const FALL: usize = RISE + 16
let integral1: f64 = 0
let integral2: f64 = 0

@inline
function tanh4(u: v128): v128 {
  const x = f32x4.pmin(f32x4.pmax(u, v128.load(LEAST)), v128.load(MOST))
  const y = f32x4.mul(x, x)
  let p = f32x4.add(v128.load(P2), f32x4.mul(y, v128.load(P3)))
  let q = f32x4.add(v128.load(Q1), f32x4.mul(y, v128.load(Q2)))
  p = f32x4.add(v128.load(P1), f32x4.mul(y, p))
  q = f32x4.add(v128.load(Q0), f32x4.mul(y, q))
  p = f32x4.add(v128.load(P0), f32x4.mul(y, p))
  q = f32x4.add(v128.load(ONE), f32x4.mul(y, q))
  return f32x4.div(f32x4.mul(x, p), q)
}

/** A function by its cubics at a size. */
@inline
function valueOf(cubics: usize, size: f64): f64 {
  const scaled = Math.min(size, 11.984375) * 32
  const index = <i32>scaled
  const t = scaled - <f64>index
  const at = cubics + (<usize>index << 5)
  return ((load<f64>(at, 24) * t + load<f64>(at, 16)) * t + load<f64>(at, 8)) * t + load<f64>(at)
}

function integrals(u: f64): void {
  const size = Math.abs(u)
  const second = size * (size * 0.5 - LN2) + valueOf(SATURATION_CURVE + CURVE_BYTES, size)
  integral1 = size - LN2 + valueOf(SATURATION_CURVE, size)
  integral2 = u < 0 ? -second : second
}

let longRise: f32 = 0
let longFall: f32 = 0

function longStep(from: f32, by: f32, out: f64): void {
  const to = <f64>(from + by)
  integrals(<f64>from)
  const first = integral1
  const second = integral2
  integrals(to)
  const inverse = 1 / (to - <f64>from)
  const mean = (integral1 - first) * inverse
  const one = (integral1 - (integral2 - second) * inverse) * inverse
  longRise = <f32>(one - out * 0.5)
  longFall = <f32>(mean - one - out * 0.5)
}

/** The mean of steps by some places. */
@inline
function byPlaces(from: v128, by: v128, first: usize, last: usize, outs: v128): void {
  let r = f32x4.splat(0)
  let f = f32x4.splat(0)
  for (let at = first; at < last; at += 12) {
    const value = f32x4.sub(tanh4(f32x4.add(from, f32x4.mul(by, v128.load32_splat(at)))), outs)
    r = f32x4.add(r, f32x4.mul(value, v128.load32_splat(at, 4)))
    f = f32x4.add(f, f32x4.mul(value, v128.load32_splat(at, 8)))
  }
  v128.store(RISE, r)
  v128.store(FALL, f)
}

/** Puts those of four steps that are long in place of what places made of them. */
@inline
function longOne(lane: usize, from: f32, by: f32, out: f64): void {
  if (Mathf.abs(by) <= LONG_STEP) return
  longStep(from, by, out)
  store<f32>(RISE + 4 * lane, longRise)
  store<f32>(FALL + 4 * lane, longFall)
}

function longOnes(from: v128, by: v128, out: f64): void {
  longOne(0, f32x4.extract_lane(from, 0), f32x4.extract_lane(by, 0), out)
  longOne(1, f32x4.extract_lane(from, 1), f32x4.extract_lane(by, 1), out)
  longOne(2, f32x4.extract_lane(from, 2), f32x4.extract_lane(by, 2), out)
  longOne(3, f32x4.extract_lane(from, 3), f32x4.extract_lane(by, 3), out)
}

/** Whether all of four sizes are no larger than a number. */
@inline
function none(size: v128, over: usize): bool {
  return i32x4.all_true(f32x4.le(size, v128.load(over)))
}

function softSteps(from: v128, by: v128, size: v128, out: f32): void {
  const outs = f32x4.splat(out)
  if (none(size, FOR_TWO)) byPlaces(from, by, TWO_PLACES, THREE_PLACES, outs)
  else if (none(size, FOR_THREE)) byPlaces(from, by, THREE_PLACES, FOUR_PLACES, outs)
  else if (none(size, FOR_FOUR)) byPlaces(from, by, FOUR_PLACES, SIX_PLACES, outs)
  else if (none(size, FOR_SIX)) byPlaces(from, by, SIX_PLACES, TWELVE_PLACES, outs)
  else {
    byPlaces(from, by, TWELVE_PLACES, PLACES_END, outs)
    if (!none(size, LONG)) longOnes(from, by, <f64>out)
  }
}

/** How much the curve rises over a step, as steep as it is where it has a value. */
@inline
function slopeAt(value: v128, by: v128): v128 {
  return f32x4.mul(by, f32x4.sub(v128.load(ONE), f32x4.mul(value, value)))
}

/** The means of steps by cubics, weighted so that they rise, or so that they fall. */
@inline
function cubicRise(p0: v128, p1: v128, m0: v128, m1: v128): v128 {
  return f32x4.add(
    f32x4.add(f32x4.mul(p0, v128.load(NEAR)), f32x4.mul(p1, v128.load(FAR))),
    f32x4.sub(f32x4.mul(m0, v128.load(LESS)), f32x4.mul(m1, v128.load(MORE))),
  )
}

@inline
function cubicFall(p0: v128, p1: v128, m0: v128, m1: v128): v128 {
  return f32x4.add(
    f32x4.add(f32x4.mul(p0, v128.load(FAR)), f32x4.mul(p1, v128.load(NEAR))),
    f32x4.sub(f32x4.mul(m0, v128.load(MORE)), f32x4.mul(m1, v128.load(LESS))),
  )
}

/** What steps have over 0, the part that rises: `beyond` of the definition, all its cases at once. */
@inline
function riseOver(from: v128, to: v128, by: v128, up: v128, down: v128): v128 {
  const starts = f32x4.gt(from, f32x4.splat(0))
  const ends = f32x4.gt(to, f32x4.splat(0))
  const upRise = f32x4.mul(
    f32x4.mul(to, up),
    f32x4.add(f32x4.mul(f32x4.sub(v128.load(ONE), up), v128.load(HALF)), f32x4.mul(up, v128.load(THIRD))),
  )
  const downRise = f32x4.mul(f32x4.mul(f32x4.mul(from, down), down), v128.load(SIXTH))
  const whole = f32x4.add(f32x4.mul(from, v128.load(HALF)), f32x4.mul(by, v128.load(THIRD)))
  return v128.bitselect(
    whole,
    v128.bitselect(upRise, v128.and(downRise, starts), ends),
    v128.and(starts, ends),
  )
}

/** The part that falls. */
@inline
function fallOver(from: v128, to: v128, by: v128, up: v128, down: v128): v128 {
  const starts = f32x4.gt(from, f32x4.splat(0))
  const ends = f32x4.gt(to, f32x4.splat(0))
  const upFall = f32x4.mul(f32x4.mul(f32x4.mul(to, up), up), v128.load(SIXTH))
  const downFall = f32x4.mul(
    f32x4.mul(from, down),
    f32x4.sub(v128.load(HALF), f32x4.mul(down, v128.load(SIXTH))),
  )
  const whole = f32x4.add(f32x4.mul(from, v128.load(HALF)), f32x4.mul(by, v128.load(SIXTH)))
  return v128.bitselect(
    whole,
    v128.bitselect(upFall, v128.and(downFall, starts), ends),
    v128.and(starts, ends),
  )
}

/** The means of a clamp over steps: those of a line, less what is above 1, and what is below -1. */
@inline
function hardSteps(from: v128, to: v128): void {
  const one = v128.load(ONE)
  const by = f32x4.sub(to, from)
  const half = f32x4.mul(from, v128.load(HALF))
  const high = f32x4.sub(from, one)
  const higher = f32x4.sub(to, one)
  const over = f32x4.sub(higher, high)
  const up = f32x4.div(higher, over)
  const down = f32x4.div(high, f32x4.neg(over))
  const low = f32x4.sub(f32x4.neg(from), one)
  const lower = f32x4.sub(f32x4.neg(to), one)
  const under = f32x4.sub(lower, low)
  const lowUp = f32x4.div(lower, under)
  const lowDown = f32x4.div(low, f32x4.neg(under))
  const rise = f32x4.add(half, f32x4.mul(by, v128.load(THIRD)))
  const fall = f32x4.add(half, f32x4.mul(by, v128.load(SIXTH)))
  v128.store(
    RISE,
    f32x4.add(f32x4.sub(rise, riseOver(high, higher, over, up, down)), riseOver(low, lower, under, lowUp, lowDown)),
  )
  v128.store(
    FALL,
    f32x4.add(f32x4.sub(fall, fallOver(high, higher, over, up, down)), fallOver(low, lower, under, lowUp, lowDown)),
  )
}

@inline
function bendAll(count: usize, hard: bool, offset: f32, out: f32): void {
  const offsets = f32x4.splat(offset)
  const outs = f32x4.splat(out)
  const end = (count * 8 + 360) << 2
  for (let at: usize = 32; at < end; at += 32) {
    // Eight samples of one frame.
    const drive = v128.load32_splat(SATURATION_DRIVES + (at >> 3) + 4)
    const a = f32x4.add(f32x4.mul(v128.load(SATURATION_HIGH + at), drive), offsets)
    const b = f32x4.add(f32x4.mul(v128.load(SATURATION_HIGH + at, 16), drive), offsets)
    v128.store(SATURATION_HIGH + at, a)
    v128.store(SATURATION_HIGH + at, b, 16)
    v128.store(SATURATION_BENT + at, hard ? a : tanh4(a))
    v128.store(SATURATION_BENT + at, hard ? b : tanh4(b), 16)
  }
  let before = f32x4.splat(0)
  for (let at: usize = 32; at < end - 16; at += 16) {
    const from = v128.load(SATURATION_HIGH + at)
    const to = v128.load(SATURATION_HIGH + at, 4)
    const by = f32x4.sub(to, from)
    const size = v128.and(by, v128.load(SIZE))
    let rise: v128
    let fall: v128
    if (!hard && none(size, SHORT)) {
      const first = v128.load(SATURATION_BENT + at)
      const last = v128.load(SATURATION_BENT + at, 4)
      const m0 = slopeAt(first, by)
      const m1 = slopeAt(last, by)
      const p0 = f32x4.sub(first, outs)
      const p1 = f32x4.sub(last, outs)
      rise = cubicRise(p0, p1, m0, m1)
      fall = cubicFall(p0, p1, m0, m1)
    } else {
      if (hard) hardSteps(from, to)
      else softSteps(from, by, size, out)
      rise = v128.load(RISE)
      fall = v128.load(FALL)
    }
    v128.store(SATURATION_HIGH + at, f32x4.add(v128.shuffle<f32>(before, rise, 3, 4, 5, 6), fall))
    before = rise
  }
}

/** What makes up for the droop of the means; samples with even and odd numbers are put apart. */
@inline
function makeUp(count: usize): void {
  const middle = v128.load(MIDDLE)
  const droop = v128.load(DROOP)
  const end = (count * 8 + 344) << 2
  for (let at: usize = 0; at < end; at += 32) {
    const high = SATURATION_HIGH + at
    const a = f32x4.sub(
      f32x4.mul(v128.load(high, 40), middle),
      f32x4.mul(f32x4.add(v128.load(high, 36), v128.load(high, 44)), droop),
    )
    const b = f32x4.sub(
      f32x4.mul(v128.load(high, 56), middle),
      f32x4.mul(f32x4.add(v128.load(high, 52), v128.load(high, 60)), droop),
    )
    v128.store(SATURATION_EVEN3 + (at >> 1), v128.shuffle<f32>(a, b, 0, 2, 4, 6))
    v128.store(SATURATION_ODD3 + (at >> 1), v128.shuffle<f32>(a, b, 1, 3, 5, 7))
  }
}

/** Tap j times what lies at both sides of four places. */
@inline
function pair(at: usize, taps: usize, j: usize): v128 {
  return f32x4.mul(v128.load32_splat(taps + 4 * j), f32x4.add(v128.load(at + 4 * j), v128.load(at - 4 - 4 * j)))
}

/** `tapped` of the definition for four places and so many taps. */
@inline
function tapped3(at: usize, taps: usize): v128 {
  let even = pair(at, taps, 0)
  let odd = pair(at, taps, 1)
  even = f32x4.add(even, pair(at, taps, 2))
  return f32x4.add(even, odd)
}

@inline
function tapped5(at: usize, taps: usize): v128 {
  let even = pair(at, taps, 0)
  let odd = pair(at, taps, 1)
  even = f32x4.add(even, pair(at, taps, 2))
  odd = f32x4.add(odd, pair(at, taps, 3))
  even = f32x4.add(even, pair(at, taps, 4))
  return f32x4.add(even, odd)
}

@inline
function tapped19(at: usize, taps: usize): v128 {
  let even = pair(at, taps, 0)
  let odd = pair(at, taps, 1)
  even = f32x4.add(even, pair(at, taps, 2))
  odd = f32x4.add(odd, pair(at, taps, 3))
  even = f32x4.add(even, pair(at, taps, 4))
  odd = f32x4.add(odd, pair(at, taps, 5))
  even = f32x4.add(even, pair(at, taps, 6))
  odd = f32x4.add(odd, pair(at, taps, 7))
  even = f32x4.add(even, pair(at, taps, 8))
  odd = f32x4.add(odd, pair(at, taps, 9))
  even = f32x4.add(even, pair(at, taps, 10))
  odd = f32x4.add(odd, pair(at, taps, 11))
  even = f32x4.add(even, pair(at, taps, 12))
  odd = f32x4.add(odd, pair(at, taps, 13))
  even = f32x4.add(even, pair(at, taps, 14))
  odd = f32x4.add(odd, pair(at, taps, 15))
  even = f32x4.add(even, pair(at, taps, 16))
  odd = f32x4.add(odd, pair(at, taps, 17))
  even = f32x4.add(even, pair(at, taps, 18))
  return f32x4.add(even, odd)
}

@inline
function tapped(at: usize, taps: usize, many: usize): v128 {
  return many == 3 ? tapped3(at, taps) : many == 5 ? tapped5(at, taps) : tapped19(at, taps)
}

@inline
function upsample(input: usize, count: usize, taps: usize, many: usize, output: usize): void {
  for (let n: usize = 0; n < count; n += 4) {
    const at = input + ((n + many) << 2)
    const sum = tapped(at, taps, many)
    const even = f32x4.add(sum, sum)
    const odd = v128.load(at)
    v128.store(output + (n << 3), v128.shuffle<f32>(even, odd, 0, 4, 1, 5))
    v128.store(output + (n << 3), v128.shuffle<f32>(even, odd, 2, 6, 3, 7), 16)
  }
}

@inline
function downsampled(even: usize, odd: usize, at: usize, taps: usize, many: usize): v128 {
  return f32x4.add(f32x4.mul(v128.load(odd + at - 4), v128.load(HALF)), tapped(even + at, taps, many))
}

/** Half as many samples, put apart into even and odd ones. */
@inline
function halve(even: usize, odd: usize, count: usize, taps: usize, many: usize, nextEven: usize, nextOdd: usize): void {
  for (let n: usize = 0; n < count; n += 8) {
    const at = (n + many) << 2
    const a = downsampled(even, odd, at, taps, many)
    const b = downsampled(even, odd, at + 16, taps, many)
    v128.store(nextEven + (n << 1), v128.shuffle<f32>(a, b, 0, 2, 4, 6))
    v128.store(nextOdd + (n << 1), v128.shuffle<f32>(a, b, 1, 3, 5, 7))
  }
}

function flushInput(from: usize, to: usize): void {
  let at = from
  for (; at + 12 < to; at += 16) {
    const x = v128.load(at)
    v128.store(at, v128.and(x, f32x4.le(v128.load(SMALLEST), v128.and(x, v128.load(SIZE)))))
  }
  for (; at < to; at += 4) if (!(Mathf.abs(load<f32>(at)) >= 1e-18)) store<f32>(at, 0)
}

/** See `Saturation.bend`. */
export function bendSound(side: i32, frames: i32, curve: i32): void {
  const count = <usize>frames
  const input = SATURATION_INPUT + <usize>side * SATURATION_SIDE
  flushInput(input, input + ((count + FRAMES_BEFORE) << 2))
  upsample(input, count + 64, ONE_AT, ONE_TAPS, SATURATION_RISE1)
  upsample(SATURATION_RISE1, count * 2 + 96, TWO_AT, TWO_TAPS, SATURATION_RISE2)
  upsample(SATURATION_RISE2, count * 4 + 192, THREE_AT, THREE_TAPS, SATURATION_HIGH)
  if (curve == 0) bendAll(count, false, 0, 0)
  else if (curve == 1) bendAll(count, true, 0, 0)
  else bendAll(count, false, OFFSET, f32x4.extract_lane(tanh4(f32x4.splat(OFFSET)), 0))
  makeUp(count)
  halve(SATURATION_EVEN3, SATURATION_ODD3, count * 4 + 176, THREE_AT, THREE_TAPS, SATURATION_EVEN2, SATURATION_ODD2)
  halve(SATURATION_EVEN2, SATURATION_ODD2, count * 2 + 80, TWO_AT, TWO_TAPS, SATURATION_EVEN1, SATURATION_ODD1)
  const wet = side == 0 ? SATURATION_WET_LEFT : SATURATION_WET_RIGHT
  for (let n: usize = 0; n < count; n += 4)
    v128.store(
      wet + (n << 2),
      downsampled(SATURATION_EVEN1, SATURATION_ODD1, (n + ONE_TAPS) << 2, ONE_AT, ONE_TAPS),
    )
}
