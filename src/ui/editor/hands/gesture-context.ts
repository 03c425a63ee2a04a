import { lanesWithKnots, sameRef, threadOf, type ThreadRef, threadWords } from '../../../core/edit'
import type { Region, Session } from '../../../core/model/session'
import { getPlayer } from '../../../store/playback'
import type { Dispatch } from '../../../store/store'
import { lanePicked, selected, trackPicked, type View, type ViewState } from '../../../store/view-slice'
import { type Box, overLanes, regionAt, rowAt, xToFrame } from '../drawing/geometry'
import { LANE_PAD, type ThreadPlace } from '../drawing/thread-place'
import { caughtFrame, snap, snapTargets, type Snapped } from './snap'
import type { ThreadTools } from './thread-gesture'

/**
 * What gestures on threads need of the place they happen in: its state, its view, and its ways of showing
 * what goes on.
 */
export interface GestureContext {
  dispatch: Dispatch
  session: Session
  state: ViewState
  view: View
  showSwept(box: Box | null): void
  showSnapped(snapped: Snapped | null): void
  say(readout: { x: number; y: number; text: string } | null): void
}

/** What the timeline lends to gestures besides: its rows, and the threads that it shows. */
export interface TimelineContext extends GestureContext {
  rows: readonly (readonly Region[])[]
  places: readonly ThreadPlace[]
}

/** Pixels within which a moved knot catches. */
const REACH = 6

/** Knots of other lanes in sight that a moved one catches on, at most so many. */
const MOST_KNOTS = 2000

/** The knots of other lanes than the given one that are in sight. */
function otherKnots(session: Session, view: View, ref: ThreadRef): { frame: number; what: string }[] {
  const end = xToFrame(view, view.width)
  return lanesWithKnots(session)
    .filter((lane) => !sameRef(lane, ref))
    .flatMap((lane) =>
      threadOf(session, lane)!
        .knots.filter((k) => k.frame >= view.left && k.frame <= end)
        .map((k) => ({ frame: k.frame, what: `a knot of ${threadWords(session, lane)}` })),
    )
    .slice(0, MOST_KNOTS)
}

export function toolsAt(
  { dispatch, session, state, view, say, showSnapped }: GestureContext,
  ref: ThreadRef,
  x: number,
  y: number,
): ThreadTools {
  const { framesPerPixel } = view
  const targets = [
    ...snapTargets(session, new Set(), getPlayer()?.position() ?? 0, state.range),
    ...otherKnots(session, view, ref),
  ].sort((a, b) => a.frame - b.frame)
  return {
    dispatch,
    sampleRate: session.sampleRate,
    say: (text) => {
      if (text === null) showSnapped(null)
      say(text === null ? null : { x, y, text })
    },
    catchFrame(frame, free) {
      const snapped = free
        ? null
        : snap(session, [frame], targets, REACH * framesPerPixel, framesPerPixel, state.timeScale)
      showSnapped(snapped)
      return frame + (snapped?.by ?? 0)
    },
  }
}

/** Catches the ends of a range that is swept, and shows on what. */
export const catchTimes =
  ({
    session,
    state,
    view,
    showSnapped,
  }: Pick<GestureContext, 'session' | 'state' | 'view' | 'showSnapped'>) =>
  (frame: number, free: boolean): number => {
    const { framesPerPixel } = view
    const caught = free
      ? { frame: Math.round(frame), snapped: null }
      : caughtFrame(session, frame, {
          framesPerPixel,
          scale: state.timeScale,
          playhead: getPlayer()?.position() ?? 0,
        })
    showSnapped(caught.snapped)
    return caught.frame
  }

/** The thread under a place: that of the region there, or the lane of the row. */
export function placeAt(
  { places, session, rows, view }: Pick<TimelineContext, 'places' | 'session' | 'rows' | 'view'>,
  x: number,
  y: number,
): ThreadPlace | null {
  const row = rowAt(view, y)
  const lane = places.find(
    (p) => p.opened && y >= p.box.y - LANE_PAD && y < p.box.y + p.box.height + LANE_PAD,
  )
  if (lane || overLanes(view, y)) return lane ?? null
  const region = rows[row] && regionAt(rows[row], xToFrame(view, x))
  const trackId = session.trackIds[row]
  return (
    places.find((p) =>
      p.ref.kind === 'region' ? p.ref.regionId === region?.id : !p.opened && p.ref.trackId === trackId,
    ) ?? null
  )
}

/**
 * The lane that is worked on leads. Where it is the one that the rows show, regions that are selected on other
 * tracks alone would hold the Path, and are let go.
 */
export function pickLane({ dispatch, session, state }: GestureContext, { ref, opened }: ThreadPlace): void {
  if (ref.kind !== 'lane' || ref.trackId === null) return
  const { trackId } = ref
  if (opened) return void dispatch(lanePicked(ref))
  const kept =
    state.selection.length === 0 || state.selection.some((id) => session.regions[id]?.trackId === trackId)
  dispatch(kept ? trackPicked(trackId) : selected({ regionIds: [], trackId }))
}
