// Levels and gains of what depends on level, in AssemblyScript; `plainDynamics` in `../dynamics.ts` is its definition, to the
// bit. Two frames at a time, in 64-bit lanes. Part of `processing.ts`.

/** Where things lie in the memory: both sides of the sound, the levels, and the window of what was heard, all 64-bit. */
const LEFT: usize = 0
const RIGHT: usize = 8192
const LEVELS: usize = 32768
const HEARD: usize = 65536

const LN2: f64 = 0.6931471805599453
const LOG2_OF_E: f64 = 1.4426950408889634
const DB_PER_OCTAVE: f64 = 6.020599913279624
const LEAST: f64 = 1e-20
const FLUSH_FRAMES: i32 = 64

@inline
function log2Quick(x: v128): v128 {
  const shifted = i64x2.shr_u(x, 52)
  const small = i8x16.shuffle(shifted, shifted, 0, 1, 2, 3, 8, 9, 10, 11, 0, 1, 2, 3, 8, 9, 10, 11)
  let exponent = f64x2.sub(f64x2.convert_low_i32x4_s(small), f64x2.splat(1023))
  let mantissa = v128.or(v128.and(x, i64x2.splat(0x000fffffffffffff)), i64x2.splat(0x3ff0000000000000))
  const large = f64x2.gt(mantissa, f64x2.splat(1.4142135623730951))
  mantissa = v128.bitselect(f64x2.mul(mantissa, f64x2.splat(0.5)), mantissa, large)
  exponent = v128.bitselect(f64x2.add(exponent, f64x2.splat(1)), exponent, large)
  const one = f64x2.splat(1)
  const s = f64x2.div(f64x2.sub(mantissa, one), f64x2.add(mantissa, one))
  const w = f64x2.mul(s, s)
  let sum = f64x2.splat(0.09090909090909091)
  sum = f64x2.add(f64x2.mul(sum, w), f64x2.splat(0.1111111111111111))
  sum = f64x2.add(f64x2.mul(sum, w), f64x2.splat(0.14285714285714285))
  sum = f64x2.add(f64x2.mul(sum, w), f64x2.splat(0.2))
  sum = f64x2.add(f64x2.mul(sum, w), f64x2.splat(0.3333333333333333))
  sum = f64x2.add(f64x2.mul(sum, w), one)
  const log = f64x2.mul(f64x2.mul(f64x2.mul(f64x2.splat(2), s), sum), f64x2.splat(LOG2_OF_E))
  return f64x2.add(exponent, log)
}

@inline
function exp2Quick(x: v128): v128 {
  const whole = f64x2.floor(f64x2.add(x, f64x2.splat(0.5)))
  const r = f64x2.mul(f64x2.sub(x, whole), f64x2.splat(LN2))
  let sum = f64x2.splat(2.7557319223985893e-6)
  sum = f64x2.add(f64x2.mul(sum, r), f64x2.splat(2.48015873015873e-5))
  sum = f64x2.add(f64x2.mul(sum, r), f64x2.splat(1.984126984126984e-4))
  sum = f64x2.add(f64x2.mul(sum, r), f64x2.splat(1.3888888888888889e-3))
  sum = f64x2.add(f64x2.mul(sum, r), f64x2.splat(8.333333333333333e-3))
  sum = f64x2.add(f64x2.mul(sum, r), f64x2.splat(4.1666666666666664e-2))
  sum = f64x2.add(f64x2.mul(sum, r), f64x2.splat(0.16666666666666666))
  sum = f64x2.add(f64x2.mul(sum, r), f64x2.splat(0.5))
  sum = f64x2.add(f64x2.mul(sum, r), f64x2.splat(1))
  sum = f64x2.add(f64x2.mul(sum, r), f64x2.splat(1))
  const exponent = i64x2.add(
    i64x2.extend_low_i32x4_s(i32x4.trunc_sat_f64x2_s_zero(whole)),
    i64x2.splat(1023),
  )
  return f64x2.mul(sum, i64x2.shl(exponent, 52))
}

/** The largest of the `width` newest values heard, for each of `count` frames, into the levels. */
export function windowMaximum(width: i32, count: i32): void {
  let length = count + width - 1
  let reach = 1
  while (reach * 2 <= width) {
    length -= reach
    const other: usize = <usize>reach << 3
    const end: usize = <usize>length << 3
    for (let i: usize = 0; i < end; i += 16)
      v128.store(HEARD + i, f64x2.pmax(v128.load(HEARD + i), v128.load(HEARD + i + other)))
    reach *= 2
  }
  const rest: usize = <usize>(width - reach) << 3
  const end: usize = <usize>count << 3
  for (let i: usize = 0; i < end; i += 16)
    v128.store(LEVELS + i, f64x2.pmax(v128.load(HEARD + i), v128.load(HEARD + i + rest)))
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
  const zero = f64x2.splat(0)
  const still = thresholdStep == 0 && slopeStep == 0 && halfStep == 0 && inverseStep == 0 && mostStep == 0
  let t: v128 = f64x2(0, 1)
  // A level that stays, as a peak that is held does, asks for what it asked for before.
  let known = f64x2.splat(-1)
  let answer = zero
  for (let i: usize = <usize>from << 3; i < <usize>to << 3; i += 16) {
    const raw = v128.load(LEVELS + i)
    if (still && i64x2.all_true(f64x2.eq(raw, known))) {
      v128.store(LEVELS + i, answer)
      continue
    }
    known = raw
    const heard = f64x2.pmax(raw, f64x2.splat(LEAST))
    const level = f64x2.mul(log2Quick(heard), f64x2.splat(dbPerOctave))
    const over = f64x2.sub(level, f64x2.add(f64x2.splat(threshold), f64x2.mul(t, f64x2.splat(thresholdStep))))
    const h = f64x2.add(f64x2.splat(half), f64x2.mul(t, f64x2.splat(halfStep)))
    const knee = f64x2.pmin(f64x2.pmax(f64x2.add(over, h), zero), f64x2.add(h, h))
    const bent = f64x2.mul(
      f64x2.mul(knee, knee),
      f64x2.add(f64x2.splat(inverse), f64x2.mul(t, f64x2.splat(inverseStep))),
    )
    const beyond = f64x2.pmax(f64x2.sub(over, h), zero)
    const asked = f64x2.mul(
      f64x2.add(f64x2.splat(slope), f64x2.mul(t, f64x2.splat(slopeStep))),
      f64x2.add(bent, beyond),
    )
    answer = f64x2.pmin(asked, f64x2.add(f64x2.splat(most), f64x2.mul(t, f64x2.splat(mostStep))))
    v128.store(LEVELS + i, answer)
    t = f64x2.add(t, f64x2.splat(2))
  }
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
    const by = load<f64>(LEVELS + i) - y
    const risen = y + attack * by
    const fallen = y + release * by
    y = by > 0 ? risen : fallen
    if (y < 1e-12) y = 0
    store<f64>(LEVELS + i, y)
    attack += attackStep
    release += releaseStep
  }
  return y
}

/** Reductions become gains, linear, raised by `makeupDb`. What lies up to three frames after `to` is changed, too. */
export function toGains(from: i32, to: i32, makeupDb: f64): void {
  const inverse = f64x2.splat(1 / DB_PER_OCTAVE)
  const makeup = f64x2.splat(makeupDb)
  // Two pairs at a time: the processor works on both at once.
  for (let i: usize = <usize>from << 3; i < <usize>to << 3; i += 32) {
    const a = f64x2.mul(f64x2.sub(makeup, v128.load(LEVELS + i)), inverse)
    const b = f64x2.mul(f64x2.sub(makeup, v128.load(LEVELS + i, 16)), inverse)
    v128.store(LEVELS + i, exp2Quick(a))
    v128.store(LEVELS + i, exp2Quick(b), 16)
  }
}

/** Writes the size of the sound, the larger of both sides, into the levels. */
export function hearPeaks(channels: i32, count: i32): void {
  const end: usize = <usize>count << 3
  if (channels == 1)
    for (let i: usize = 0; i < end; i += 16) v128.store(LEVELS + i, f64x2.abs(v128.load(LEFT + i)))
  else
    for (let i: usize = 0; i < end; i += 16)
      v128.store(LEVELS + i, f64x2.pmax(f64x2.abs(v128.load(LEFT + i)), f64x2.abs(v128.load(RIGHT + i))))
}

/** Writes the squares of a side of the sound into the levels. */
export function hearSquares(side: i32, count: i32): void {
  const samples = side == 0 ? LEFT : RIGHT
  for (let i: usize = 0; i < <usize>count << 3; i += 16) {
    const x = v128.load(samples + i)
    v128.store(LEVELS + i, f64x2.mul(x, x))
  }
}

/** Multiplies the sound by the levels. */
export function applyLevels(channels: i32, count: i32): void {
  const end: usize = <usize>count << 3
  for (let i: usize = 0; i < end; i += 16) {
    const gains = v128.load(LEVELS + i)
    v128.store(LEFT + i, f64x2.mul(v128.load(LEFT + i), gains))
    if (channels == 2) v128.store(RIGHT + i, f64x2.mul(v128.load(RIGHT + i), gains))
  }
}
