// What brings sound to the processors and looks at it, in AssemblyScript; `plainSound` in `../sound.ts` is its definition, to the
// bit. Two frames at a time, in 64-bit lanes. Part of `processing.ts`.

import { LEFT, RIGHT, SOURCE_LEFT, SOURCE_RIGHT } from '../processing-places'

@inline
function heightAt(t: v128, c0: f64, c1: f64, c2: f64, c3: f64, curved: bool): v128 {
  if (!curved) return f64x2.add(f64x2.splat(c0), f64x2.mul(t, f64x2.splat(c1)))
  const inner = f64x2.add(f64x2.splat(c2), f64x2.mul(t, f64x2.splat(c3)))
  return f64x2.add(f64x2.splat(c0), f64x2.mul(t, f64x2.add(f64x2.splat(c1), f64x2.mul(t, inner))))
}

@inline
function placed(source: usize, gain: v128): v128 {
  const x = f64x2.mul(f64x2.promote_low_f32x4(v128.load64_zero(source)), gain)
  return f64x2.add(f64x2.splat(0), x)
}

@inline
function gainAt(t: v128, threaded: bool, curved: bool, gain: f64, c0: f64, c1: f64, c2: f64, c3: f64): v128 {
  if (!threaded) return f64x2.splat(gain)
  const h = heightAt(t, c0, c1, c2, c3, curved)
  return f64x2.mul(f64x2.mul(f64x2.mul(h, h), h), f64x2.splat(gain))
}

@inline
function place(
  at: i32,
  count: i32,
  channels: i32,
  threaded: bool,
  curved: bool,
  gain: f64,
  start: f64,
  c0: f64,
  c1: f64,
  c2: f64,
  c3: f64,
): void {
  let t: v128 = f64x2(start, start + 1)
  let to: usize = <usize>at << 3
  const pairs: usize = <usize>(count & ~1) << 2
  for (let i: usize = 0; i < pairs; i += 8) {
    const g = gainAt(t, threaded, curved, gain, c0, c1, c2, c3)
    v128.store(LEFT + to, placed(SOURCE_LEFT + i, g))
    if (channels == 2) v128.store(RIGHT + to, placed(SOURCE_RIGHT + i, g))
    t = f64x2.add(t, f64x2.splat(2))
    to += 16
  }
  if ((count & 1) == 0) return
  // An odd last frame is worked out beside one that is thrown away.
  const g = gainAt(t, threaded, curved, gain, c0, c1, c2, c3)
  v128.store64_lane(LEFT + to, placed(SOURCE_LEFT + pairs, g), 0)
  if (channels == 2) v128.store64_lane(RIGHT + to, placed(SOURCE_RIGHT + pairs, g), 0)
}

/** Writes source frames times a gain, which a thread of heights may move, into the sound from frame `at` on. */
export function placeSource(
  at: i32,
  count: i32,
  channels: i32,
  threaded: bool,
  gain: f64,
  start: f64,
  c0: f64,
  c1: f64,
  c2: f64,
  c3: f64,
): void {
  if (threaded && c2 == 0 && c3 == 0)
    place(at, count, channels, true, false, gain, start, c0, c1, 0, 0)
  else place(at, count, channels, threaded, true, gain, start, c0, c1, c2, c3)
}

@inline
function nothingOf(at: usize): v128 {
  return f64x2.mul(v128.load(at), f64x2.splat(0))
}

/** A sum that is 0 unless some of a side, from byte to byte, are no numbers: in four parts, none of which waits for another. */
function faultsOf(side: usize, from: usize, to: usize): f64 {
  let a = f64x2.splat(0)
  let b = f64x2.splat(0)
  let c = f64x2.splat(0)
  let d = f64x2.splat(0)
  let i = side + from
  const end = side + to
  for (; i + 64 <= end; i += 64) {
    a = f64x2.add(a, nothingOf(i))
    b = f64x2.add(b, nothingOf(i + 16))
    c = f64x2.add(c, nothingOf(i + 32))
    d = f64x2.add(d, nothingOf(i + 48))
  }
  const sum = f64x2.add(f64x2.add(a, b), f64x2.add(c, d))
  let rest = f64x2.extract_lane(sum, 0) + f64x2.extract_lane(sum, 1)
  for (; i < end; i += 8) rest += load<f64>(i) * 0
  return rest
}

/** Whether all of the sound from frame `from` to `to` are numbers. */
export function isFiniteSound(channels: i32, from: i32, to: i32): bool {
  let sum = faultsOf(LEFT, <usize>from << 3, <usize>to << 3)
  if (channels == 2) sum += faultsOf(RIGHT, <usize>from << 3, <usize>to << 3)
  return sum == 0
}
