// Levels and gains of what depends on level, in AssemblyScript; `plainDynamics` in `../dynamics.ts` is its definition, to the
// bit. Two frames at a time, in 64-bit lanes. Part of `processing.ts`.

import { HEARD, LEFT, LEVELS, RIGHT } from '../processing-places'

const LN2: f64 = 0.6931471805599453
const LOG2_OF_E: f64 = 1.4426950408889634
const DB_PER_OCTAVE: f64 = 6.020599913279624
const LEAST: f64 = 1e-20
const FLUSH_FRAMES: i32 = 64

/** Numbers of the loops below, each in both lanes, loaded where they are used as in `strip.ts`. */
const NUMBERS: usize = memory.data<f64>(
  [
    0.5, 0.5, 1, 1, 2, 2, 1023, 1023, 1.4142135623730951, 1.4142135623730951, LN2, LN2, LOG2_OF_E, LOG2_OF_E,
    LEAST, LEAST, 6755399441055744, 6755399441055744,
  ],
  16,
)
const HALF: usize = NUMBERS
const ONE: usize = NUMBERS + 16
const TWO: usize = NUMBERS + 32
const BIAS: usize = NUMBERS + 48
const SQRT_2: usize = NUMBERS + 64
const LN_2: usize = NUMBERS + 80
const LOG2_E: usize = NUMBERS + 96
const LEAST_LEVEL: usize = NUMBERS + 112
/** 1.5·2^52. */
const WHOLE: usize = NUMBERS + 128
/** Masks of a 64-bit number: its mantissa, the exponent of 1, and the bias of exponents. */
const BITS: usize = memory.data<u64>(
  [
    0x000fffffffffffff, 0x000fffffffffffff, 0x3ff0000000000000, 0x3ff0000000000000, 1023, 1023,
  ],
  16,
)
const MANTISSA: usize = BITS
const EXPONENT_OF_1: usize = BITS + 16
const WHOLE_BIAS: usize = BITS + 32
/** 1/11, 1/9, 1/7, 1/5, 1/3. */
const ODD_PARTS: usize = memory.data<f64>(
  [
    0.09090909090909091, 0.09090909090909091, 0.1111111111111111, 0.1111111111111111, 0.14285714285714285,
    0.14285714285714285, 0.2, 0.2, 0.3333333333333333, 0.3333333333333333,
  ],
  16,
)
/** 1/9!, 1/8!, … 1/3!. */
const FACTORIALS: usize = memory.data<f64>(
  [
    2.7557319223985893e-6, 2.7557319223985893e-6, 2.48015873015873e-5, 2.48015873015873e-5,
    1.984126984126984e-4, 1.984126984126984e-4, 1.3888888888888889e-3, 1.3888888888888889e-3,
    8.333333333333333e-3, 8.333333333333333e-3, 4.1666666666666664e-2, 4.1666666666666664e-2,
    0.16666666666666666, 0.16666666666666666,
  ],
  16,
)
/** A gain computer: threshold, slope, half the knee, its inverse, limit; the value of each and its step, in both lanes. */
const COMPUTER: usize = memory.data(16 * 13, 16)
const STEPS_APART: usize = 80
const PER_OCTAVE: usize = COMPUTER + 160
/** Octaves of a dB, and what is made up for in dB. */
const PER_DB: usize = COMPUTER + 176
const MAKEUP: usize = COMPUTER + 192

@inline
function log2Quick(x: v128): v128 {
  const shifted = i64x2.shr_u(x, 52)
  const small = i8x16.shuffle(shifted, shifted, 0, 1, 2, 3, 8, 9, 10, 11, 0, 1, 2, 3, 8, 9, 10, 11)
  let exponent = f64x2.sub(f64x2.convert_low_i32x4_s(small), v128.load(BIAS))
  let mantissa = v128.or(v128.and(x, v128.load(MANTISSA)), v128.load(EXPONENT_OF_1))
  const large = f64x2.gt(mantissa, v128.load(SQRT_2))
  mantissa = v128.bitselect(f64x2.mul(mantissa, v128.load(HALF)), mantissa, large)
  exponent = f64x2.add(exponent, v128.and(v128.load(ONE), large))
  const s = f64x2.div(f64x2.sub(mantissa, v128.load(ONE)), f64x2.add(mantissa, v128.load(ONE)))
  const w = f64x2.mul(s, s)
  let sum = v128.load(ODD_PARTS)
  sum = f64x2.add(f64x2.mul(sum, w), v128.load(ODD_PARTS, 16))
  sum = f64x2.add(f64x2.mul(sum, w), v128.load(ODD_PARTS, 32))
  sum = f64x2.add(f64x2.mul(sum, w), v128.load(ODD_PARTS, 48))
  sum = f64x2.add(f64x2.mul(sum, w), v128.load(ODD_PARTS, 64))
  sum = f64x2.add(f64x2.mul(sum, w), v128.load(ONE))
  const log = f64x2.mul(f64x2.mul(f64x2.add(s, s), sum), v128.load(LOG2_E))
  return f64x2.add(exponent, log)
}

@inline
function exp2Quick(x: v128): v128 {
  // Of a whole number plus 1.5·2^52 the lowest bits are the number.
  const rounded = f64x2.add(x, v128.load(WHOLE))
  const r = f64x2.mul(f64x2.sub(x, f64x2.sub(rounded, v128.load(WHOLE))), v128.load(LN_2))
  const r2 = f64x2.mul(r, r)
  const r4 = f64x2.mul(r2, r2)
  const low = f64x2.add(
    f64x2.add(v128.load(ONE), r),
    f64x2.mul(r2, f64x2.add(v128.load(HALF), f64x2.mul(r, v128.load(FACTORIALS, 96)))),
  )
  const middle = f64x2.add(
    f64x2.add(v128.load(FACTORIALS, 80), f64x2.mul(r, v128.load(FACTORIALS, 64))),
    f64x2.mul(r2, f64x2.add(v128.load(FACTORIALS, 48), f64x2.mul(r, v128.load(FACTORIALS, 32)))),
  )
  const high = f64x2.add(v128.load(FACTORIALS, 16), f64x2.mul(r, v128.load(FACTORIALS)))
  const sum = f64x2.add(f64x2.add(low, f64x2.mul(r4, middle)), f64x2.mul(f64x2.mul(r4, r4), high))
  const exponent = i64x2.add(rounded, v128.load(WHOLE_BIAS))
  return f64x2.mul(sum, i64x2.shl(exponent, 52))
}

@inline
function largestAt(heard: usize, by1: usize, by2: usize, by3: usize): v128 {
  return f64x2.pmax(
    f64x2.pmax(v128.load(heard), v128.load(heard + by1)),
    f64x2.pmax(v128.load(heard + by2), v128.load(heard + by3)),
  )
}

/**
 * From each of the first `length` places heard on, the largest of what lies there and so many bytes further, into `into`. Two pairs at a
 * time, of which both are read before one is written.
 */
@inline
function largestOf(into: usize, length: i32, by1: usize, by2: usize, by3: usize): void {
  const end: usize = <usize>length << 3
  let i: usize = 0
  for (; i + 32 <= end; i += 32) {
    const a = largestAt(HEARD + i, by1, by2, by3)
    const b = largestAt(HEARD + i + 16, by1, by2, by3)
    v128.store(into + i, a)
    v128.store(into + i, b, 16)
  }
  for (; i + 16 <= end; i += 16) v128.store(into + i, largestAt(HEARD + i, by1, by2, by3))
  if (i < end) v128.store64_lane(into + i, largestAt(HEARD + i, by1, by2, by3), 0)
}

/** The largest of the `width` newest values heard, for each of `count` frames, into the levels. */
export function windowMaximum(width: i32, count: i32): void {
  let length = count + width - 1
  let reach = 1
  while (reach * 4 <= width) {
    length -= reach * 3
    const by: usize = <usize>reach << 3
    largestOf(HEARD, length, by, by * 2, by * 3)
    reach *= 4
  }
  const rest: usize = <usize>(width - reach) << 3
  const by: usize = <usize>reach << 3
  largestOf(LEVELS, count, min(by, rest), min(by * 2, rest), rest)
}

/** The mean of the `width` newest values heard, for each of `count` frames; raises the levels to it. */
export function windowMean(width: i32, count: i32): void {
  const weight = 1.0 / <f64>width
  let sum: f64 = 0
  for (let i = 0; i < count; i++) {
    const first: usize = HEARD + (<usize>i << 3)
    if ((i & (FLUSH_FRAMES - 1)) == 0) {
      let a = f64x2.splat(0)
      let b = f64x2.splat(0)
      let k = 0
      for (; k + 4 <= width; k += 4) {
        a = f64x2.add(a, v128.load(first + (<usize>k << 3)))
        b = f64x2.add(b, v128.load(first + (<usize>k << 3), 16))
      }
      const both = f64x2.add(a, b)
      sum = f64x2.extract_lane(both, 0) + f64x2.extract_lane(both, 1)
      for (; k < width; k++) sum += load<f64>(first + (<usize>k << 3))
    } else sum += load<f64>(first + (<usize>(width - 1) << 3)) - load<f64>(first - 8)
    const mean = sum * weight
    const place: usize = LEVELS + (<usize>i << 3)
    if (mean > load<f64>(place)) store<f64>(place, mean)
  }
}

@inline
function keepMoving(index: usize, value: f64, step: f64): void {
  const at = COMPUTER + (index << 4)
  v128.store(at, f64x2.splat(value))
  v128.store(at, f64x2.splat(step), STEPS_APART)
}

/** A number of the gain computer `t` frames on. */
@inline
function moved(index: usize, t: v128, still: bool): v128 {
  const at = COMPUTER + (index << 4)
  return still ? v128.load(at) : f64x2.add(v128.load(at), f64x2.mul(t, v128.load(at, STEPS_APART)))
}

/** What two levels ask for, `t` frames on. */
@inline
function asked(level: v128, t: v128, still: bool): v128 {
  const zero = f64x2.splat(0)
  const heard = f64x2.pmax(level, v128.load(LEAST_LEVEL))
  const over = f64x2.sub(f64x2.mul(log2Quick(heard), v128.load(PER_OCTAVE)), moved(0, t, still))
  const half = moved(2, t, still)
  const knee = f64x2.pmin(f64x2.pmax(f64x2.add(over, half), zero), f64x2.add(half, half))
  const bent = f64x2.mul(f64x2.mul(knee, knee), moved(3, t, still))
  const beyond = f64x2.pmax(f64x2.sub(over, half), zero)
  return f64x2.pmin(f64x2.mul(moved(1, t, still), f64x2.add(bent, beyond)), moved(4, t, still))
}

/** Levels, linear or their squares, become the reductions in dB that they ask for. */
export function askReductions(
  from: i32,
  to: i32,
  dbPerOctave: f64,
  threshold: f64,
  thresholdStep: f64,
  slope: f64,
  slopeStep: f64,
  half: f64,
  halfStep: f64,
  inverse: f64,
  inverseStep: f64,
  most: f64,
  mostStep: f64,
): void {
  keepMoving(0, threshold, thresholdStep)
  keepMoving(1, slope, slopeStep)
  keepMoving(2, half, halfStep)
  keepMoving(3, inverse, inverseStep)
  keepMoving(4, most, mostStep)
  v128.store(PER_OCTAVE, f64x2.splat(dbPerOctave))
  let t: v128 = f64x2(0, 1)
  if (thresholdStep != 0 || slopeStep != 0 || halfStep != 0 || inverseStep != 0 || mostStep != 0) {
    let i: usize = <usize>from << 3
    for (; i + 16 <= <usize>to << 3; i += 16) {
      v128.store(LEVELS + i, asked(v128.load(LEVELS + i), t, false))
      t = f64x2.add(t, v128.load(TWO))
    }
    if (i < <usize>to << 3) v128.store64_lane(LEVELS + i, asked(v128.load64_zero(LEVELS + i), t, false), 0)
    return
  }
  // A level that stays, as a peak that is held does, asks for what it asked for before.
  let known = f64x2.splat(-1)
  let answer = f64x2.splat(0)
  let i: usize = <usize>from << 3
  for (; i + 16 <= <usize>to << 3; i += 16) {
    const level = v128.load(LEVELS + i)
    if (!i64x2.all_true(f64x2.eq(level, known))) {
      known = level
      answer = asked(level, t, true)
    }
    v128.store(LEVELS + i, answer)
  }
  if (i < <usize>to << 3) v128.store64_lane(LEVELS + i, asked(v128.load64_zero(LEVELS + i), t, true), 0)
}

/** A reduction follows what is asked: `attack` of the way with each frame where more is asked, else `release`. */
export function follow(
  from: i32,
  to: i32,
  reduction: f64,
  attack: f64,
  attackStep: f64,
  release: f64,
  releaseStep: f64,
): f64 {
  let y = reduction
  for (let i: usize = <usize>from << 3; i < <usize>to << 3; i += 8) {
    y = followed(y, load<f64>(LEVELS + i), attack, release)
    store<f64>(LEVELS + i, y)
    attack += attackStep
    release += releaseStep
  }
  return y
}

/** Reductions become gains, linear, raised by `makeupDb`. */
export function toGains(from: i32, to: i32, makeupDb: f64): void {
  const inverse = f64x2.splat(1 / DB_PER_OCTAVE)
  const makeup = f64x2.splat(makeupDb)
  // Two pairs at a time: the processor works on both at once.
  let i: usize = <usize>from << 3
  const end: usize = <usize>to << 3
  for (; i + 32 <= end; i += 32) {
    const a = f64x2.mul(f64x2.sub(makeup, v128.load(LEVELS + i)), inverse)
    const b = f64x2.mul(f64x2.sub(makeup, v128.load(LEVELS + i, 16)), inverse)
    v128.store(LEVELS + i, exp2Quick(a))
    v128.store(LEVELS + i, exp2Quick(b), 16)
  }
  for (; i < end; i += 8) {
    const octaves = f64x2.mul(f64x2.sub(makeup, v128.load64_zero(LEVELS + i)), inverse)
    v128.store64_lane(LEVELS + i, exp2Quick(octaves), 0)
  }
}

/**
 * `askReductions`, `follow` and `toGains` in one loop, for numbers that stay. Following waits for itself from frame to frame;
 * the other two fill the time.
 */
export function toStillGains(
  to: i32,
  dbPerOctave: f64,
  threshold: f64,
  slope: f64,
  half: f64,
  inverse: f64,
  most: f64,
  reduction: f64,
  attack: f64,
  release: f64,
  makeupDb: f64,
): f64 {
  keepMoving(0, threshold, 0)
  keepMoving(1, slope, 0)
  keepMoving(2, half, 0)
  keepMoving(3, inverse, 0)
  keepMoving(4, most, 0)
  v128.store(PER_OCTAVE, f64x2.splat(dbPerOctave))
  v128.store(PER_DB, f64x2.splat(1 / DB_PER_OCTAVE))
  v128.store(MAKEUP, f64x2.splat(makeupDb))
  const t = f64x2.splat(0)
  let known = f64x2.splat(-1)
  let answer = f64x2.splat(0)
  let y = reduction
  let i: usize = 0
  for (; i + 16 <= <usize>to << 3; i += 16) {
    const level = v128.load(LEVELS + i)
    if (!i64x2.all_true(f64x2.eq(level, known))) {
      known = level
      answer = asked(level, t, true)
    }
    const first = followed(y, f64x2.extract_lane(answer, 0), attack, release)
    y = followed(first, f64x2.extract_lane(answer, 1), attack, release)
    const pair = f64x2.replace_lane(f64x2.splat(first), 1, y)
    const octaves = f64x2.mul(f64x2.sub(v128.load(MAKEUP), pair), v128.load(PER_DB))
    v128.store(LEVELS + i, exp2Quick(octaves))
  }
  if (i < <usize>to << 3) {
    answer = asked(v128.load64_zero(LEVELS + i), t, true)
    y = followed(y, f64x2.extract_lane(answer, 0), attack, release)
    const octaves = f64x2.mul(f64x2.sub(v128.load(MAKEUP), f64x2.splat(y)), v128.load(PER_DB))
    v128.store64_lane(LEVELS + i, exp2Quick(octaves), 0)
  }
  return y
}

@inline
function followed(y: f64, asked: f64, attack: f64, release: f64): f64 {
  const by = asked - y
  const next = y + (by > 0 ? attack : release) * by
  return next < 1e-12 ? 0 : next
}

@inline
function sizeAt(channels: i32, at: usize): v128 {
  const left = f64x2.abs(v128.load(LEFT + at))
  return channels == 1 ? left : f64x2.pmax(left, f64x2.abs(v128.load(RIGHT + at)))
}

@inline
function hearSizes(channels: i32, count: i32): void {
  let i: usize = 0
  const end: usize = <usize>count << 3
  for (; i + 16 <= end; i += 16) v128.store(LEVELS + i, sizeAt(channels, i))
  if (i < end) v128.store64_lane(LEVELS + i, sizeAt(channels, i), 0)
}

/** Writes the size of the sound, the larger of both sides, into the levels. */
export function hearPeaks(channels: i32, count: i32): void {
  if (channels == 1) hearSizes(1, count)
  else hearSizes(2, count)
}

/** Writes the squares of a side of the sound into the levels. */
export function hearSquares(side: i32, count: i32): void {
  const samples = side == 0 ? LEFT : RIGHT
  const end: usize = <usize>count << 3
  let i: usize = 0
  for (; i + 16 <= end; i += 16) {
    const x = v128.load(samples + i)
    v128.store(LEVELS + i, f64x2.mul(x, x))
  }
  if (i < end) {
    const x = load<f64>(samples + i)
    store<f64>(LEVELS + i, x * x)
  }
}

/** Multiplies the sound by the levels. */
export function applyLevels(channels: i32, count: i32): void {
  const end: usize = <usize>count << 3
  let i: usize = 0
  for (; i + 16 <= end; i += 16) {
    const gains = v128.load(LEVELS + i)
    v128.store(LEFT + i, f64x2.mul(v128.load(LEFT + i), gains))
    if (channels == 2) v128.store(RIGHT + i, f64x2.mul(v128.load(RIGHT + i), gains))
  }
  if (i == end) return
  const gain = load<f64>(LEVELS + i)
  store<f64>(LEFT + i, load<f64>(LEFT + i) * gain)
  if (channels == 2) store<f64>(RIGHT + i, load<f64>(RIGHT + i) * gain)
}
