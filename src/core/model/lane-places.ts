import type { Scale } from '../units/scale'
import type { Knot, LaneWeave } from './session'

/**
 * Lanes are drawn and interpolated on the scale of their parameter, while files keep its unit: a lane in Hz is straight in
 * octaves. Between both lie these functions; for most scales they do nothing.
 */
type Places = Pick<Scale, 'toPlace' | 'toValue'>

const placed = new WeakMap<readonly Knot[], readonly Knot[]>()
/** The knot in a file from which a knot on the scale was made. */
const origins = new WeakMap<Knot, Knot>()

/** Knots in their unit as places on a scale. The same list for the same knots. */
export function placedKnots({ toPlace }: Places, knots: readonly Knot[]): readonly Knot[] {
  if (!toPlace || knots.length === 0) return knots
  const known = placed.get(knots)
  if (known) return known
  const made = knots.map((knot) => {
    const place = { ...knot, value: toPlace(knot.value) }
    origins.set(place, knot)
    return place
  })
  placed.set(knots, made)
  return made
}

/** Knots on a scale in their unit, for a file; a knot that was not changed is the one from before, to the bit. */
export const writtenKnots = ({ toValue }: Places, knots: readonly Knot[]): Knot[] =>
  toValue ? knots.map((knot) => origins.get(knot) ?? { ...knot, value: toValue(knot.value) }) : [...knots]

const movedWeave = (weave: LaneWeave, by: (value: number) => number): LaneWeave => ({
  ...weave,
  low: by(weave.low),
  high: by(weave.high),
})

/** Weaves whose limits are in their unit as places on a scale. */
export const placedWeaves = ({ toPlace }: Places, weaves: readonly LaneWeave[]): readonly LaneWeave[] =>
  toPlace ? weaves.map((weave) => movedWeave(weave, toPlace)) : weaves

/** Weaves whose limits are places on a scale in their unit. */
export const writtenWeaves = ({ toValue }: Places, weaves: readonly LaneWeave[]): LaneWeave[] =>
  toValue ? weaves.map((weave) => movedWeave(weave, toValue)) : [...weaves]
