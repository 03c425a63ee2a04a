import type { Knot } from '../model/session'
import { gainDeviation } from '../units/scale'

/** One sample of a line drawn by hand. */
export interface RawPoint {
  frame: number
  value: number
}

/** What thinning did. `worst` is the largest deviation of a raw point, in the unit of the tolerance. */
export interface Thinned {
  knots: Knot[]
  worst: number
}

/**
 * The fewest knots that Ramer-Douglas-Peucker finds so that no raw point lies further than `tolerance` from
 * the straight thread between them (U. Ramer 1972; D. Douglas, T. Peucker 1973). The ends and the highest and
 * lowest points are kept. `points` are sorted by frame; of several on one frame the last counts. Throws a
 * RangeError for a tolerance below 0.
 */
export function thin(
  points: readonly RawPoint[],
  tolerance: number,
  deviation: (drawn: number, thread: number) => number = gainDeviation,
): Thinned {
  if (!(tolerance >= 0)) throw new RangeError(`a tolerance of ${tolerance} is below 0`)
  const raw = points
    .map((p) => ({ frame: Math.round(p.frame), value: p.value }))
    .filter((p, i, all) => all[i + 1]?.frame !== p.frame)
  if (raw.length === 0) return { knots: [], worst: 0 }
  const kept = new Set([0, raw.length - 1, extreme(raw, (a, b) => a > b), extreme(raw, (a, b) => a < b)])
  const fixed = [...kept].sort((a, b) => a - b)
  const spans = fixed.slice(1).map((to, i) => [fixed[i]!, to] as const)
  let worst = 0
  while (spans.length) {
    const [from, to] = spans.pop()!
    const { at, distance } = furthest(raw, from, to, deviation)
    if (distance > tolerance) {
      kept.add(at)
      spans.push([from, at], [at, to])
    } else worst = Math.max(worst, distance)
  }
  const knots = [...kept]
    .sort((a, b) => a - b)
    .map((i): Knot => ({ frame: raw[i]!.frame, value: raw[i]!.value, shape: 'line', bend: 0 }))
  return { knots, worst }
}

function extreme(raw: readonly RawPoint[], beats: (a: number, b: number) => boolean): number {
  let best = 0
  for (let i = 1; i < raw.length; i++) if (beats(raw[i]!.value, raw[best]!.value)) best = i
  return best
}

function furthest(
  raw: readonly RawPoint[],
  from: number,
  to: number,
  deviation: (drawn: number, thread: number) => number,
): { at: number; distance: number } {
  const [a, b] = [raw[from]!, raw[to]!]
  let [at, distance] = [from, 0]
  for (let i = from + 1; i < to; i++) {
    const p = raw[i]!
    const d = deviation(p.value, a.value + ((b.value - a.value) * (p.frame - a.frame)) / (b.frame - a.frame))
    if (d > distance) [at, distance] = [i, d]
  }
  return { at, distance }
}
