import { FADER } from '../../model/parameters'
import { valueAt } from '../../curve/knots'
import { sessionLength } from '../../model/queries'
import type { Knot } from '../../model/session'
import { threadOf, withKnots } from '../automation/thread'
import type { ThreadRef } from '../shared/thread-ref'
import { defineEdit } from '../shared/edit'

/**
 * Fades the whole mix in or out over so many frames at the start or the end of the session, by knots in its
 * volume lane; what the lane did there is replaced. Throws a RangeError for a length below 1.
 */
export const fadeMix = defineEdit<{ edge: 'in' | 'out'; lengthFrames: number }>({
  name: 'fadeMix',
  label: (_session, { edge }) => `Fade ${edge} of the mix`,
  apply(session, { edge, lengthFrames }) {
    const end = sessionLength(session)
    const length = Math.min(end, Math.round(lengthFrames))
    if (end === 0) return session
    if (!(length >= 1)) throw new RangeError(`a fade of ${lengthFrames} frames is shorter than 1`)
    const ref: ThreadRef = { kind: 'lane', trackId: null, lane: FADER }
    const { knots, kind } = threadOf(session, ref)!
    const [from, to] = edge === 'in' ? [0, length] : [end - length, end]
    const inner = valueAt(kind, knots, edge === 'in' ? to : from)
    const knot = (frame: number, value: number): Knot => ({ frame, value, shape: 'line', bend: 0 })
    const kept = edge === 'in' ? knots.filter((k) => k.frame > to) : knots.filter((k) => k.frame < from)
    const fade = edge === 'in' ? [knot(from, 0), knot(to, inner)] : [knot(from, inner), knot(to, 0)]
    return withKnots(session, ref, edge === 'in' ? [...fade, ...kept] : [...kept, ...fade])
  },
})
