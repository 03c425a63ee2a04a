import { laneKeysOf } from '../../../core/edit'
import type { Session } from '../../../core/model/session'
import type { OpenLane } from '../../../store/view'

/** The lanes that are opened below a track (null: the mix) and that it has, in the order in which they are drawn. */
export const lanesBelow = (
  session: Session,
  trackId: string | null,
  openLanes: readonly OpenLane[],
): OpenLane[] =>
  openLanes.length === 0
    ? []
    : laneKeysOf(session, trackId).flatMap(
        (lane) => openLanes.find((o) => o.trackId === trackId && o.lane === lane) ?? [],
      )
