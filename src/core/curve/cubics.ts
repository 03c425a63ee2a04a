import type { Knot } from '../model/session'
import { exp2, power } from '../units/exact'
import { stretchProgress } from './progress'

/** By how much a cubic may be off the shape that it stands for where it was fitted, in parts of the stretch's height. */
const TOLERANCE = 1.5e-8

/** A cubic through four evenly spaced points of a piece of length h is off by h⁴/1944 of the fourth derivative. */
const longest = (fourthDerivative: number) => power((TOLERANCE * 1944) / fourthDerivative, 0.25)

const S_CURVE_PIECES = Math.ceil(1 / longest(Math.PI ** 4 / 2))

/** The last piece of a power may begin here, or where the power itself is half the tolerance: what is below is smaller than it. */
const LOWEST = 2 ** -20

/** A shape from 0 to 1 as cubics: from `edges[p]` on it is `a + s·(b + s·(c + s·d))`, `s` 0…1 of the piece. */
interface ShapeCubics {
  edges: readonly number[]
  factors: Float64Array
}

/** Where the cubics of `u^exponent` (1…8) begin and end, from 0 to 1: closer where its fourth derivative is larger. */
function powerEdges(exponent: number): number[] {
  const factor = Math.abs(exponent * (exponent - 1) * (exponent - 2) * (exponent - 3))
  const lowest = Math.max(LOWEST, power(TOLERANCE / 2, 1 / exponent))
  const edges = [1]
  for (let u = 1; u > lowest;) {
    u -= longestBelow(u, exponent, factor)
    edges.push(u)
  }
  edges.push(0)
  return edges.reverse()
}

/** The length of a piece that ends at u: its derivative is largest at the upper end for exponents over 4, else at the lower end. */
function longestBelow(u: number, exponent: number, factor: number): number {
  if (factor === 0) return u / 2
  if (exponent > 4) return Math.min(longest(factor * power(u, exponent - 4)), u / 2)
  const upper = longest(factor * power(u * 0.75, exponent - 4))
  return upper <= u / 4 ? upper : Math.min(longest(factor * power(u / 2, exponent - 4)), u / 2)
}

const shapes = new Map<number, ShapeCubics>()
/** The key of the S-curve among shapes; the others go by their bends. */
const S_CURVE = 2

/** The cubics of a shape: worked out once, for all stretches that have it. */
function shapeCubics({ shape, bend }: Knot): ShapeCubics {
  const key = shape === 's-curve' ? S_CURVE : bend
  let known = shapes.get(key)
  if (known) return known
  const up =
    shape === 's-curve'
      ? Array.from({ length: S_CURVE_PIECES + 1 }, (_, i) => i / S_CURVE_PIECES)
      : powerEdges(exp2(3 * Math.abs(bend)))
  const edges = shape === 's-curve' || bend > 0 ? up : up.map((u) => 1 - u).reverse()
  const factors = new Float64Array((edges.length - 1) * 4)
  for (let p = 0; p + 1 < edges.length; p++) {
    const [from, to] = [edges[p]!, edges[p + 1]!]
    const [a, b, c, d] = [0, 1, 2, 3].map((third) =>
      stretchProgress(shape, bend, third === 3 ? to : from + ((to - from) * third) / 3),
    ) as [number, number, number, number]
    factors[4 * p] = a
    factors[4 * p + 1] = (-11 * a + 18 * b - 9 * c + 2 * d) / 2
    factors[4 * p + 2] = (18 * a - 45 * b + 36 * c - 9 * d) / 2
    factors[4 * p + 3] = (-9 * a + 27 * b - 27 * c + 9 * d) / 2
  }
  if (shapes.size >= MOST_SHAPES) shapes.clear()
  shapes.set(key, (known = { edges, factors }))
  return known
}

/** Shapes whose cubics are kept. */
const MOST_SHAPES = 1000

/**
 * A stretch as cubics: piece p covers the frames from `starts[p]` (counted from the knot) on, and its value there is
 * `c0 + t·(c1 + t·(c2 + t·c3))` with `t` the frames since its start; the four factors stand at `factors[4p]`.
 */
export interface Cubics {
  /** How many pieces there are; the arrays may be longer. */
  count: number
  starts: Int32Array
  factors: Float64Array
}

/**
 * Frames of a cell: cells begin at the multiples of it. Between pieces that are not short, edges are moved to them, so that levels that run
 * through cells (see `dsp/levels`) can go on. A cubic is then off by 2.3 times as much as where it was fitted, at most.
 */
export const CELL_FRAMES = 64
const SHORT_PIECE = 6 * CELL_FRAMES

export const newCubics = (): Cubics => ({ count: 0, starts: new Int32Array(0), factors: new Float64Array(0) })

/**
 * Writes the cubics of the curved stretch from a knot to the next: those of its shape, for its frames and values. The arrays are kept
 * where they are long enough: to make them anew takes longer than to fill them.
 */
export function setCubics(knot: Knot, next: Knot, into: Cubics): void {
  const { edges, factors: shaped } = shapeCubics(knot)
  const length = next.frame - knot.frame
  const [from, to] = knot.part ?? [0, 1]
  const first = from === 0 ? 0 : stretchProgress(knot.shape, knot.bend, from)
  const reached = to === 1 ? 1 : stretchProgress(knot.shape, knot.bend, to)
  // A piece of a shape runs from 0 to 1 by itself.
  const rise = reached === first ? 0 : (next.value - knot.value) / (reached - first)
  const perFrame = (to - from) / length
  const perShape = length / (to - from)
  const pieces = edges.length - 1
  if (into.starts.length < pieces) {
    into.starts = new Int32Array(pieces)
    into.factors = new Float64Array(4 * pieces)
  }
  const { starts, factors } = into
  const short = SHORT_PIECE * perFrame
  let count = 0
  let begin = 0
  let edge = edges[0]!
  let width = edges[1]! - edge
  for (let p = 0; p < pieces && begin < length; p++) {
    const nextEdge = edges[p + 1]!
    const nextWidth = p + 1 < pieces ? edges[p + 2]! - nextEdge : 0
    let end = length
    if (p + 1 < pieces) {
      end = Math.ceil((nextEdge - from) * perShape)
      if (width >= short && nextWidth >= short)
        end = Math.round((knot.frame + end) / CELL_FRAMES) * CELL_FRAMES - knot.frame
      if (end > length) end = length
    }
    if (end > begin) {
      const ds = perFrame / width
      const s = (from - edge) / width + begin * ds
      const rises = rise * ds
      const b = shaped[4 * p + 1]!
      const c = shaped[4 * p + 2]!
      const d = shaped[4 * p + 3]!
      starts[count] = begin
      factors[4 * count] = knot.value + rise * (shaped[4 * p]! + s * (b + s * (c + s * d)) - first)
      factors[4 * count + 1] = rises * (b + s * (2 * c + 3 * s * d))
      factors[4 * count + 2] = rises * ds * (c + 3 * s * d)
      factors[4 * count + 3] = rises * ds * ds * d
      count++
      begin = end
    }
    edge = nextEdge
    width = nextWidth
  }
  into.count = count
}

/** The piece of cubics that covers a frame counted from the knot. */
export function pieceAt({ count, starts }: Cubics, frame: number): number {
  let [low, high] = [0, count]
  while (high - low > 1) {
    const middle = (low + high) >>> 1
    if (starts[middle]! <= frame) low = middle
    else high = middle
  }
  return low
}
