import { clamp } from '../../units/clamp'
import { insertKnot, type ThreadKind } from '../../curve/knots'
import { arrivingValue, threadValue } from '../../curve/thread'
import type { Knot } from '../../model/session'

/** Watches what is held at the ends of a range. */
export class Limits {
  db = 0
  constructor(
    private readonly min: number,
    private readonly max: number,
  ) {}

  height(height: number): number {
    if (height > this.max) this.db = Math.max(this.db, 60 * Math.log10(height / this.max))
    return clamp(height, this.min, this.max)
  }
}

/** Parts into which a stretch is divided where its shape cannot be kept. */
const PARTS = 24

export const line = (frame: number, value: number): Knot => ({ frame, value, shape: 'line', bend: 0 })

/** Knots from one frame to another with a knot at both, as they are drawn. */
export function between(kind: ThreadKind, knots: readonly Knot[], from: number, to: number): Knot[] {
  if (knots.length === 0) return [line(from, kind.neutral), line(to, kind.neutral)]
  const whole = insertKnot(insertKnot(knots, from, undefined, kind).knots, to, undefined, kind).knots
  const inside = whole.filter((k) => k.frame > from && k.frame < to)
  const first = whole.findLast((k) => k.frame === from)!
  return [first, ...inside, line(to, arrivingValue(whole, to))]
}

/** Whether a knot's stretch looks the same from its other end. */
const isStraight = ({ shape, bend, part }: Knot) => shape === 'line' && bend === 0 && !part

/** Knots the other way round, at frames that `place` says. */
export function mirrored(knots: readonly Knot[], place: (frame: number) => number): Knot[] {
  const fine = knots.flatMap((knot, i) => {
    const next = knots[i + 1]
    if (!next || isStraight(knot) || next.frame === knot.frame) return [knot]
    return Array.from({ length: PARTS }, (_, n) => {
      const frame = knot.frame + ((next.frame - knot.frame) * n) / PARTS
      return line(frame, threadValue([knot, next], frame))
    })
  })
  return fine.reverse().map((k) => line(Math.round(place(k.frame)), k.value))
}

export const isFlat = (knots: readonly Knot[]) => knots.every((k) => k.value === knots[0]!.value)

/** More parts than this are not made of a stretch, and by how much of a gain a straight part may be off: 0.01 dB. */
const MOST_PARTS = 256
const PART_OFF = 0.00115

/**
 * Into how many straight parts the product of two stretches is divided: that of lines is off by a quarter of the product of their
 * changes over the square of the parts, and a gain, the cube of a height, by three times as much of itself.
 */
function partsOf(a: readonly Knot[], b: readonly Knot[], from: number, to: number): number {
  const ends = (knots: readonly Knot[]) => [threadValue(knots, from), arrivingValue(knots, to)] as const
  const [[a0, a1], [b0, b1]] = [ends(a), ends(b)]
  const least = Math.max(1e-4, Math.min(a0 * b0, a1 * b1))
  const wanted = Math.sqrt((3 * Math.abs((a1 - a0) * (b1 - b0))) / (4 * PART_OFF * least))
  return clamp(Math.ceil(wanted), PARTS, MOST_PARTS)
}

/** Both threads multiplied, heights over `base`; where both move, in straight pieces. Both go from one frame to the same other. */
export function multiplied(a: readonly Knot[], b: readonly Knot[], base: number, limits: Limits): Knot[] {
  const times = (knots: readonly Knot[], factor: number) =>
    knots.map((k) => ({ ...k, value: limits.height(k.value * factor) }))
  if (isFlat(b)) return times(a, b[0]!.value / base)
  if (isFlat(a)) return times(b, a[0]!.value / base)
  const frames = [...new Set([...a, ...b].map((k) => k.frame))].sort((x, y) => x - y)
  const out: Knot[] = []
  frames.forEach((frame, i) => {
    const arriving = limits.height((arrivingValue(a, frame) * arrivingValue(b, frame)) / base)
    const leaving = limits.height((threadValue(a, frame) * threadValue(b, frame)) / base)
    if (i > 0) out.push(line(frame, arriving))
    if (i === 0 || (leaving !== arriving && i < frames.length - 1)) out.push(line(frame, leaving))
    const next = frames[i + 1]
    if (next === undefined) return
    const parts = Math.min(partsOf(a, b, frame, next), next - frame)
    for (let n = 1; n < parts; n++) {
      const at = Math.round(frame + ((next - frame) * n) / parts)
      out.push(line(at, limits.height((threadValue(a, at) * threadValue(b, at)) / base)))
    }
  })
  return out
}
