import { valueAt } from '../curve/knots'
import { sessionLength } from '../model/queries'
import type { Knot } from '../model/session'
import { FADER_DB } from '../units/decibel'
import { threadOf, withKnots, type ThreadRef } from './thread'
import { defineEdit } from './edit'
import { withMix } from './owner'

/** Sets the volume of the mix in dB (-72…+12), null for silence. Throws a RangeError outside. */
export const setMixVolume = defineEdit<{ volumeDb: number | null }>({
  name: 'setMixVolume',
  label: () => 'Volume of the mix',
  apply(session, { volumeDb }) {
    if (volumeDb !== null && !(volumeDb >= FADER_DB.min && volumeDb <= FADER_DB.max))
      throw new RangeError(`a volume of ${volumeDb} dB is outside ${FADER_DB.min}…${FADER_DB.max}`)
    return session.mix.volumeDb === volumeDb ? session : withMix(session, { volumeDb })
  },
})

/** Sets the balance of the mix, -1 (left) … 1. Throws a RangeError outside. */
export const setMixPan = defineEdit<{ pan: number }>({
  name: 'setMixPan',
  label: () => 'Pan of the mix',
  apply(session, { pan }) {
    if (!(pan >= -1 && pan <= 1)) throw new RangeError(`a pan of ${pan} is outside -1…1`)
    return (session.mix.pan ?? 0) === pan ? session : withMix(session, { pan })
  },
})

/**
 * Fades the whole mix in or out over so many frames at the start or the end of the session, by knots in its volume lane; what the lane did
 * there is replaced. Throws a RangeError for a length below 1.
 */
export const fadeMix = defineEdit<{ edge: 'in' | 'out'; lengthFrames: number }>({
  name: 'fadeMix',
  label: (_session, { edge }) => `Fade ${edge} of the mix`,
  apply(session, { edge, lengthFrames }) {
    const end = sessionLength(session)
    const length = Math.min(end, Math.round(lengthFrames))
    if (end === 0) return session
    if (!(length >= 1)) throw new RangeError(`a fade of ${lengthFrames} frames is shorter than 1`)
    const ref: ThreadRef = { kind: 'lane', trackId: null, lane: 'volume' }
    const { knots, kind } = threadOf(session, ref)!
    const [from, to] = edge === 'in' ? [0, length] : [end - length, end]
    const inner = valueAt(kind, knots, edge === 'in' ? to : from)
    const knot = (frame: number, value: number): Knot => ({ frame, value, shape: 'line', bend: 0 })
    const kept = edge === 'in' ? knots.filter((k) => k.frame > to) : knots.filter((k) => k.frame < from)
    const fade = edge === 'in' ? [knot(from, 0), knot(to, inner)] : [knot(from, inner), knot(to, 0)]
    return withKnots(session, ref, edge === 'in' ? [...fade, ...kept] : [...kept, ...fade])
  },
})
