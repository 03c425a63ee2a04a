import type { Knot } from '../model/session'
import { drawInto, gainKind, valueAt, type Drawn, type ThreadKind } from './knots'
import type { RawPoint } from './thin'

/**
 * A time during which a hand held a value: what it was at which frame, in order. `returns` when it was let go
 * and the thread takes over again.
 */
export interface Touch {
  points: readonly RawPoint[]
  returns: boolean
}

/**
 * How a pass is written: `tolerance` of thinning (dB or hundredths of pan; null keeps all), `returnFrames`
 * from a hand's value back to the thread's, `join` frames where nothing returns.
 */
export interface RideSettings {
  tolerance: number | null
  returnFrames: number
  join: number
}

/** A pass of riding written into a thread, touch after touch; between them and outside the thread stays. */
export function rideInto(
  knots: readonly Knot[],
  touches: readonly Touch[],
  { tolerance, returnFrames, join }: RideSettings,
  kind: ThreadKind = gainKind(),
): Drawn {
  let all: Drawn = { knots: [...knots], drawn: 0, worst: 0 }
  for (const { points, returns } of touches) {
    const last = points.at(-1)
    if (!last) continue
    const back = last.frame + Math.round(returnFrames)
    const line =
      returns && returnFrames >= 1 ? [...points, { frame: back, value: valueAt(kind, knots, back) }] : points
    const next = drawInto(all.knots, line, tolerance, join, kind)
    all = { knots: next.knots, drawn: all.drawn + next.drawn, worst: Math.max(all.worst, next.worst) }
  }
  return all
}
