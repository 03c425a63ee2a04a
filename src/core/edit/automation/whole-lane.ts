import { insertKnot, replaceBetween } from '../../curve/knots'
import { mapLane } from '../../curve/weave'
import { findParameter, parameterOf } from '../../model/parameters'
import type { Knot, Lane, Session } from '../../model/session'
import { defineEdit } from '../shared/edit'
import { writtenKnots } from '../../model/lane-places'
import { withStrip } from '../shared/with-strip'
import { lanesInWords, weaveContextOf, threadOf, withKnots, type ThreadState } from './thread'
import type { LaneRef } from '../shared/thread-ref'
import { stripOf } from '../../model/strips'

/** Seconds of the ramp from what a lane did to the value that it is set to. */
const JOIN_SECONDS = 0.005

/** What of a lane is set to a value: all of it, what comes from a frame on, or a range of session frames. */
export type LaneScope = 'whole' | { from: number; to: number | null }

const scaleOfFirst = (session: Session, [first]: readonly LaneRef[]) => {
  const strip = first && stripOf(session, first.trackId)
  return strip && findParameter(strip, first.lane)?.scale
}

/** A lane without knots and not bypassed, whose static value is the one given; a lane of its own kind keeps one knot. */
function still(session: Session, { trackId, lane: key }: LaneRef, value: number): Session {
  const strip = stripOf(session, trackId)
  if (!strip) return session
  const { value: fixed, scale } = parameterOf(strip, key)
  const lane: Lane = {
    knots: fixed ? [] : writtenKnots(scale, [{ frame: 0, value, shape: 'line', bend: 0 }]),
    bypassed: false,
    visible: strip.lanes[key]?.visible ?? true,
  }
  const change = {
    ...(fixed ? fixed.written(strip, fixed.fromLane(value)) : {}),
    lanes: { ...strip.lanes, [key]: lane },
  }
  return withStrip(session, trackId, change)
}

/** The knots of a lane that comes to a value within a ramp after a frame, and stays there. */
function fromThere({ knots, kind }: ThreadState, from: number, value: number, join: number): Knot[] {
  const level = (frame: number): Knot => ({ frame, value, shape: 'line', bend: 0 })
  const before = knots.length
    ? insertKnot(knots, from, undefined, kind).knots.filter((k) => k.frame <= from)
    : [{ ...level(from), value: kind.neutral }]
  return [...before.slice(0, -1), { ...before.at(-1)!, shape: 'line', bend: 0 }, level(from + join)]
}

/**
 * Sets lanes to one value on their scale: as a whole, which leaves no knots and takes a bypass off, from a frame on, or
 * in a range. What is left of a lane is joined by ramps of 5 ms. Throws a RangeError for a value out of range.
 */
export const setLanes = defineEdit<{ lanes: readonly LaneRef[]; value: number; scope: LaneScope }>({
  name: 'setLanes',
  label(session, { lanes, value, scope }) {
    const shown = scaleOfFirst(session, lanes)?.show(value) ?? ''
    const where = scope === 'whole' ? 'the whole' : scope.to === null ? 'the rest of' : 'a range of'
    return `Set ${where} ${lanesInWords(session, lanes)} to ${shown}`
  },
  apply(session, { lanes, value, scope }) {
    const join = Math.max(1, Math.round(session.sampleRate * JOIN_SECONDS))
    return lanes.reduce((next, ref) => {
      const thread = threadOf(next, ref)
      if (!thread) return next
      const { min, max } = thread.kind
      if (!(value >= min && value <= max))
        throw new RangeError(`a value of ${value} is outside ${min}…${max}`)
      if (scope === 'whole') return still(next, ref, value)
      const { from, to } = scope
      if (to === null) return withKnots(next, ref, fromThere(thread, from, value, join))
      if (to <= from) return next
      const level = [from, to].map((frame): Knot => ({ frame, value, shape: 'line', bend: 0 }))
      return withKnots(next, ref, replaceBetween(thread.knots, from, to, level, join, thread.kind))
    }, session)
  },
})

/** Shifts all that lanes do by dB, or hundredths of pan; weaves by their limits. */
export const shiftLanes = defineEdit<{ lanes: readonly LaneRef[]; by: number }>({
  name: 'shiftLanes',
  label: (session, { lanes, by }) =>
    `Shift the whole ${lanesInWords(session, lanes)} by ${scaleOfFirst(session, lanes)?.showChange(by) ?? by}`,
  apply: (session, { lanes, by }) =>
    lanes.reduce((next, ref) => {
      const thread = threadOf(next, ref)
      if (!thread || thread.knots.length === 0 || by === 0) return next
      const { kind } = thread
      const { knots, weaves } = mapLane(thread.knots, thread.weaves, weaveContextOf(next, kind), (v) =>
        kind.shift(v, by),
      )
      return withKnots(next, ref, knots, weaves)
    }, session),
})
