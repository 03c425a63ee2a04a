// A room in AssemblyScript; `plainRoom` in `../room.ts` is its definition, to the bit. Filters run four lines at a time, all else four
// frames. Part of `processing.ts`.

import {
  LEFT,
  RIGHT,
  ROOM_CHANNEL,
  ROOM_DRY_LEFT,
  ROOM_DRY_RIGHT,
  ROOM_LEFT,
  ROOM_LINES,
  ROOM_MIXES,
  ROOM_NUMBERS,
  ROOM_RIGHT,
  ROOM_SPREAD,
  ROOM_TAPS,
  ROOM_TILE,
  ROOM_WEIGHTS,
} from '../processing-places'
import { flushNarrow } from './narrow'

const MOST_TAP_FRAMES: i32 = 4096
const FLUSH_FRAMES: i32 = 64
/** Where the numbers of sixteen lines stand, each after the one before. */
const TAKE: usize = 64
const CUT_KEEP: usize = 128
const CUT_TAKE: usize = 192
const LOW: usize = 256
const DC: usize = 320
/** Bytes of sixteen frames of a line. */
const TILE: usize = 64

const SMALLEST: f32 = 1e-30

/** See `RoomLoops.flush`. */
export function flushRoom(back: i32, count: i32): void {
  const from = <usize>(MOST_TAP_FRAMES - back) << 2
  const to = <usize>(MOST_TAP_FRAMES + count) << 2
  flushNarrow(ROOM_LEFT + from, ROOM_LEFT + to, SMALLEST)
  flushNarrow(ROOM_RIGHT + from, ROOM_RIGHT + to, SMALLEST)
}

/** The first two steps of a Hadamard matrix, on four channels; what comes out is kept in the tile from `to` on. */
@inline
function mixFour(a: v128, b: v128, c: v128, d: v128, to: usize): void {
  const ab = f32x4.add(a, b)
  const ba = f32x4.sub(a, b)
  const cd = f32x4.add(c, d)
  const dc = f32x4.sub(c, d)
  v128.store(to, f32x4.add(ab, cd))
  v128.store(to, f32x4.add(ba, dc), TILE)
  v128.store(to, f32x4.sub(ab, cd), 2 * TILE)
  v128.store(to, f32x4.sub(ba, dc), 3 * TILE)
}

/** The other two steps, on channels that lie four apart, from the tile to channels of 1024 frames. */
@inline
function mixApart(from: usize, to: usize): void {
  const a = v128.load(from)
  const b = v128.load(from, 4 * TILE)
  const c = v128.load(from, 8 * TILE)
  const d = v128.load(from, 12 * TILE)
  const ab = f32x4.add(a, b)
  const ba = f32x4.sub(a, b)
  const cd = f32x4.add(c, d)
  const dc = f32x4.sub(c, d)
  v128.store(to, f32x4.add(ab, cd))
  v128.store(to, f32x4.add(ba, dc), 4 * ROOM_CHANNEL)
  v128.store(to, f32x4.sub(ab, cd), 8 * ROOM_CHANNEL)
  v128.store(to, f32x4.sub(ba, dc), 12 * ROOM_CHANNEL)
}

@inline
function mixAllApart(from: usize, to: usize): void {
  mixApart(from, to)
  mixApart(from + TILE, to + ROOM_CHANNEL)
  mixApart(from + 2 * TILE, to + 2 * ROOM_CHANNEL)
  mixApart(from + 3 * TILE, to + 3 * ROOM_CHANNEL)
}

/** What a channel takes of both sides in four frames. */
@inline
function tapped(n: usize, at: usize): v128 {
  const left = ROOM_LEFT + at - (<usize>load<i32>(ROOM_TAPS + (n << 2)) << 2)
  const right = ROOM_RIGHT + at - (<usize>load<i32>(ROOM_TAPS + 64 + (n << 2)) << 2)
  return f32x4.add(
    f32x4.mul(v128.load(left), v128.load32_splat(ROOM_WEIGHTS + (n << 2))),
    f32x4.mul(v128.load(right), v128.load32_splat(ROOM_WEIGHTS + 64 + (n << 2))),
  )
}

/** See `RoomLoops.diffuse`. What is mixed lies in the tile, which is free meanwhile. */
export function diffuseRoom(first: i32, tiles: i32): void {
  const end = first + (tiles << 4)
  for (let i = first; i < end; i += 4) {
    const at = <usize>(MOST_TAP_FRAMES + i) << 2
    mixFour(tapped(0, at), tapped(1, at), tapped(2, at), tapped(3, at), ROOM_TILE)
    mixFour(tapped(4, at), tapped(5, at), tapped(6, at), tapped(7, at), ROOM_TILE + 4 * TILE)
    mixFour(tapped(8, at), tapped(9, at), tapped(10, at), tapped(11, at), ROOM_TILE + 8 * TILE)
    mixFour(tapped(12, at), tapped(13, at), tapped(14, at), tapped(15, at), ROOM_TILE + 12 * TILE)
    mixAllApart(ROOM_TILE, ROOM_SPREAD + (<usize>i << 2))
  }
}

/** Filters sixteen frames of lines 4k to 4k + 3. */
@inline
function filterFour(k: usize, from: usize): void {
  const quad = ROOM_NUMBERS + 16 * k
  const line = ROOM_LINES + 4 * k * ROOM_CHANNEL + from
  const tile = ROOM_TILE + 4 * k * TILE
  const keep = v128.load(quad)
  const take = v128.load(quad, TAKE)
  const cutKeep = v128.load(quad, CUT_KEEP)
  const cutTake = v128.load(quad, CUT_TAKE)
  let low = v128.load(quad, LOW)
  let dc = v128.load(quad, DC)
  for (let i: usize = 0; i < 64; i += 16) {
    // Four frames of each line, turned round to four lines of each frame.
    let a = v128.load(line + i)
    let b = v128.load(line + i, ROOM_CHANNEL)
    let c = v128.load(line + i, 2 * ROOM_CHANNEL)
    let d = v128.load(line + i, 3 * ROOM_CHANNEL)
    let ab = v128.shuffle<f32>(a, b, 0, 4, 1, 5)
    let cd = v128.shuffle<f32>(c, d, 0, 4, 1, 5)
    let ba = v128.shuffle<f32>(a, b, 2, 6, 3, 7)
    let dcs = v128.shuffle<f32>(c, d, 2, 6, 3, 7)
    low = f32x4.add(f32x4.mul(keep, low), f32x4.mul(take, v128.shuffle<f64>(ab, cd, 0, 2)))
    dc = f32x4.add(f32x4.mul(cutKeep, dc), f32x4.mul(cutTake, low))
    a = f32x4.sub(low, dc)
    low = f32x4.add(f32x4.mul(keep, low), f32x4.mul(take, v128.shuffle<f64>(ab, cd, 1, 3)))
    dc = f32x4.add(f32x4.mul(cutKeep, dc), f32x4.mul(cutTake, low))
    b = f32x4.sub(low, dc)
    low = f32x4.add(f32x4.mul(keep, low), f32x4.mul(take, v128.shuffle<f64>(ba, dcs, 0, 2)))
    dc = f32x4.add(f32x4.mul(cutKeep, dc), f32x4.mul(cutTake, low))
    c = f32x4.sub(low, dc)
    low = f32x4.add(f32x4.mul(keep, low), f32x4.mul(take, v128.shuffle<f64>(ba, dcs, 1, 3)))
    dc = f32x4.add(f32x4.mul(cutKeep, dc), f32x4.mul(cutTake, low))
    d = f32x4.sub(low, dc)
    // And back.
    ab = v128.shuffle<f32>(a, b, 0, 4, 1, 5)
    cd = v128.shuffle<f32>(c, d, 0, 4, 1, 5)
    ba = v128.shuffle<f32>(a, b, 2, 6, 3, 7)
    dcs = v128.shuffle<f32>(c, d, 2, 6, 3, 7)
    v128.store(tile + i, v128.shuffle<f64>(ab, cd, 0, 2))
    v128.store(tile + i, v128.shuffle<f64>(ab, cd, 1, 3), TILE)
    v128.store(tile + i, v128.shuffle<f64>(ba, dcs, 0, 2), 2 * TILE)
    v128.store(tile + i, v128.shuffle<f64>(ba, dcs, 1, 3), 3 * TILE)
  }
  v128.store(quad, low, LOW)
  v128.store(quad, dc, DC)
}

/** What is fed to a line. */
@inline
function fed(n: usize, spread: usize): v128 {
  return f32x4.mul(v128.load(spread + n * ROOM_CHANNEL), v128.load32_splat(ROOM_WEIGHTS + 128 + (n << 2)))
}

/** What is heard of four lines whose last is subtracted, or of whom only the last is not. */
@inline
function threeAndOne(a: v128, b: v128, c: v128, d: v128): v128 {
  return f32x4.sub(f32x4.add(f32x4.add(a, b), c), d)
}

@inline
function moreThree(sum: v128, a: v128, b: v128, c: v128, d: v128): v128 {
  return f32x4.sub(f32x4.add(f32x4.add(f32x4.add(sum, a), b), c), d)
}

@inline
function lessThree(sum: v128, a: v128, b: v128, c: v128, d: v128): v128 {
  return f32x4.add(f32x4.sub(f32x4.sub(f32x4.sub(sum, a), b), c), d)
}

/** Writes four frames in 64 bits. */
@inline
function widened(x: v128, to: usize): void {
  v128.store(to, f64x2.promote_low_f32x4(x))
  v128.store(to, f64x2.promote_low_f32x4(v128.shuffle<f32>(x, x, 2, 3, 0, 1)), 16)
}

/** See `RoomLoops.turn`. */
export function turnRoom(first: i32, from: i32, tiles: i32, late: f32): void {
  const lates = f32x4.splat(late)
  for (let t = 0; t < tiles; t++) {
    const frame = first + (t << 4)
    const place = <usize>(from + (t << 4)) << 2
    if ((frame & (FLUSH_FRAMES - 1)) == 0) flushNarrow(ROOM_NUMBERS + LOW, ROOM_NUMBERS + DC + 64, SMALLEST)
    filterFour(0, place)
    filterFour(1, place)
    filterFour(2, place)
    filterFour(3, place)
    for (let i: usize = 0; i < 64; i += 16) {
      const at = ROOM_TILE + i
      const spread = ROOM_SPREAD + (<usize>frame << 2) + i
      const sound = (<usize>frame << 3) + (i << 1)
      let a = fed(0, spread)
      let b = fed(1, spread)
      let c = fed(2, spread)
      let d = fed(3, spread)
      let early = threeAndOne(a, b, c, d)
      a = f32x4.add(v128.load(at), a)
      b = f32x4.add(v128.load(at, TILE), b)
      c = f32x4.add(v128.load(at, 2 * TILE), c)
      d = f32x4.add(v128.load(at, 3 * TILE), d)
      let sum = threeAndOne(a, b, c, d)
      mixFour(a, b, c, d, at)
      a = fed(4, spread)
      b = fed(5, spread)
      c = fed(6, spread)
      d = fed(7, spread)
      early = moreThree(early, a, b, c, d)
      a = f32x4.add(v128.load(at, 4 * TILE), a)
      b = f32x4.add(v128.load(at, 5 * TILE), b)
      c = f32x4.add(v128.load(at, 6 * TILE), c)
      d = f32x4.add(v128.load(at, 7 * TILE), d)
      sum = moreThree(sum, a, b, c, d)
      widened(f32x4.sub(sum, f32x4.mul(early, lates)), RIGHT + sound)
      mixFour(a, b, c, d, at + 4 * TILE)
      a = fed(8, spread)
      b = fed(9, spread)
      c = fed(10, spread)
      d = fed(11, spread)
      early = threeAndOne(a, b, c, d)
      a = f32x4.add(v128.load(at, 8 * TILE), a)
      b = f32x4.add(v128.load(at, 9 * TILE), b)
      c = f32x4.add(v128.load(at, 10 * TILE), c)
      d = f32x4.add(v128.load(at, 11 * TILE), d)
      sum = threeAndOne(a, b, c, d)
      mixFour(a, b, c, d, at + 8 * TILE)
      a = fed(12, spread)
      b = fed(13, spread)
      c = fed(14, spread)
      d = fed(15, spread)
      early = lessThree(early, a, b, c, d)
      a = f32x4.add(v128.load(at, 12 * TILE), a)
      b = f32x4.add(v128.load(at, 13 * TILE), b)
      c = f32x4.add(v128.load(at, 14 * TILE), c)
      d = f32x4.add(v128.load(at, 15 * TILE), d)
      sum = lessThree(sum, a, b, c, d)
      widened(f32x4.sub(sum, f32x4.mul(early, lates)), LEFT + sound)
      mixFour(a, b, c, d, at + 12 * TILE)
      mixAllApart(at, ROOM_LINES + place + i)
    }
  }
}

/** See `RoomLoops.mix`. */
export function mixRoom(count: i32, level: f64): void {
  const levels = f64x2.splat(level)
  const one = f64x2.splat(1)
  const end = <usize>count << 3
  for (let at: usize = 0; at < end; at += 16) {
    const mix = v128.load(ROOM_MIXES + at)
    const rest = f64x2.sub(one, mix)
    const mid = f64x2.mul(v128.load(RIGHT + at), levels)
    const side = f64x2.mul(v128.load(LEFT + at), levels)
    const left = f64x2.mul(mix, f64x2.add(mid, side))
    const right = f64x2.mul(mix, f64x2.sub(mid, side))
    v128.store(LEFT + at, f64x2.add(f64x2.mul(rest, v128.load(ROOM_DRY_LEFT + at)), left))
    v128.store(RIGHT + at, f64x2.add(f64x2.mul(rest, v128.load(ROOM_DRY_RIGHT + at)), right))
  }
}
