import { seededRandom } from '../units/random'
import { beatToFrame, beatToSeconds, secondsToBeat, type TempoChange } from '../units/tempo'
import { breach, type Breach } from './check/breach'
import type { Knot, Lane, LaneWeave, Weave } from './session'

/** More knots than this are refused, as a pattern that is too fine. */
const MOST_KNOTS = 2_000_000

/** Where the cycles of a weave begin. */
interface Clock {
  /** The frame at which so many cycles have passed since the origin, rounded once from its beat or its time. */
  at(cycles: number): number
  /** How many cycles have passed at a frame, about. */
  cyclesAt(frame: number): number
}

function clockOf(
  { period }: Weave,
  origin: number,
  tempo: readonly TempoChange[],
  sampleRate: number,
): Clock {
  if ('ms' in period) {
    const frames = (period.ms * sampleRate) / 1000
    return {
      at: (cycles) => Math.round(origin + cycles * frames),
      cyclesAt: (frame) => (frame - origin) / frames,
    }
  }
  const start = secondsToBeat(tempo, origin / sampleRate)
  // A start that lies on the grid of frames is meant to lie on the beat itself.
  const nearest = Math.round(start / period.beats) * period.beats
  const first = Math.abs(beatToSeconds(tempo, nearest) * sampleRate - origin) <= 1 ? nearest : start
  return {
    at: (cycles) => beatToFrame(tempo, sampleRate, first + cycles * period.beats),
    cyclesAt: (frame) => (secondsToBeat(tempo, frame / sampleRate) - first) / period.beats,
  }
}

/**
 * The knots of the whole cycles of a weave that reach into `from` ≤ frame ≤ `to`, the fewest for its shape: squares and
 * random values hold, triangles and ramps are lines, sines are S-curves. They lie on exact frames of the beat, never
 * accumulated; the first may lie before `from` and the last after `to`. Cycles count from frame `origin`, which must
 * not lie after `from`. Throws a RangeError when `to` is not after `from`, and for more than two million knots.
 */
export function patternKnots(
  weave: Weave,
  { from, to, origin }: { from: number; to: number; origin: number },
  tempo: readonly TempoChange[],
  sampleRate: number,
): Knot[] {
  if (!(to > from)) throw new RangeError(`a weave from ${from} to ${to} has no length`)
  if (origin > from) throw new RangeError(`a weave from ${from} counts from ${origin}, which comes later`)
  const { at, cyclesAt } = clockOf(weave, origin, tempo, sampleRate)
  const { low, high, phase, duty, shape } = weave
  const knots: Knot[] = []
  const add = (cycles: number, value: number, kind: Knot['shape']) =>
    knots.push({ frame: at(cycles), value, shape: kind, bend: 0 })
  // From the cycle that `from` lies in, until one begins at or behind `to`.
  let n = Math.max(0, Math.floor(cyclesAt(from) + phase) - 1)
  while (at(n + 1 - phase) <= from) n++
  const random = seededRandom(weave.seed, n)
  for (const first = n; ; n++) {
    const start = n - phase
    if (n > first && at(start) >= to) break
    if (shape === 'square') {
      if (duty > 0) add(start, high, 'hold')
      if (duty < 1) add(start + duty, low, 'hold')
    } else if (shape === 'triangle' || shape === 'sine') {
      add(start, low, shape === 'sine' ? 's-curve' : 'line')
      add(start + 0.5, high, shape === 'sine' ? 's-curve' : 'line')
    } else if (shape === 'random') add(start, low + (high - low) * random(), 'hold')
    else {
      add(start, shape === 'ramp-up' ? low : high, 'line')
      add(start + 1, shape === 'ramp-up' ? high : low, 'line')
    }
    if (knots.length > MOST_KNOTS)
      throw new RangeError('a weave with more than two million knots is too fine')
  }
  if (shape === 'triangle' || shape === 'sine')
    knots.push({ frame: at(n - phase), value: low, shape: 'line', bend: 0 })
  return knots
}

const within = (value: number, min: number, max: number) => value >= min && value <= max

/** The rules that the weaves of a lane break: their places, their values, and that the lane has their knots. */
export function* weaveBreaches(
  entity: string,
  lane: Lane,
  { min, max }: { min: number; max: number },
  tempo: readonly TempoChange[],
  sampleRate: number,
): Generator<Breach> {
  let end = 0
  for (const [i, weave] of (lane.weaves ?? []).entries()) {
    const path = `${entity}.weaves.${i}`
    const { from, to, origin } = weave
    if (!(to > from) || origin > from)
      yield breach('weaves', path, `${origin}, ${from}, ${to}`, 'has no length, or begins before its origin')
    else if (from < end)
      yield breach('weaves', `${path}.from`, from, 'begins before the weave ahead of it ends')
    else if (!within(weave.low, min, max) || !within(weave.high, min, max))
      yield breach('weaves', path, `${weave.low}, ${weave.high}`, `must lie in ${min}…${max}`)
    else if (!hasPattern(lane.knots, weave, tempo, sampleRate))
      yield breach('weaves', path, `${from} to ${to}`, 'differs from the knots of its lane')
    end = to
  }
}

/** Whether a lane has the knots of a weave between its ends and no others, and one on either end. */
function hasPattern(
  knots: readonly Knot[],
  weave: LaneWeave,
  tempo: readonly TempoChange[],
  sampleRate: number,
): boolean {
  const { from, to } = weave
  const { cyclesAt } = clockOf(weave, weave.origin, tempo, sampleRate)
  const [start, first] = [indexAt(knots, from), indexAt(knots, from + 1)]
  const [last, end] = [indexAt(knots, to), indexAt(knots, to + 1)]
  // A pattern that is far too fine is not even worked out.
  if (start === first || last === end || cyclesAt(to) - cyclesAt(from) > last - first + 2) return false
  const pattern = patternKnots(weave, weave, tempo, sampleRate).filter((k) => k.frame > from && k.frame < to)
  return last - first === pattern.length && pattern.every((k, i) => sameKnot(k, knots[first + i]!))
}

/** Index of the first knot at or after a frame. */
function indexAt(knots: readonly Knot[], frame: number): number {
  let [low, high] = [0, knots.length]
  while (low < high) {
    const middle = (low + high) >>> 1
    if (knots[middle]!.frame < frame) low = middle + 1
    else high = middle
  }
  return low
}

/** Values that differ by less are the same but for the last digits of a calculation. */
export const CLOSE = 1e-9

/** Whether two knots are the same but for the last digits of a calculation; pieces of a shape are compared as wholes. */
export const sameKnot = (a: Knot, b: Knot) =>
  a.frame === b.frame && Math.abs(a.value - b.value) < CLOSE && a.shape === b.shape && a.bend === b.bend
