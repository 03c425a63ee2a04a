import { SOUND_FRAMES } from './frames'
import {
  MIRRORED_TAPS,
  PHASE_BYTES,
  POINT_SIZES,
  POINT_WINDOW,
  ROUGH_SAMPLES,
  ROUGH_SIZES,
  ROUGH_WINDOW,
  TAP_TABLES,
} from './processing-places'

/** Points that are looked at from one sample to the next, the samples themselves among them. */
export const PHASES = 8
/** Taps of a point, where they are mirrored and points are looked at roughly first; and the most that a point has. */
export const POINT_TAPS = 32
export const MOST_TAPS = 128

/** Tables of taps that can be kept, and samples of the window. */
const TABLES = 4
const WINDOW = SOUND_FRAMES + 320
const OUT = SOUND_FRAMES + 72

/** Samples of a part, by which rough sizes are told, and parts that are looked at at once, at most. */
export const POINT_PART = 16
export const ROUGH_PARTS = 16
const ROUGH_FRAMES = (ROUGH_PARTS + 2) * POINT_PART
/** Phases of which one is the other's mirror. */
const PAIRS = PHASES / 2 - 1
const PAIR_TAPS = POINT_TAPS / 2

/**
 * Rough sizes, in 32 bits, of points between samples by taps that are each other's mirrors (tap t of phase p is tap 31 - t of phase 6 - p).
 */
export interface RoughPoints {
  /** The samples that are looked at: `ROUGH_PARTS` parts, and two more. */
  readonly window: Float32Array
  /** The largest size of the samples of each part of the window, as `measure` wrote it. */
  readonly samples: Float32Array
  /** The largest rough size of the points of each part, seven phases for each, as `fill` wrote it. */
  readonly sizes: Float32Array
  /** Says with what taps to look. */
  use(taps: readonly Float64Array[]): void
  /** Looks for the largest samples. */
  measure(): void
  /**
   * Looks at the points of the parts `first` ≤ part < `end`, those that `Points.fill` writes from place `1 + part·POINT_PART` on; returns
   * the largest. They are within `ROUGHLY` times the largest sample of the window of what they are.
   */
  fill(first: number, end: number): number
}

/**
 * How rough: three roundings of 2⁻²⁴ for each product and one for each sum, the small ones first, come to 1.07e-6 for a windowed sinc, and a
 * little more.
 */
export const ROUGHLY = 1.2e-6

/** Points of a signal between its samples, by taps that are given: what looks for true peaks shares them. */
export interface Points {
  /** The samples that are looked at. */
  readonly window: Float64Array
  /** For each phase p (0…6: the point (p + 1)/8 after a sample) the sizes that `fill` wrote, at the places of the window. */
  readonly sizes: readonly Float64Array[]
  /**
   * Keeps a table of taps, a row of at most `MOST_TAPS` for each of the phases 0…6, all of one even length, and returns its number; the
   * same table is kept once. Throws a RangeError when there are too many.
   */
  keep(taps: readonly Float64Array[]): number
  /**
   * For window places `from` ≤ i < `to` and the phases `first` to `last`: the absolute sum of taps t times `window[i + t]`.
   */
  fill(table: number, from: number, to: number, first: number, last: number): void
  /** Where they lie roughly, which is found several times as quickly. */
  readonly rough: RoughPoints
  /** The largest size of the samples of the window at `from` ≤ i < `to`, all of which are numbers. */
  loudest(from: number, to: number): number
}

/** The definition: what every other form must give, to the bit. */
export function plainPoints(buffer: ArrayBuffer): Points {
  const { window, sizes, keep } = pointArrays(buffer)
  const tables: (readonly Float64Array[])[] = []
  const sizeAt = (taps: Float64Array, i: number) => {
    let sum = 0
    for (let t = 0; t < taps.length; t++) sum += taps[t]! * window[i + t]!
    return Math.abs(sum)
  }
  return {
    window,
    sizes,
    rough: plainRoughPoints(buffer),
    keep: (taps) => keep(tables, taps),
    fill(table, from, to, first, last) {
      for (let p = first; p <= last; p++) {
        const [taps, out] = [tables[table]![p]!, sizes[p]!]
        for (let i = from; i < to; i++) out[i] = sizeAt(taps, i)
      }
    },
    loudest(from, to) {
      let most = 0
      for (let i = from; i < to; i++) most = Math.max(most, Math.abs(window[i]!))
      return most
    },
  }
}

/** The even and the odd part of mirrored taps, the outermost first: three pairs of phases, then the one in the middle. */
function mirroredTaps(taps: readonly Float64Array[]): Float32Array {
  const rows: number[] = []
  for (let t = 0; t < PAIR_TAPS; t++) {
    for (let p = 0; p < PAIRS; p++) {
      const [before, after] = [taps[p]![t]!, taps[p]![POINT_TAPS - 1 - t]!]
      rows.push((before + after) / 2, (before - after) / 2)
    }
    rows.push(taps[PAIRS]![t]!)
  }
  return Float32Array.from(rows)
}

function plainRoughPoints(buffer: ArrayBuffer): RoughPoints {
  const f = Math.fround
  const { window, samples, sizes, rows } = roughArrays(buffer)
  const look = (sums: Float32Array, i: number) => {
    sums.fill(0)
    for (let t = 0; t < PAIR_TAPS; t++) {
      const [before, after] = [window[i + t]!, window[i + POINT_TAPS - 1 - t]!]
      const [even, odd] = [f(before + after), f(before - after)]
      for (let n = 0; n < sums.length; n++)
        sums[n] = sums[n]! + f(rows[t * sums.length + n]! * (n % 2 ? odd : even))
    }
  }
  return {
    window,
    samples,
    sizes,
    use: (taps) => rows.set(mirroredTaps(taps)),
    measure() {
      for (let part = 0; part < samples.length; part++)
        samples[part] = largestSize(window.subarray(part * POINT_PART, (part + 1) * POINT_PART))
    },
    fill(first, end) {
      const sums = new Float32Array(2 * PAIRS + 1)
      let most = 0
      for (let part = first; part < end; part++) {
        const out = sizes.subarray(part * (PHASES - 1), (part + 1) * (PHASES - 1)).fill(0)
        for (let i = 0; i < POINT_PART; i++) {
          look(sums, 1 + part * POINT_PART + i)
          for (let p = 0; p < PAIRS; p++) {
            const [even, odd] = [sums[2 * p]!, sums[2 * p + 1]!]
            out[p] = Math.max(out[p]!, Math.abs(f(even + odd)))
            out[PHASES - 2 - p] = Math.max(out[PHASES - 2 - p]!, Math.abs(f(even - odd)))
          }
          out[PAIRS] = Math.max(out[PAIRS]!, Math.abs(sums[2 * PAIRS]!))
        }
        most = Math.max(most, largestSize(out))
      }
      return most
    },
  }
}

const largestSize = (samples: Float32Array) => samples.reduce((most, x) => Math.max(most, Math.abs(x)), 0)

function place(tables: (readonly Float64Array[])[], taps: readonly Float64Array[]): number {
  const known = tables.indexOf(taps)
  if (known >= 0) return known
  if (tables.length === TABLES) throw new RangeError(`there is room for ${TABLES} tables of taps`)
  return tables.push(taps) - 1
}

export interface PointExports {
  fillPoints(table: number, taps: number, from: number, to: number, first: number, last: number): void
  loudestSample(from: number, to: number): number
  largestSamples(): void
  roughPoints(first: number, end: number): number
}

function pointArrays(buffer: ArrayBuffer) {
  const rows = new Float64Array(buffer, TAP_TABLES, TABLES * (PHASES - 1) * MOST_TAPS)
  return {
    window: new Float64Array(buffer, POINT_WINDOW, WINDOW),
    sizes: Array.from(
      { length: PHASES - 1 },
      (_, p) => new Float64Array(buffer, POINT_SIZES + p * PHASE_BYTES, OUT),
    ),
    keep(tables: (readonly Float64Array[])[], taps: readonly Float64Array[]): number {
      const before = tables.length
      const table = place(tables, taps)
      if (table === before)
        taps.forEach((row, p) => rows.set(row, table * (PHASES - 1) * MOST_TAPS + p * row.length))
      return table
    },
  }
}

const roughArrays = (buffer: ArrayBuffer) => ({
  window: new Float32Array(buffer, ROUGH_WINDOW, ROUGH_FRAMES),
  samples: new Float32Array(buffer, ROUGH_SAMPLES, ROUGH_PARTS + 2),
  sizes: new Float32Array(buffer, ROUGH_SIZES, ROUGH_PARTS * (PHASES - 1)),
  rows: new Float32Array(buffer, MIRRORED_TAPS, (2 * PAIRS + 1) * PAIR_TAPS),
})

/** The WebAssembly form. */
export function wasmPoints(buffer: ArrayBuffer, exports: PointExports): Points {
  const { window, sizes, keep } = pointArrays(buffer)
  const { rows, ...rough } = roughArrays(buffer)
  const tables: (readonly Float64Array[])[] = []
  let used: readonly Float64Array[] | null = null
  return {
    window,
    sizes,
    rough: {
      ...rough,
      use(taps) {
        if (taps !== used) rows.set(mirroredTaps(taps))
        used = taps
      },
      measure: exports.largestSamples,
      fill: exports.roughPoints,
    },
    keep: (taps) => keep(tables, taps),
    fill: (table, from, to, first, last) =>
      exports.fillPoints(table, tables[table]![0]!.length, from, to, first, last),
    loudest: exports.loudestSample,
  }
}
