// A saturator in AssemblyScript; `plainSaturation` in `../saturation.ts` is its definition, to the bit. Left and right are the two 64-bit
// lanes. Part of `processing.ts`.

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
} from '../processing-places'

/** Taps of the half-bands, and where they and the other numbers stand. */
const ONE_TAPS: i32 = 21
const TWO_TAPS: i32 = 6
const THREE_TAPS: i32 = 5
const ONE_AT: usize = SATURATION_NUMBERS
const TWO_AT: usize = ONE_AT + 168
const THREE_AT: usize = TWO_AT + 48
const THREE_PLACES: usize = THREE_AT + 40
const SIX_PLACES: usize = THREE_PLACES + 72
const PLACES_END: usize = SIX_PLACES + 144

/** Bytes of the cubics of one function. */
const CURVE_BYTES: usize = 12288

const SHORT_STEP: f64 = 0.125
const MIDDLE_STEP: f64 = 0.7
const LONG_STEP: f64 = 2.5
const OFFSET: f64 = 0.3
const DROOP: f64 = 0.1683
const LN2: f64 = 0.6931471805599453
const THIRD: f64 = 1.0 / 3.0
const SIXTH: f64 = 1.0 / 6.0
/** Numbers of the loops below, each in both lanes. */
const NUMBERS: usize = memory.data<f64>(
  [32, 32, 11.984375, 11.984375, 1, 1, SHORT_STEP, SHORT_STEP, 0.15, 0.15, 0.35, 0.35, 1.0 / 30.0, 1.0 / 30.0, 0.05, 0.05],
  16,
)
/** Masks of a 64-bit number: its size, and its sign. */
const BITS: usize = memory.data<u64>(
  [0x7fffffffffffffff, 0x7fffffffffffffff, 0x8000000000000000, 0x8000000000000000],
  16,
)
const SIZE: usize = BITS
const SIGN: usize = BITS + 16
const PER_ONE: usize = NUMBERS
const MOST: usize = NUMBERS + 16
const ONE: usize = NUMBERS + 32
const SHORT: usize = NUMBERS + 48
const WEIGHTS: usize = NUMBERS + 64

/** By cubics from each thirty-second to the next one. */
@inline
function tanh2(u: v128): v128 {
  const size = f64x2.pmin(v128.and(u, v128.load(SIZE)), v128.load(MOST))
  const scaled = f64x2.mul(size, v128.load(PER_ONE))
  const index = i32x4.trunc_sat_f64x2_s_zero(scaled)
  const t = f64x2.sub(scaled, f64x2.convert_low_i32x4_s(index))
  const a: usize = SATURATION_CURVE + (<usize>i32x4.extract_lane(index, 0) << 5)
  const b: usize = SATURATION_CURVE + (<usize>i32x4.extract_lane(index, 1) << 5)
  const low0 = v128.load(a)
  const low1 = v128.load(b)
  const high0 = v128.load(a, 16)
  const high1 = v128.load(b, 16)
  let sum = f64x2.mul(v128.shuffle<f64>(high0, high1, 1, 3), t)
  sum = f64x2.mul(f64x2.add(sum, v128.shuffle<f64>(high0, high1, 0, 2)), t)
  sum = f64x2.mul(f64x2.add(sum, v128.shuffle<f64>(low0, low1, 1, 3)), t)
  sum = f64x2.add(sum, v128.shuffle<f64>(low0, low1, 0, 2))
  return v128.or(sum, v128.and(u, v128.load(SIGN)))
}

/** What the last step adds to the sample it leads to, and to the one it comes from. */
let rise: v128 = f64x2.splat(0)
let fall: v128 = f64x2.splat(0)
let oneRise: f64 = 0
let oneFall: f64 = 0
let integral1: f64 = 0
let integral2: f64 = 0

/** What the curve has at one place of a step. */
@inline
function place(from: v128, by: v128, at: usize, out: v128): v128 {
  return f64x2.sub(tanh2(f64x2.add(from, f64x2.mul(by, v128.load64_splat(at)))), out)
}

/** The mean of a step over `many` places, two or three in a row at a time. */
@inline
function places(from: v128, by: v128, first: usize, last: usize, out: v128): void {
  let r = f64x2.splat(0)
  let f = f64x2.splat(0)
  for (let at = first; at < last; at += 24) {
    const value = place(from, by, at, out)
    r = f64x2.add(r, f64x2.mul(value, v128.load64_splat(at, 8)))
    f = f64x2.add(f, f64x2.mul(value, v128.load64_splat(at, 16)))
  }
  rise = r
  fall = f
}

/** How a step of a size is averaged: 0 as a cubic, 1 and 2 over three and six places, 3 by integrals. */
@inline
function classOf(size: f64): i32 {
  return size <= SHORT_STEP ? 0 : size <= MIDDLE_STEP ? 1 : size <= LONG_STEP ? 2 : 3
}

function ofClass(kind: i32, from: v128, to: v128, by: v128, out: f64): void {
  const outs = f64x2.splat(out)
  if (kind == 0) {
    const v0 = tanh2(from)
    const v1 = tanh2(to)
    const m0 = slopeAt(v0, by)
    const m1 = slopeAt(v1, by)
    rise = cubicRise(f64x2.sub(v0, outs), f64x2.sub(v1, outs), m0, m1)
    fall = cubicFall(f64x2.sub(v0, outs), f64x2.sub(v1, outs), m0, m1)
  } else if (kind == 1) places(from, by, THREE_PLACES, SIX_PLACES, outs)
  else if (kind == 2) places(from, by, SIX_PLACES, PLACES_END, outs)
  else {
    longStep(f64x2.extract_lane(from, 0), f64x2.extract_lane(to, 0), out)
    rise = f64x2.splat(oneRise)
    fall = f64x2.splat(oneFall)
    longStep(f64x2.extract_lane(from, 1), f64x2.extract_lane(to, 1), out)
    rise = f64x2.replace_lane(rise, 1, oneRise)
    fall = f64x2.replace_lane(fall, 1, oneFall)
  }
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
  const second = size * (size * 0.5 - LN2) + valueOf(SATURATION_CURVE + 2 * CURVE_BYTES, size)
  integral1 = size - LN2 + valueOf(SATURATION_CURVE + CURVE_BYTES, size)
  integral2 = u < 0 ? -second : second
}

function longStep(from: f64, to: f64, out: f64): void {
  integrals(from)
  const first = integral1
  const second = integral2
  integrals(to)
  const inverse = 1 / (to - from)
  const mean = (integral1 - first) * inverse
  oneRise = (integral1 - (integral2 - second) * inverse) * inverse
  oneFall = mean - oneRise - out * 0.5
  oneRise = oneRise - out * 0.5
}

function softStep(from: v128, to: v128, by: v128, out: f64): void {
  const size = f64x2.abs(by)
  const left = classOf(f64x2.extract_lane(size, 0))
  const right = classOf(f64x2.extract_lane(size, 1))
  ofClass(left, from, to, by, out)
  if (left == right) return
  const leftRise = rise
  const leftFall = fall
  ofClass(right, from, to, by, out)
  rise = v128.shuffle<f64>(leftRise, rise, 0, 3)
  fall = v128.shuffle<f64>(leftFall, fall, 0, 3)
}

/** The same of what a step has over 0. */
function beyond(from: f64, to: f64): void {
  oneRise = oneFall = 0
  if (from > 0 && to > 0) {
    oneRise = from * 0.5 + (to - from) * THIRD
    oneFall = from * 0.5 + (to - from) * SIXTH
  } else if (to > 0) {
    const part = to / (to - from)
    oneRise = to * part * ((1 - part) * 0.5 + part * THIRD)
    oneFall = to * part * part * SIXTH
  } else if (from > 0) {
    const part = from / (from - to)
    oneRise = from * part * part * SIXTH
    oneFall = from * part * (0.5 - part * SIXTH)
  }
}

function hardLane(from: f64, to: f64, r: f64, f: f64): void {
  if (Math.abs(from) <= 1 && Math.abs(to) <= 1) {
    oneRise = r
    oneFall = f
    return
  }
  beyond(from - 1, to - 1)
  const riseOver = oneRise
  const fallOver = oneFall
  beyond(-from - 1, -to - 1)
  oneRise = r - riseOver + oneRise
  oneFall = f - fallOver + oneFall
}

function hardStep(from: v128, to: v128, r: v128, f: v128): void {
  hardLane(f64x2.extract_lane(from, 0), f64x2.extract_lane(to, 0), f64x2.extract_lane(r, 0), f64x2.extract_lane(f, 0))
  rise = f64x2.replace_lane(r, 0, oneRise)
  fall = f64x2.replace_lane(f, 0, oneFall)
  hardLane(f64x2.extract_lane(from, 1), f64x2.extract_lane(to, 1), f64x2.extract_lane(r, 1), f64x2.extract_lane(f, 1))
  rise = f64x2.replace_lane(rise, 1, oneRise)
  fall = f64x2.replace_lane(fall, 1, oneFall)
}

/** How much the curve rises over a step, as steep as it is where it has a value. */
@inline
function slopeAt(value: v128, by: v128): v128 {
  return f64x2.mul(by, f64x2.sub(v128.load(ONE), f64x2.mul(value, value)))
}

/** The mean of a cubic through two values with slopes at both, weighted so that it rises to the second. */
@inline
function cubicRise(p0: v128, p1: v128, m0: v128, m1: v128): v128 {
  return f64x2.add(
    f64x2.add(f64x2.mul(p0, v128.load(WEIGHTS)), f64x2.mul(p1, v128.load(WEIGHTS, 16))),
    f64x2.sub(f64x2.mul(m0, v128.load(WEIGHTS, 32)), f64x2.mul(m1, v128.load(WEIGHTS, 48))),
  )
}

/** The same weighted so that it falls from the first. */
@inline
function cubicFall(p0: v128, p1: v128, m0: v128, m1: v128): v128 {
  return f64x2.add(
    f64x2.add(f64x2.mul(p0, v128.load(WEIGHTS, 16)), f64x2.mul(p1, v128.load(WEIGHTS))),
    f64x2.sub(f64x2.mul(m0, v128.load(WEIGHTS, 48)), f64x2.mul(m1, v128.load(WEIGHTS, 32))),
  )
}

@inline
function bendAll(length: i32, hard: bool, offset: f64, out: f64): void {
  const offsets = f64x2.splat(offset)
  const outs = f64x2.splat(out)
  const middle = f64x2.splat(1 + 2 * DROOP)
  const beside = f64x2.splat(DROOP)
  let u = f64x2.add(f64x2.mul(v128.load(SATURATION_HIGH + 128), v128.load64_splat(SATURATION_DRIVES + 16)), offsets)
  let r = f64x2.splat(0)
  let before = f64x2.splat(0)
  let now = f64x2.splat(0)
  /** The curve at the sample before, where it is known. */
  let value = f64x2.splat(0)
  let known = false
  for (let i = 9; i < length; i++) {
    const at = SATURATION_HIGH + (<usize>i << 4)
    const drive = v128.load64_splat(SATURATION_DRIVES + (<usize>((i >> 3) + 1) << 3))
    const next = f64x2.add(f64x2.mul(v128.load(at), drive), offsets)
    const by = f64x2.sub(next, u)
    let nextRise: v128
    let thisFall: v128
    if (hard) {
      const half = f64x2.mul(u, f64x2.splat(0.5))
      nextRise = f64x2.add(half, f64x2.mul(by, f64x2.splat(THIRD)))
      thisFall = f64x2.add(half, f64x2.mul(by, f64x2.splat(SIXTH)))
      const size = f64x2.pmax(f64x2.abs(u), f64x2.abs(next))
      if (!i64x2.all_true(f64x2.le(size, v128.load(ONE)))) {
        hardStep(u, next, nextRise, thisFall)
        nextRise = rise
        thisFall = fall
      }
    } else if (i64x2.all_true(f64x2.le(v128.and(by, v128.load(SIZE)), v128.load(SHORT)))) {
      if (!known) value = tanh2(u)
      const nextValue = tanh2(next)
      const m0 = slopeAt(value, by)
      const m1 = slopeAt(nextValue, by)
      const p0 = f64x2.sub(value, outs)
      const p1 = f64x2.sub(nextValue, outs)
      nextRise = cubicRise(p0, p1, m0, m1)
      thisFall = cubicFall(p0, p1, m0, m1)
      value = nextValue
      known = true
    } else {
      softStep(u, next, by, out)
      known = false
      nextRise = rise
      thisFall = fall
    }
    const mean = f64x2.add(r, thisFall)
    if (i > 11)
      v128.store(at - 192, f64x2.sub(f64x2.mul(now, middle), f64x2.mul(f64x2.add(before, mean), beside)))
    before = now
    now = mean
    r = nextRise
    u = next
  }
}

@inline
function pairAt(tap: v128, after: usize, before: usize, off: usize): v128 {
  return f64x2.mul(tap, f64x2.add(v128.load(after + off), v128.load(before + off)))
}

/** Four frames at a time, none of which waits for another. */
@inline
function upsample(input: usize, count: i32, taps: usize, many: i32, output: usize): void {
  let out = output
  const end = taps + (<usize>many << 3)
  let n = 0
  for (; n + 4 <= count; n += 4) {
    const at = input + (<usize>(n + many) << 4)
    let a = f64x2.splat(0)
    let b = f64x2.splat(0)
    let c = f64x2.splat(0)
    let d = f64x2.splat(0)
    let after = at
    let before = at - 16
    for (let tap = taps; tap < end; tap += 8) {
      const weight = v128.load64_splat(tap)
      a = f64x2.add(a, pairAt(weight, after, before, 0))
      b = f64x2.add(b, pairAt(weight, after, before, 16))
      c = f64x2.add(c, pairAt(weight, after, before, 32))
      d = f64x2.add(d, pairAt(weight, after, before, 48))
      after += 16
      before -= 16
    }
    v128.store(out, f64x2.add(a, a))
    v128.store(out, v128.load(at), 16)
    v128.store(out, f64x2.add(b, b), 32)
    v128.store(out, v128.load(at, 16), 48)
    v128.store(out, f64x2.add(c, c), 64)
    v128.store(out, v128.load(at, 32), 80)
    v128.store(out, f64x2.add(d, d), 96)
    v128.store(out, v128.load(at, 48), 112)
    out += 128
  }
  for (; n < count; n++) {
    const at = input + (<usize>(n + many) << 4)
    let even = f64x2.splat(0)
    let after = at
    let before = at - 16
    for (let tap = taps; tap < end; tap += 8) {
      even = f64x2.add(even, pairAt(v128.load64_splat(tap), after, before, 0))
      after += 16
      before -= 16
    }
    v128.store(out, f64x2.add(even, even))
    v128.store(out, v128.load(at), 16)
    out += 32
  }
}

@inline
function downsample(input: usize, count: i32, taps: usize, many: i32, output: usize): void {
  let middle = input + (<usize>(2 * many - 1) << 4)
  let out = output
  const end = taps + (<usize>many << 3)
  let n = 0
  for (; n + 4 <= count; n += 4) {
    let a = f64x2.mul(v128.load(middle), f64x2.splat(0.5))
    let b = f64x2.mul(v128.load(middle, 32), f64x2.splat(0.5))
    let c = f64x2.mul(v128.load(middle, 64), f64x2.splat(0.5))
    let d = f64x2.mul(v128.load(middle, 96), f64x2.splat(0.5))
    let after = middle + 16
    let before = middle - 16
    for (let tap = taps; tap < end; tap += 8) {
      const weight = v128.load64_splat(tap)
      a = f64x2.add(a, pairAt(weight, after, before, 0))
      b = f64x2.add(b, pairAt(weight, after, before, 32))
      c = f64x2.add(c, pairAt(weight, after, before, 64))
      d = f64x2.add(d, pairAt(weight, after, before, 96))
      after += 32
      before -= 32
    }
    v128.store(out, a)
    v128.store(out, b, 16)
    v128.store(out, c, 32)
    v128.store(out, d, 48)
    middle += 128
    out += 64
  }
  for (; n < count; n++) {
    let sum = f64x2.mul(v128.load(middle), f64x2.splat(0.5))
    let after = middle + 16
    let before = middle - 16
    for (let tap = taps; tap < end; tap += 8) {
      sum = f64x2.add(sum, pairAt(v128.load64_splat(tap), after, before, 0))
      after += 32
      before -= 32
    }
    v128.store(out, sum)
    middle += 32
    out += 16
  }
}

/** See `Saturation.bend`. */
export function bendSound(count: i32, curve: i32): void {
  upsample(SATURATION_INPUT, count + 58, ONE_AT, ONE_TAPS, SATURATION_RISE1)
  upsample(SATURATION_RISE1, 2 * count + 105, TWO_AT, TWO_TAPS, SATURATION_RISE2)
  upsample(SATURATION_RISE2, 4 * count + 201, THREE_AT, THREE_TAPS, SATURATION_HIGH)
  const length = 8 * count + 402
  if (curve == 0) bendAll(length, false, 0, 0)
  else if (curve == 1) bendAll(length, true, 0, 0)
  else bendAll(length, false, OFFSET, f64x2.extract_lane(tanh2(f64x2.splat(OFFSET)), 0))
  downsample(SATURATION_HIGH, 4 * count + 186, THREE_AT, THREE_TAPS, SATURATION_RISE2)
  downsample(SATURATION_RISE2, 2 * count + 82, TWO_AT, TWO_TAPS, SATURATION_RISE1)
  downsample(SATURATION_RISE1, count, ONE_AT, ONE_TAPS, SATURATION_HIGH)
  for (let n: usize = 0; n < <usize>count; n++) {
    const both = v128.load(SATURATION_HIGH + (n << 4))
    v128.store64_lane(SATURATION_WET_LEFT + (n << 3), both, 0)
    v128.store64_lane(SATURATION_WET_RIGHT + (n << 3), both, 1)
  }
}
