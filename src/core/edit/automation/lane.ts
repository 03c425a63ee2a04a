import { withStrip } from '../shared/with-strip'
import { defineEdit } from '../shared/edit'
import { lanesInWords } from './thread'
import type { LaneRef } from '../shared/thread-ref'
import { laneKeysOf } from '../../model/parameters'
import { stripOf } from '../../model/strips'
import type { Lane, Session } from '../../model/session'
import { rowIds } from '../../model/strips'

/** Bypasses lanes or lets them act again; a bypassed lane keeps its knots, and the static value holds. */
export const setLanesBypassed = defineEdit<{ lanes: readonly LaneRef[]; bypassed: boolean }>({
  name: 'setLanesBypassed',
  label: (session, { lanes, bypassed }) =>
    `${bypassed ? 'Bypass' : 'Let act'} ${lanesInWords(session, lanes)}`,
  apply: (session, { lanes, bypassed }) =>
    lanes.reduce(
      (next, ref) =>
        withLane(next, ref, (lane) => (lane.bypassed === bypassed ? lane : { ...lane, bypassed })),
      session,
    ),
})

function withLane(session: Session, { trackId, lane: key }: LaneRef, change: (lane: Lane) => Lane): Session {
  const lanes = stripOf(session, trackId)?.lanes
  const lane = lanes?.[key]
  if (!lanes || !lane) return session
  const changed = change(lane)
  if (changed === lane) return session
  return withStrip(session, trackId, { lanes: { ...lanes, [key]: changed } })
}

/** Whether a lane moves its value: it has knots, and is not bypassed. */
export function isAutomated(session: Session, { trackId, lane: key }: LaneRef): boolean {
  const lane = stripOf(session, trackId)?.lanes[key]
  return lane !== undefined && lane.knots.length > 0 && !lane.bypassed
}

/** Whether a lane has knots but does not act. */
export function isBypassed(session: Session, { trackId, lane: key }: LaneRef): boolean {
  const lane = stripOf(session, trackId)?.lanes[key]
  return lane !== undefined && lane.knots.length > 0 && lane.bypassed
}

/** All lanes of a session that have knots, or those of one track or (null) the mix. */
export function lanesWithKnots(session: Session, trackId?: string | null): LaneRef[] {
  const owners = trackId === undefined ? [...rowIds(session), null] : [trackId]
  return owners
    .flatMap((id) => laneKeysOf(session, id).map((lane): LaneRef => ({ kind: 'lane', trackId: id, lane })))
    .filter(({ trackId: id, lane }) => (stripOf(session, id)!.lanes[lane]?.knots.length ?? 0) > 0)
}
