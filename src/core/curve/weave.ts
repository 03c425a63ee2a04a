import { clamp } from '../units/clamp'
import type { Knot, LaneWeave, Weave } from '../model/session'
import { CLOSE, patternKnots, sameKnot } from '../model/weave'
import type { TempoChange } from '../units/tempo'
import { insertKnot, mapValues, replaceBetween, type ThreadKind } from './knots'
import { arrivingValue, knotBefore } from './thread'

export { weaveShapes, type LaneWeave, type Weave, type WeaveShape } from '../model/session'

/** A weave with its place in a lane. `origin` is the frame from which its cycles count. */
type Placed = Weave & { from: number; to: number; origin: number }

/**
 * The knots of a weave from one session frame to another, with one on either end; see `patternKnots` for which. Cycles
 * count from `origin`, by default from `from`. Throws a RangeError when `to` is not after `from`.
 */
export function weaveKnots(
  weave: Weave,
  from: number,
  to: number,
  tempo: readonly TempoChange[],
  sampleRate: number,
  origin = from,
): Knot[] {
  return cutTo(patternKnots(weave, { from, to, origin }, tempo, sampleRate), from, to)
}

/** The knots between two frames, with knots on the drawn line at both. */
function cutTo(knots: readonly Knot[], from: number, to: number): Knot[] {
  let cut = knots
  for (const frame of [from, to]) cut = insertKnot(cut, frame).knots
  return cut.filter((k) => k.frame >= from && k.frame <= to)
}

/** What is needed to work out a weave's knots: the session's tempo and rate, and the values of the thread. */
export interface WeaveContext {
  tempo: readonly TempoChange[]
  sampleRate: number
  kind: ThreadKind
}

/** The knots of weaves that were worked out last, for the tempo that they were worked out with. */
const woven = new WeakMap<LaneWeave, { tempo: readonly TempoChange[]; sampleRate: number; knots: Knot[] }>()

/** The knots of a weave of a lane. */
export function knotsOfWeave(
  weave: LaneWeave,
  { tempo, sampleRate }: Omit<WeaveContext, 'kind'>,
): readonly Knot[] {
  const known = woven.get(weave)
  if (known?.tempo === tempo && known.sampleRate === sampleRate) return known.knots
  const knots = weaveKnots(weave, weave.from, weave.to, tempo, sampleRate, weave.origin)
  woven.set(weave, { tempo, sampleRate, knots })
  return knots
}

/** The same knots, also as to which piece of a shape their stretches are. */
function samePiece(a: Knot, b: Knot): boolean {
  const [from, to] = a.part ?? [0, 1]
  const [first, last] = b.part ?? [0, 1]
  return sameKnot(a, b) && Math.abs(from - first) < CLOSE && Math.abs(to - last) < CLOSE
}

/** Index of the first knot at or after a frame. */
const firstAt = (knots: readonly Knot[], frame: number) => knotBefore(knots, frame - 1) + 1

/**
 * How many knots of a weave a lane has one after the other, from its start; all of them but the last, which only says
 * where the line arrives. `at` is where in the lane the first of them is; -1 without any.
 */
function foundAlong(knots: readonly Knot[], expected: readonly Knot[]): { at: number; count: number } {
  const { frame } = expected[0]!
  const onStart = expected.findIndex((k) => k.frame !== frame)
  const last = knotBefore(knots, frame)
  const at = last - Math.max(1, onStart) + 1
  if (at < 0 || knots[last]?.frame !== frame) return { at: -1, count: 0 }
  let count = 0
  while (count < expected.length - 1 && knots[at + count] && samePiece(knots[at + count]!, expected[count]!))
    count++
  return { at, count }
}

/** Whether a lane does between two frames just what a weave does there. */
function isThere(knots: readonly Knot[], expected: readonly Knot[]): boolean {
  const { at, count } = foundAlong(knots, expected)
  if (count < expected.length - 1) return false
  const [arrival, last] = [knots[at + count], expected.at(-1)!]
  return (
    arrival?.frame === last.frame &&
    (expected.at(-2)!.shape === 'hold' || Math.abs(arrival.value - last.value) < CLOSE)
  )
}

/** What has no knot of the pattern inside is no weave any more: its knots become ordinary ones. */
const isLongEnough = (piece: LaneWeave, whole: LaneWeave, context: WeaveContext) =>
  piece === whole ||
  (piece.to - piece.from > 1 &&
    patternKnots(piece, piece, context.tempo, context.sampleRate).filter(
      (k) => k.frame > piece.from && k.frame < piece.to,
    ).length > 0)

/** What is left of a weave in a lane whose knots were changed: all of it, what lies on either side of the change, or none. */
function piecesOf(weave: LaneWeave, knots: readonly Knot[], context: WeaveContext): LaneWeave[] {
  const expected = knotsOfWeave(weave, context)
  if (isThere(knots, expected)) return [weave]
  const longest = (pieces: LaneWeave[]) =>
    pieces.find((p) => p.to > p.from && isThere(knots, knotsOfWeave(p, context)))
  const { at, count } = foundAlong(knots, expected)
  const left =
    at < 0
      ? undefined
      : longest(
          [1, 0, -1].flatMap((beyond) => {
            const to = knots[at + count + beyond]?.frame
            return to !== undefined && to > weave.from && to < weave.to ? [{ ...weave, to }] : []
          }),
        )
  // From the end backwards: as far as the lane has the same knots in the same order.
  let back = 1
  const end = firstAt(knots, weave.to)
  while (
    back < expected.length &&
    knots[end - back] &&
    samePiece(knots[end - back]!, expected.at(-1 - back)!)
  )
    back++
  const right =
    knots[end]?.frame !== weave.to
      ? undefined
      : longest(
          [0, 1, 2].flatMap((later) => {
            const from = knots[end - back + later]?.frame
            return from !== undefined && from > weave.from && from < weave.to ? [{ ...weave, from }] : []
          }),
        )
  const pieces = left && right && left.to > right.from ? [left] : [left, right]
  return pieces.flatMap((p) => (p && isLongEnough(p, weave, context) ? [p] : []))
}

/** The weaves that a lane has with other knots: divided where these no longer follow their patterns. */
export const weavesLeft = (
  weaves: readonly LaneWeave[],
  knots: readonly Knot[],
  context: WeaveContext,
): LaneWeave[] => weaves.flatMap((weave) => piecesOf(weave, knots, context))

/**
 * A lane without a weave: a straight line between what it does on either side. One that has nothing but its plain value
 * then has no knots.
 */
export function withoutWeave(knots: readonly Knot[], weave: LaneWeave, context: WeaveContext): Knot[] {
  const { from, to } = weave
  const expected = knotsOfWeave(weave, context)
  const [first, last] = [firstAt(knots, from), knotBefore(knots, to)]
  const own = Math.max(
    1,
    expected.findIndex((k) => k.frame !== from),
  )
  const entry = knots[first]!
  // Where it does not step on its start, what comes before arrives at the weave's own value.
  const arrives = knotBefore(knots, from) - first + 1 > own ? entry.value : arrivingValue(knots, from)
  const rest: Knot[] = [
    ...knots.slice(0, first),
    { frame: from, value: arrives, shape: 'line', bend: 0 },
    knots[last]!,
    ...knots.slice(last + 1),
  ]
  return rest.every((k) => k.value === context.kind.neutral) ? [] : rest
}

/** A lane with a weave in place of what it did there; it steps in and out of it. `before` is a weave that it replaces. */
export function putWeave(
  knots: readonly Knot[],
  weave: Placed,
  context: WeaveContext,
  before: LaneWeave | null = null,
): Knot[] {
  const { tempo, sampleRate, kind } = context
  return replaceBetween(
    before ? withoutWeave(knots, before, context) : knots,
    weave.from,
    weave.to,
    weaveKnots(weave, weave.from, weave.to, tempo, sampleRate, weave.origin),
    0,
    kind,
  )
}

/** The lane with all its values changed; those of weaves by their limits. */
export function mapLane(
  knots: readonly Knot[],
  weaves: readonly LaneWeave[],
  context: WeaveContext,
  change: (value: number) => number,
): { knots: Knot[]; weaves: LaneWeave[] } {
  const { kind } = context
  const limit = (value: number) => clamp(change(value), kind.min, kind.max)
  let changed = mapValues(
    kind,
    knots,
    knots.map((_, i) => i),
    change,
  )
  const next: LaneWeave[] = []
  for (const weave of weaves) {
    const to = { ...weave, low: limit(weave.low), high: limit(weave.high) }
    changed = putWeave(changed, to, context, weave)
    next.push(to)
  }
  return { knots: changed, weaves: next }
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
): Knot[] => putWeave(knots, { ...weave, from, to, origin: from }, { tempo, sampleRate, kind })

/** Note values to choose from, with their length in quarter notes. */
export const noteValues: readonly { name: string; beats: number }[] = [1, 2, 4, 8, 16, 32, 64].flatMap(
  (d) => [
    { name: `1/${d}`, beats: 4 / d },
    { name: `1/${d} dotted`, beats: 6 / d },
    { name: `1/${d} triplet`, beats: 8 / (3 * d) },
  ],
)
