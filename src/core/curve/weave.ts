import type { Knot } from '../model/session'
import { seededRandom } from '../units/random'
import { beatToFrame, beatToSeconds, secondsToBeat, type TempoChange } from '../units/tempo'
import { insertKnot, replaceBetween, type ThreadKind } from './knots'

/** Shapes of a repeating pattern. */
export const weaveShapes = ['square', 'triangle', 'sine', 'ramp-up', 'ramp-down', 'random'] as const
export type WeaveShape = (typeof weaveShapes)[number]

/**
 * A pattern: one cycle lasts a note value (in quarter notes, such as 0.75 for a dotted eighth) or so many
 * milliseconds; `low` and `high` are values of the thread; `phase` 0…1 is how far into its cycle it begins,
 * `duty` 0…1 the part of a square that is high, `seed` that of the random values.
 */
export interface Weave {
  shape: WeaveShape
  period: { beats: number } | { ms: number }
  low: number
  high: number
  phase: number
  duty: number
  seed: number
}

/**
 * Where the cycles of a weave begin: cycle n, and parts of it, at exact frames, each rounded once from its
 * beat (or its time).
 */
function clockOf(
  weave: Weave,
  from: number,
  tempo: readonly TempoChange[],
  sampleRate: number,
): (cycles: number) => number {
  const { period } = weave
  if ('ms' in period) return (cycles) => Math.round(from + (cycles * period.ms * sampleRate) / 1000)
  const start = secondsToBeat(tempo, from / sampleRate)
  // A start that lies on the grid of frames is meant to lie on the beat itself.
  const nearest = Math.round(start / period.beats) * period.beats
  const first = Math.abs(beatToSeconds(tempo, nearest) * sampleRate - from) <= 1 ? nearest : start
  return (cycles) => beatToFrame(tempo, sampleRate, first + cycles * period.beats)
}

/**
 * The knots of a weave from one session frame to another, the fewest for its shape: squares and random values
 * hold, triangles and ramps are lines, sines are S-curves. They lie on exact frames of the beat, never
 * accumulated. Throws a RangeError when `to` is not after `from`.
 */
export function weaveKnots(
  weave: Weave,
  from: number,
  to: number,
  tempo: readonly TempoChange[],
  sampleRate: number,
): Knot[] {
  if (!(to > from)) throw new RangeError(`a weave from ${from} to ${to} has no length`)
  const at = clockOf(weave, from, tempo, sampleRate)
  const { low, high, phase, duty, shape } = weave
  const random = seededRandom(weave.seed)
  const knots: Knot[] = []
  const add = (cycles: number, value: number, kind: Knot['shape']) =>
    knots.push({ frame: at(cycles), value, shape: kind, bend: 0 })
  // From the cycle that the phase begins in, until one ends behind `to`.
  for (let n = 0; ; n++) {
    const start = n - phase
    if (n > 0 && at(start) >= to) break
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
    if (n > 2_000_000) throw new RangeError('a weave with more than two million cycles is too fine')
  }
  if (shape === 'triangle' || shape === 'sine')
    knots.push({ frame: Math.max(to, knots.at(-1)!.frame + 1), value: low, shape: 'line', bend: 0 })
  if (shape === 'triangle' || shape === 'sine') knots[knots.length - 1]!.frame = endOfCycle(at, phase, to)
  return cutTo(knots, from, to)
}

/** The first beginning of a cycle at or after a frame. */
function endOfCycle(at: (cycles: number) => number, phase: number, to: number): number {
  let n = 1
  while (at(n - phase) < to) n++
  return at(n - phase)
}

/** The knots between two frames, with knots on the drawn line at both. */
function cutTo(knots: readonly Knot[], from: number, to: number): Knot[] {
  let cut = knots
  for (const frame of [from, to]) cut = insertKnot(cut, frame).knots
  return cut.filter((k) => k.frame >= from && k.frame <= to)
}

/** A weave in place of what a thread did between two frames; it steps in and out of it. */
export const weaveInto = (
  knots: readonly Knot[],
  weave: Weave,
  from: number,
  to: number,
  tempo: readonly TempoChange[],
  sampleRate: number,
  kind: ThreadKind,
): Knot[] => replaceBetween(knots, from, to, weaveKnots(weave, from, to, tempo, sampleRate), 0, kind)

/** Note values to choose from, with their length in quarter notes. */
export const noteValues: readonly { name: string; beats: number }[] = [1, 2, 4, 8, 16, 32, 64].flatMap(
  (d) => [
    { name: `1/${d}`, beats: 4 / d },
    { name: `1/${d} dotted`, beats: 6 / d },
    { name: `1/${d} triplet`, beats: 8 / (3 * d) },
  ],
)
