import { SOUND_FRAMES } from './frames'
import { sumOf } from './narrow'
import {
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
} from './processing-places'
import type { Sound } from './sound'

/** Delay lines of a room, and channels over which what comes in is spread. */
export const LINES = 16
/** How far back taps lie, in frames, at most. */
export const MOST_TAP_FRAMES = 4096
/** Frames that are worked on at a time. */
export const TILE_FRAMES = 16
/** States that are looked at for numbers too small to matter every so many frames. */
const FLUSH_FRAMES = 64
const SMALLEST = Math.fround(1e-30)

/** Numbers of the lines: where those of all lines begin, one kind after the other. See `RoomLoops.turn`. */
export const NUMBERS = { keep: 0, take: 16, cutKeep: 32, cutTake: 48, low: 64, dc: 80 } as const
const NUMBERS_END = 96

/**
 * Whether a line is subtracted from what is heard. By products of the bits of its number (a bent function: O. S. Rothaus, 1976), so that
 * what is heard shares the same with what goes into each of the lines.
 */
const SUBTRACTED = [0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1, 1, 1, 1, 0] as const

type Both = readonly [Float64Array, Float64Array]

/** The loops of a room. The arrays are shared by all that call it: nothing outlasts a call. */
export interface RoomLoops {
  /** Both sides of what comes in: `MOST_TAP_FRAMES` from before, then those of the block. */
  readonly input: readonly [Float32Array, Float32Array]
  /** For each channel how many frames back it takes the left side, then the same for the right. */
  readonly taps: Int32Array
  /** By how much each tap is multiplied; then, for each channel, by how much what is fed to its line is. */
  readonly weights: Float32Array
  /** Sixteen channels over which the input is spread; then what they were some time before. */
  readonly spread: readonly Float32Array[]
  /** What comes out of the lines, from index 0 on; then what goes into them. */
  readonly lines: readonly Float32Array[]
  /** Numbers of the lines: see `NUMBERS`. */
  readonly numbers: Float32Array
  /** The dry sound, and how much of what comes out of the lines is heard, 0…1, for every frame. */
  readonly dry: Both
  readonly mixes: Float64Array
  /** Takes what is too small to matter in the input for nothing: `count` frames of the block, and `back` before them. */
  flush(back: number, count: number): void
  /**
   * Spreads `tiles` times sixteen frames of the input from frame `at` of the block on: each channel takes a tap of each side, and a Hadamard
   * matrix (of ±1) mixes them.
   */
  diffuse(at: number, tiles: number): void
  /**
   * Turns the lines by `tiles` times sixteen frames: frame `at` of the sound is frame `from` of the lines; both are multiples of sixteen. What
   * comes out of a line passes a low pass, `low = keep·low + take·x`, and a low cut, `dc = cutKeep·dc + cutTake·low`, which leave
   * `low - dc`; what is spread is added to that by its weight. This is heard, the first eight lines as the mid (right) and the others as
   * the side (left) of the sound, less `late` times what was spread; and a Hadamard matrix (of ±1) mixes all of it, and that goes into
   * the lines.
   */
  turn(at: number, from: number, tiles: number, late: number): void
  /** Mixes the first `count` frames, an even number: side and mid of the sound, times a level, and the dry sound. */
  mix(count: number, level: number): void
}

/** The definition: what every other form must give, to the bit. */
export function plainRoom(sound: Sound, buffer: ArrayBuffer): RoomLoops {
  const arrays = roomArrays(buffer)
  const { input, taps, weights, spread, lines, numbers, tile, dry, mixes } = arrays
  const mixed = new Float32Array(LINES)
  const fed = new Float32Array(LINES)

  const flush = (numbers: Float32Array, from: number, to: number) => {
    for (let i = from; i < to; i++) if (!(Math.abs(numbers[i]!) >= SMALLEST)) numbers[i] = 0
  }

  /** What comes out of a line in sixteen frames, filtered, into the tile. */
  const filter = (line: number, from: number) => {
    const number = (of: number) => numbers[of + line]!
    let [low, dc] = [number(NUMBERS.low), number(NUMBERS.dc)]
    for (let i = 0; i < TILE_FRAMES; i++) {
      low = sumOf(number(NUMBERS.keep) * low, number(NUMBERS.take) * lines[line]![from + i]!)
      dc = sumOf(number(NUMBERS.cutKeep) * dc, number(NUMBERS.cutTake) * low)
      tile[TILE_FRAMES * line + i] = low - dc
    }
    numbers[NUMBERS.low + line] = low
    numbers[NUMBERS.dc + line] = dc
  }

  return {
    ...arrays,
    flush(back, count) {
      for (const side of input) flush(side, MOST_TAP_FRAMES - back, MOST_TAP_FRAMES + count)
    },
    diffuse(at, tiles) {
      for (let i = at; i < at + TILE_FRAMES * tiles; i++) {
        for (let n = 0; n < LINES; n++) {
          const at = MOST_TAP_FRAMES + i
          mixed[n] = sumOf(
            input[0][at - taps[n]!]! * weights[n]!,
            input[1][at - taps[LINES + n]!]! * weights[LINES + n]!,
          )
        }
        hadamard(mixed)
        for (let n = 0; n < LINES; n++) spread[n]![i] = mixed[n]!
      }
    },
    turn(at, from, tiles, late) {
      for (let t = 0; t < tiles; t++) {
        const [frame, place] = [at + TILE_FRAMES * t, from + TILE_FRAMES * t]
        if (frame % FLUSH_FRAMES === 0) flush(numbers, NUMBERS.low, NUMBERS_END)
        for (let line = 0; line < LINES; line++) filter(line, place)
        for (let i = 0; i < TILE_FRAMES; i++) {
          for (let n = 0; n < LINES; n++) {
            fed[n] = spread[n]![frame + i]! * weights[2 * LINES + n]!
            mixed[n] = tile[TILE_FRAMES * n + i]! + fed[n]!
          }
          sound[1][frame + i] = sumOf(signedSum(mixed, 0), -signedSum(fed, 0) * Math.fround(late))
          sound[0][frame + i] = sumOf(
            signedSum(mixed, LINES / 2),
            -signedSum(fed, LINES / 2) * Math.fround(late),
          )
          hadamard(mixed)
          for (let n = 0; n < LINES; n++) lines[n]![place + i] = mixed[n]!
        }
      }
    },
    mix(count, level) {
      for (let i = 0; i < count; i++) {
        const [mix, mid, side] = [mixes[i]!, sound[1][i]! * level, sound[0][i]! * level]
        sound[0][i] = (1 - mix) * dry[0][i]! + mix * (mid + side)
        sound[1][i] = (1 - mix) * dry[1][i]! + mix * (mid - side)
      }
    },
  }
}

/** What is heard of eight lines. */
function signedSum(x: Float32Array, first: number): number {
  let sum = x[first]!
  for (let n = first + 1; n < first + LINES / 2; n++)
    sum = Math.fround(SUBTRACTED[n] ? sum - x[n]! : sum + x[n]!)
  return sum
}

/** Mixes sixteen 32-bit numbers in place by a matrix of ±1. */
function hadamard(x: Float32Array): void {
  for (let step = 1; step < LINES; step *= 2)
    for (let n = 0; n < LINES; n += 2 * step)
      for (let k = n; k < n + step; k++) {
        const [a, b] = [x[k]!, x[k + step]!]
        x[k] = a + b
        x[k + step] = a - b
      }
}

function roomArrays(buffer: ArrayBuffer) {
  const side = (at: number) => new Float32Array(buffer, at, MOST_TAP_FRAMES + SOUND_FRAMES)
  const frames = (at: number) => new Float64Array(buffer, at, SOUND_FRAMES)
  const channels = (at: number) =>
    Array.from({ length: LINES }, (_, n) => new Float32Array(buffer, at + n * ROOM_CHANNEL, SOUND_FRAMES))
  return {
    input: [side(ROOM_LEFT), side(ROOM_RIGHT)] as const,
    taps: new Int32Array(buffer, ROOM_TAPS, 2 * LINES),
    weights: new Float32Array(buffer, ROOM_WEIGHTS, 3 * LINES),
    spread: channels(ROOM_SPREAD),
    lines: channels(ROOM_LINES),
    numbers: new Float32Array(buffer, ROOM_NUMBERS, NUMBERS_END),
    tile: new Float32Array(buffer, ROOM_TILE, LINES * TILE_FRAMES),
    dry: [frames(ROOM_DRY_LEFT), frames(ROOM_DRY_RIGHT)] as const,
    mixes: frames(ROOM_MIXES),
  }
}

export interface RoomExports {
  flushRoom(back: number, count: number): void
  diffuseRoom(at: number, tiles: number): void
  turnRoom(at: number, from: number, tiles: number, late: number): void
  mixRoom(count: number, level: number): void
}

/** The WebAssembly form. */
export function wasmRoom(buffer: ArrayBuffer, exports: RoomExports): RoomLoops {
  return {
    ...roomArrays(buffer),
    flush: exports.flushRoom,
    diffuse: exports.diffuseRoom,
    turn: exports.turnRoom,
    mix: exports.mixRoom,
  }
}
