// A saturator in AssemblyScript; `plainSaturation` in `../saturation.ts` is its definition, to the bit. Four samples of a side at a time. Part
// of `processing.ts`.

import {
  SATURATION_BENT,
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
import { flushNarrow } from './narrow'
import {
  cubicFall,
  cubicRise,
  DROOP,
  FALL,
  HALF,
  hardSteps,
  MIDDLE,
  none,
  RISE,
  SHORT,
  SIZE,
  slopeAt,
  softSteps,
  tanh4,
} from './saturation-steps'

/** Taps of the half-bands, and where they stand. */
const ONE_TAPS: usize = 19
const TWO_TAPS: usize = 5
const THREE_TAPS: usize = 3
const ONE_AT: usize = SATURATION_NUMBERS
const TWO_AT: usize = ONE_AT + 76
const THREE_AT: usize = TWO_AT + 20

const FRAMES_BEFORE: usize = 87
const OFFSET: f32 = 0.3
const SMALLEST: f32 = 1e-18

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

/** See `Saturation.bend`. */
export function bendSound(side: i32, frames: i32, curve: i32): void {
  const count = <usize>frames
  const input = SATURATION_INPUT + <usize>side * SATURATION_SIDE
  flushNarrow(input, input + ((count + FRAMES_BEFORE) << 2), SMALLEST)
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
