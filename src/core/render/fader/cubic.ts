import type { ThreadSegment } from '../../curve/thread'
import type { Cubic } from '../../dsp/levels'

export const newCubic = (): Cubic => ({ start: 0, c0: 0, c1: 0, c2: 0, c3: 0 })

/** A segment as the cubic of a run that begins at a frame of it. */
export function cubicAt({ origin, c0, c1, c2, c3 }: ThreadSegment, frame: number, into: Cubic): Cubic {
  into.start = frame - origin
  into.c0 = c0
  into.c1 = c1
  into.c2 = c2
  into.c3 = c3
  return into
}
