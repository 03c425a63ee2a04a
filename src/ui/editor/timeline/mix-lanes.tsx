import { rowIds } from '../../../core/model/strips'
import { memo, useCallback, useMemo, useRef } from 'react'
import { sameRef, threadWords, type LaneRef } from '../../../core/edit'
import { FADER, findCommonParameter, parameterOf } from '../../../core/model/parameters'
import { sessionLength } from '../../../core/model/queries'
import type { Session } from '../../../core/model/session'
import { beadOf } from '../../../store/beads'
import {
  beadPicked,
  LANE_HEIGHT,
  laneHeightSet,
  lanePicked,
  MIX_HEIGHT,
  mixHeightSet,
  type View,
} from '../../../store/view'
import { HeightHandle } from '../../parts/height-handle'
import { useAppDispatch, useAppSelector } from '../../parts/hooks'
import { sameParts } from '../../parts/rendering/same-parts'
import { lanesBelow } from '../drawing/open-lanes'
import { newLanePlace } from '../drawing/thread-place'
import { ThreadArea } from '../parts/threads/thread-area'
import { useWheel } from '../parts/use-view'

/**
 * The lanes of the mix below the regions, over the stretch that the timeline shows: its volume, and its pan
 * when it is opened.
 */
export const MixLanes = memo(
  function MixLanes({ session }: { session: Session }) {
    const height = useAppSelector((s) => s.preferences.mixHeight)
    const openLanes = useAppSelector((s) => s.navigation.openLanes)
    const opened = useMemo(() => lanesBelow(session, null, openLanes), [session, openLanes])
    return (
      <>
        <MixLane session={session} lane={FADER} height={height} />
        {opened.map((o) => (
          <MixLane key={o.lane} session={session} lane={o.lane} height={o.height} />
        ))}
      </>
    )
  },
  (before, after) =>
    sameParts<{ session: Session }>('id', 'regions', 'trackIds', 'busIds')(before, after) &&
    // Which lanes the mix has depends on its inserts.
    before.session.mix.inserts === after.session.mix.inserts &&
    before.session.mix.lastInserts === after.session.mix.lastInserts,
)

/** A lane of the mix. Whatever is done to it picks it in the Path. */
function MixLane({ session, lane, height }: { session: Session; lane: string; height: number }) {
  const dispatch = useAppDispatch()
  const bead = beadOf(null, lane)
  const thread = useMemo((): LaneRef => ({ kind: 'lane', trackId: null, lane }), [lane])
  // Lanes of inserts have no stage of the Path: they lead by themselves.
  const isStage = findCommonParameter(lane) !== undefined
  const picked = useAppSelector(({ selection: { bead: shown, lead } }) =>
    isStage ? shown === bead : lead.kind === 'lane' && sameRef(lead.ref, thread),
  )
  const area = useRef<HTMLDivElement>(null)
  useWheel(area, sessionLength(session), rowIds(session).length)
  const viewOf = useCallback(
    ({ left, framesPerPixel, width }: View): View => ({ left, framesPerPixel, width, top: 0, height }),
    [height],
  )
  const placeOf = useCallback(
    (now: Session, view: View) => newLanePlace(now, view, thread, 0, height),
    [thread, height],
  )
  return (
    <div
      ref={area}
      onPointerDownCapture={() => dispatch(isStage ? beadPicked(bead) : lanePicked(thread))}
      data-testid={`${bead}-lane`}
      className={`apart relative shrink-0 border-t border-seam ${picked ? 'bg-linen' : 'bg-cloth/70'}`}
      style={{ height }}
    >
      <ThreadArea
        thread={thread}
        viewOf={viewOf}
        placeOf={placeOf}
        label={
          lane === FADER ? 'Lane of the mix' : `${parameterOf(session.mix, lane).laneName} lane of the mix`
        }
        testId={`${bead}-thread`}
      />
      <HeightHandle
        height={height}
        limits={lane === FADER ? MIX_HEIGHT : LANE_HEIGHT}
        edge="top"
        onHeight={(to) =>
          dispatch(lane === FADER ? mixHeightSet(to) : laneHeightSet({ trackId: null, lane, height: to }))
        }
      />
      <span className="pointer-events-none absolute top-1 right-2 text-2xs text-soft">
        {threadWords(session, thread)}
      </span>
    </div>
  )
}
