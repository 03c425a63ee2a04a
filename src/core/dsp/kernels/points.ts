import { SOUND_FRAMES } from './sound'

/** Points that are looked at from one sample to the next, the samples themselves among them, and taps of each. */
export const PHASES = 8
export const POINT_TAPS = 32

/** Tables of taps that can be kept, and samples of the window. */
const TABLES = 4
const WINDOW = SOUND_FRAMES + 64
const OUT = SOUND_FRAMES + 8

/** Points of a signal between its samples, by taps that are given: what looks for true peaks shares them. */
export interface Points {
  /** The samples that are looked at. */
  readonly window: Float64Array
  /** For each phase p (0…6: the point (p + 1)/8 after a sample) the sizes that `fill` wrote, at the places of the window. */
  readonly sizes: readonly Float64Array[]
  /**
   * Keeps a table of taps, `POINT_TAPS` for each of the phases 0…6, and returns its number; the same table is kept once. Throws
   * a RangeError when there are too many.
   */
  keep(taps: readonly Float64Array[]): number
  /**
   * For window places `from` ≤ i < `to` and the phases `first` to `last`: the absolute sum of taps t times `window[i + t]`. What
   * stands in `sizes` at `to` may be overwritten.
   */
  fill(table: number, from: number, to: number, first: number, last: number): void
  /** The largest of those sums, where `to - from` is a multiple of 8; `sizes` stay. */
  largest(table: number, from: number, to: number, first: number, last: number): number
}

/** The definition: what every other form must give, to the bit. */
export function plainPoints(): Points {
  const window = new Float64Array(WINDOW)
  const sizes = Array.from({ length: PHASES - 1 }, () => new Float64Array(OUT))
  const tables: (readonly Float64Array[])[] = []
  const sizeAt = (taps: Float64Array, i: number) => {
    let sum = 0
    for (let t = 0; t < POINT_TAPS; t++) sum += taps[t]! * window[i + t]!
    return Math.abs(sum)
  }
  return {
    window,
    sizes,
    keep: (taps) => place(tables, taps),
    fill(table, from, to, first, last) {
      for (let p = first; p <= last; p++) {
        const [taps, out] = [tables[table]![p]!, sizes[p]!]
        for (let i = from; i < to; i++) out[i] = sizeAt(taps, i)
      }
    },
    largest(table, from, to, first, last) {
      let most = 0
      for (let p = first; p <= last; p++)
        for (let i = from; i < to; i++) {
          const size = sizeAt(tables[table]![p]!, i)
          if (size > most) most = size
        }
      return most
    },
  }
}

function place(tables: (readonly Float64Array[])[], taps: readonly Float64Array[]): number {
  const known = tables.indexOf(taps)
  if (known >= 0) return known
  if (tables.length === TABLES) throw new RangeError(`there is room for ${TABLES} tables of taps`)
  return tables.push(taps) - 1
}

export interface PointExports {
  fillPoints(table: number, from: number, to: number, first: number, last: number): void
  largestPoint(table: number, from: number, to: number, first: number, last: number): number
}

/** The WebAssembly form. Places in its memory are those of `assembly/points.ts`. */
export function wasmPoints(buffer: ArrayBuffer, exports: PointExports): Points {
  const rows = new Float64Array(buffer, 172_544, TABLES * (PHASES - 1) * POINT_TAPS)
  const tables: (readonly Float64Array[])[] = []
  return {
    window: new Float64Array(buffer, 163_840, WINDOW),
    sizes: Array.from({ length: PHASES - 1 }, (_, p) => new Float64Array(buffer, 179_712 + p * 8256, OUT)),
    keep(taps) {
      const before = tables.length
      const table = place(tables, taps)
      if (table === before) taps.forEach((row, p) => rows.set(row, (table * (PHASES - 1) + p) * POINT_TAPS))
      return table
    },
    fill: (table, from, to, first, last) => exports.fillPoints(table, from, to, first, last),
    largest: (table, from, to, first, last) => exports.largestPoint(table, from, to, first, last),
  }
}
