// Points of a signal between its samples, in AssemblyScript; `plainPoints` in `../points.ts` is its definition, to the bit. Eight
// frames at a time, in 64-bit lanes. Part of `processing.ts`.

import {
  MIRRORED_TAPS,
  PHASE_BYTES,
  POINT_SIZES,
  POINT_WINDOW,
  ROUGH_SAMPLES,
  ROUGH_SIZES,
  ROUGH_WINDOW,
  TAP_TABLES,
} from '../processing-places'

/** Bytes of a table: seven rows of up to 128 taps. */
const TABLE: usize = 7168

/** The largest rough points of a part so far, in four lanes for each phase. */
const MOST: usize = memory.data(112, 16)
/** Bytes of a part of the rough window and of all its parts, and of the mirrored taps of one distance and of all. */
const PART: usize = 64
const WHOLE: usize = 1152
const STEP: usize = 28
const ALL: usize = 448

/** Writes the sizes of points of the phases `first` to `last` behind window places `from` ≤ i < `to`, by rows of so many taps. */
export function fillPoints(table: i32, many: i32, from: i32, to: i32, first: i32, last: i32): void {
  const row: usize = <usize>many << 3
  const end: usize = POINT_WINDOW + (<usize>to << 3)
  for (let p: i32 = first; p <= last; p++) {
    const taps: usize = TAP_TABLES + <usize>table * TABLE + <usize>p * row
    let at: usize = POINT_WINDOW + (<usize>from << 3)
    let out: usize = POINT_SIZES + <usize>p * PHASE_BYTES + (<usize>from << 3)
    for (; at + 56 < end; at += 64) {
      let a = f64x2.splat(0)
      let b = f64x2.splat(0)
      let c = f64x2.splat(0)
      let d = f64x2.splat(0)
      for (let t: usize = 0; t < row; t += 8) {
        const tap = v128.load64_splat(taps + t)
        const x = at + t
        a = f64x2.add(a, f64x2.mul(tap, v128.load(x)))
        b = f64x2.add(b, f64x2.mul(tap, v128.load(x, 16)))
        c = f64x2.add(c, f64x2.mul(tap, v128.load(x, 32)))
        d = f64x2.add(d, f64x2.mul(tap, v128.load(x, 48)))
      }
      v128.store(out, f64x2.abs(a))
      v128.store(out, f64x2.abs(b), 16)
      v128.store(out, f64x2.abs(c), 32)
      v128.store(out, f64x2.abs(d), 48)
      out += 64
    }
    for (; at < end; at += 8) {
      store<f64>(out, pointAt(taps, row, at))
      out += 8
    }
  }
}

/** The size of one point. */
@inline
function pointAt(taps: usize, row: usize, at: usize): f64 {
  let sum: f64 = 0
  for (let t: usize = 0; t < row; t += 8) sum += load<f64>(taps + t) * load<f64>(at + t)
  return Math.abs(sum)
}

/** The largest size of the samples of the window at `from` ≤ i < `to`. */
export function loudestSample(from: i32, to: i32): f64 {
  const end: usize = POINT_WINDOW + (<usize>to << 3)
  let at: usize = POINT_WINDOW + (<usize>from << 3)
  let a = f64x2.splat(0)
  let b = f64x2.splat(0)
  for (; at + 32 <= end; at += 32) {
    a = f64x2.pmax(a, f64x2.abs(v128.load(at)))
    b = f64x2.pmax(b, f64x2.abs(v128.load(at, 16)))
  }
  a = f64x2.pmax(a, b)
  for (; at < end; at += 8) a = f64x2.pmax(a, f64x2.abs(v128.load64_zero(at)))
  const one = f64x2.extract_lane(a, 0)
  const other = f64x2.extract_lane(a, 1)
  return other > one ? other : one
}

@inline
function largestLane(most: v128): f32 {
  const pairs = f32x4.pmax(most, i32x4.shuffle(most, most, 2, 3, 0, 1))
  return f32x4.extract_lane(f32x4.pmax(pairs, i32x4.shuffle(pairs, pairs, 1, 0, 3, 2)), 0)
}

/** Writes the largest size of the samples of each part of the rough window. */
export function largestSamples(): void {
  let out: usize = ROUGH_SAMPLES
  for (let at: usize = ROUGH_WINDOW; at < ROUGH_WINDOW + WHOLE; at += PART) {
    const a = f32x4.pmax(f32x4.abs(v128.load(at)), f32x4.abs(v128.load(at, 16)))
    const b = f32x4.pmax(f32x4.abs(v128.load(at, 32)), f32x4.abs(v128.load(at, 48)))
    store<f32>(out, largestLane(f32x4.pmax(a, b)))
    out += 4
  }
}

/** Raises one of the largest sizes of a part, which stand in memory: there are not registers enough for all. */
@inline
function raise(at: usize, sum: v128): void {
  v128.store(MOST + at, f32x4.pmax(v128.load(MOST + at), f32x4.abs(sum)))
}

/** Writes the largest rough sizes of the points of some parts, by phase, and returns the largest of all. */
export function roughPoints(first: i32, end: i32): f32 {
  let most: f32 = 0
  let out: usize = ROUGH_SIZES + <usize>first * STEP
  for (let part: i32 = first; part < end; part++) {
    for (let at: usize = MOST; at < MOST + 112; at += 16) v128.store(at, f32x4.splat(0))
    const begin: usize = ROUGH_WINDOW + 4 + <usize>part * PART
    for (let i: usize = begin; i < begin + PART; i += 16) {
      let e0 = f32x4.splat(0)
      let o0 = f32x4.splat(0)
      let e1 = f32x4.splat(0)
      let o1 = f32x4.splat(0)
      let e2 = f32x4.splat(0)
      let o2 = f32x4.splat(0)
      let e3 = f32x4.splat(0)
      // From the outermost taps, which are small, to those nearest to the point.
      let before: usize = i
      let after: usize = i + 124
      for (let taps: usize = MIRRORED_TAPS; taps < MIRRORED_TAPS + ALL; taps += STEP) {
        const a = v128.load(before)
        const b = v128.load(after)
        const even = f32x4.add(a, b)
        const odd = f32x4.sub(a, b)
        e0 = f32x4.add(e0, f32x4.mul(v128.load32_splat(taps), even))
        o0 = f32x4.add(o0, f32x4.mul(v128.load32_splat(taps, 4), odd))
        e1 = f32x4.add(e1, f32x4.mul(v128.load32_splat(taps, 8), even))
        o1 = f32x4.add(o1, f32x4.mul(v128.load32_splat(taps, 12), odd))
        e2 = f32x4.add(e2, f32x4.mul(v128.load32_splat(taps, 16), even))
        o2 = f32x4.add(o2, f32x4.mul(v128.load32_splat(taps, 20), odd))
        e3 = f32x4.add(e3, f32x4.mul(v128.load32_splat(taps, 24), even))
        before += 4
        after -= 4
      }
      raise(0, f32x4.add(e0, o0))
      raise(16, f32x4.add(e1, o1))
      raise(32, f32x4.add(e2, o2))
      raise(48, e3)
      raise(64, f32x4.sub(e2, o2))
      raise(80, f32x4.sub(e1, o1))
      raise(96, f32x4.sub(e0, o0))
    }
    for (let p: usize = 0; p < 7; p++) {
      const largest = largestLane(v128.load(MOST + (p << 4)))
      store<f32>(out + (p << 2), largest)
      if (largest > most) most = largest
    }
    out += STEP
  }
  return most
}
