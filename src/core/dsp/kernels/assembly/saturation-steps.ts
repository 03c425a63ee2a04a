// What a saturator makes of steps, in AssemblyScript; `../saturation-steps.ts` is its definition, to the bit. Four steps at a time. Part of
// `saturation.ts`.

import { SATURATION_CURVE, SATURATION_PLACES } from '../processing-places'

/** Where the places of steps of each size stand. */
const TWO_PLACES: usize = SATURATION_PLACES
const THREE_PLACES: usize = TWO_PLACES + 24
const FOUR_PLACES: usize = THREE_PLACES + 36
const SIX_PLACES: usize = FOUR_PLACES + 48
const TWELVE_PLACES: usize = SIX_PLACES + 72
const PLACES_END: usize = TWELVE_PLACES + 144

/** Bytes of the cubics of one function. */
const CURVE_BYTES: usize = 12288

const LONG_STEP: f32 = 5
const LN2: f64 = 0.6931471805599453

/** Numbers of the loops below, each in four lanes. */
const NUMBERS: usize = memory.data<f32>(
  [-7.5, -7.5, -7.5, -7.5, 7.5, 7.5, 7.5, 7.5, 1, 1, 1, 1, 0.99999821, 0.99999821, 0.99999821, 0.99999821, 0.122576503, 0.122576503, 0.122576503, 0.122576503, 0.00223550068, 0.00223550068, 0.00223550068, 0.00223550068, 3.72634652e-6, 3.72634652e-6, 3.72634652e-6, 3.72634652e-6, 0.455897206, 0.455897206, 0.455897206, 0.455897206, 0.0208831012, 0.0208831012, 0.0208831012, 0.0208831012, 0.00013774537, 0.00013774537, 0.00013774537, 0.00013774537, 0.15, 0.15, 0.15, 0.15, 0.35, 0.35, 0.35, 0.35, 0.03333333333333333, 0.03333333333333333, 0.03333333333333333, 0.03333333333333333, 0.05, 0.05, 0.05, 0.05, 0.125, 0.125, 0.125, 0.125, 0.35, 0.35, 0.35, 0.35, 0.9, 0.9, 0.9, 0.9, 1.5, 1.5, 1.5, 1.5, 2.75, 2.75, 2.75, 2.75, 5, 5, 5, 5, 1.3366, 1.3366, 1.3366, 1.3366, 0.1683, 0.1683, 0.1683, 0.1683, 0.5, 0.5, 0.5, 0.5, 0.3333333333333333, 0.3333333333333333, 0.3333333333333333, 0.3333333333333333, 0.16666666666666666, 0.16666666666666666, 0.16666666666666666, 0.16666666666666666],
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
export const SHORT: usize = NUMBERS + 224
const FOR_TWO: usize = NUMBERS + 240
const FOR_THREE: usize = NUMBERS + 256
const FOR_FOUR: usize = NUMBERS + 272
const FOR_SIX: usize = NUMBERS + 288
const LONG: usize = NUMBERS + 304
export const MIDDLE: usize = NUMBERS + 320
export const DROOP: usize = NUMBERS + 336
export const HALF: usize = NUMBERS + 352
const THIRD: usize = NUMBERS + 368
const SIXTH: usize = NUMBERS + 384
export const SIZE: usize = memory.data<u32>([0x7fffffff, 0x7fffffff, 0x7fffffff, 0x7fffffff], 16)

/** What the last four steps add to the samples they lead to, and to those they come from, where they are not cubics. */
export const RISE: usize = memory.data(32, 16)
export const FALL: usize = RISE + 16
let integral1: f64 = 0
let integral2: f64 = 0

@inline
export function tanh4(u: v128): v128 {
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
export function none(size: v128, over: usize): bool {
  return i32x4.all_true(f32x4.le(size, v128.load(over)))
}

export function softSteps(from: v128, by: v128, size: v128, out: f32): void {
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
export function slopeAt(value: v128, by: v128): v128 {
  return f32x4.mul(by, f32x4.sub(v128.load(ONE), f32x4.mul(value, value)))
}

/** The means of steps by cubics, weighted so that they rise, or so that they fall. */
@inline
export function cubicRise(p0: v128, p1: v128, m0: v128, m1: v128): v128 {
  return f32x4.add(
    f32x4.add(f32x4.mul(p0, v128.load(NEAR)), f32x4.mul(p1, v128.load(FAR))),
    f32x4.sub(f32x4.mul(m0, v128.load(LESS)), f32x4.mul(m1, v128.load(MORE))),
  )
}

@inline
export function cubicFall(p0: v128, p1: v128, m0: v128, m1: v128): v128 {
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
export function hardSteps(from: v128, to: v128): void {
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
