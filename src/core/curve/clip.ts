import type { Knot } from '../model/session'
import { gainKind, insertKnot, replaceBetween, type ThreadKind } from './knots'

/**
 * What a thread does over a stretch, to be put elsewhere: its knots from frame 0 to `length`, with one on
 * either end.
 */
export interface ThreadClip {
  length: number
  knots: Knot[]
}

const gain = gainKind()

/** A thread with knots on both ends of a range, its line unchanged. */
const divided = (knots: readonly Knot[], from: number, to: number, kind: ThreadKind) =>
  insertKnot(insertKnot(knots, from, undefined, kind).knots, to, undefined, kind).knots

/** What a thread does from one frame to another. Throws a RangeError when `to` is not after `from`. */
export function clipOf(
  knots: readonly Knot[],
  from: number,
  to: number,
  kind: ThreadKind = gain,
): ThreadClip {
  if (!(to > from)) throw new RangeError(`a clip from ${from} to ${to} has no length`)
  const all = divided(knots, from, to, kind)
  // Where it steps on an end, the clip has what sounds inside.
  const first = all.findLastIndex((k) => k.frame === from)
  const last = all.findIndex((k) => k.frame === to)
  return {
    length: to - from,
    knots: all
      .slice(first, last + 1)
      .map((k, i, { length }) =>
        i === length - 1
          ? { frame: k.frame - from, value: k.value, shape: 'line', bend: 0 }
          : { ...k, frame: k.frame - from },
      ),
  }
}

/** A thread without what it did between two frames: a straight line from the one to the other. Outside it stays. */
export function clearBetween(
  knots: readonly Knot[],
  from: number,
  to: number,
  kind: ThreadKind = gain,
): Knot[] {
  if (knots.length === 0 || !(to > from)) return [...knots]
  const all = divided(knots, from, to, kind)
  const first = all.findIndex((k) => k.frame === from)
  const last = all.findLastIndex((k) => k.frame === to)
  const { frame, value } = all[first]!
  return [...all.slice(0, first), { frame, value, shape: 'line', bend: 0 }, ...all.slice(last)]
}

/**
 * A thread with a clip from frame `at` on in place of what it did there, joined by ramps of `join` frames
 * inside where the ends do not meet.
 */
export const putClip = (
  knots: readonly Knot[],
  at: number,
  clip: ThreadClip,
  join: number,
  kind: ThreadKind = gain,
): Knot[] =>
  replaceBetween(
    knots,
    at,
    at + clip.length,
    clip.knots.map((k) => ({ ...k, frame: k.frame + at })),
    join,
    kind,
  )
