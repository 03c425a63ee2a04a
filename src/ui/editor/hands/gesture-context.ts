import { rowIds } from '../../../core/model/strips'
import {
  lanesWithKnots,
  sameRef,
  threadOf,
  type LaneRef,
  type ThreadRef,
  threadWords,
} from '../../../core/edit'
import type { Region, Session } from '../../../core/model/session'
import { getPlayer } from '../../../store/playback/playback'
import type { Dispatch, RootState } from '../../../store/store'
import { lanePicked, selected, trackPicked, type View } from '../../../store/view'
import { type Box, overLanes, regionAt, rowAt, xToFrame } from '../drawing/geometry'
import { LANE_PAD, type ThreadPlace } from '../drawing/thread-place'
import { caughtFrame, NEAR_REACH, snapTargets, TIME_REACH, type Snapped, type Target } from './snap'
import type { ThreadTools } from './thread-gesture'

/**
 * What gestures on threads need of the place they happen in: its state, its view, and its ways of showing
 * what goes on.
 */
export interface GestureContext {
  dispatch: Dispatch
  session: Session
  /** What is picked, and what a person prefers, when the gesture begins. */
  state: Pick<RootState, 'selection' | 'preferences'>
  view: View
  showSwept(box: Box | null): void
  showSnapped(snapped: Snapped | null): void
  say(readout: { x: number; y: number; text: string } | null): void
}

/** What the timeline lends to gestures besides: its rows, and the threads that it shows. */
export interface TimelineContext extends GestureContext {
  rows: readonly (readonly Region[])[]
  places: readonly ThreadPlace[]
  /** The lanes that are current, on whose knots swept ranges catch. */
  lanes: readonly LaneRef[]
}

/** Knots in sight that something catches on, at most so many. */
const MOST_KNOTS = 2000

/** The knots of lanes that are in sight, as places to catch on. */
function knotTargets(session: Session, view: View, lanes: readonly LaneRef[], its: boolean): Target[] {
  const end = xToFrame(view, view.width)
  return lanes
    .flatMap((lane) =>
      threadOf(session, lane)!
        .knots.filter((k) => k.frame >= view.left && k.frame <= end)
        .map((k) => ({ frame: k.frame, what: its ? 'a knot' : `a knot of ${threadWords(session, lane)}` })),
    )
    .slice(0, MOST_KNOTS)
}

const byFrame = (targets: readonly Target[]) => [...targets].sort((a, b) => a.frame - b.frame)

/**
 * What gestures on a thread need. What they drag catches on grid, edges, seams, markers, the playhead and knots of the
 * same lane, but for those that are dragged themselves; with Ctrl on knots of all lanes.
 */
export function toolsAt(
  { dispatch, session, state, view, say, showSnapped }: GestureContext,
  ref: ThreadRef,
  x: number,
  y: number,
  held: { shiftKey: boolean; altKey: boolean } = { shiftKey: false, altKey: false },
  moved: ReadonlySet<number> = new Set(),
): ThreadTools {
  const { framesPerPixel } = view
  const places = snapTargets(session, new Set(), getPlayer()?.position() ?? 0, state.selection.range)
  const own =
    ref.kind === 'lane' ? knotTargets(session, view, [ref], true).filter((k) => !moved.has(k.frame)) : []
  const targets = byFrame([...places, ...own])
  let all: readonly Target[] | null = null
  const among = (others: boolean): readonly Target[] => {
    if (!others) return targets
    const lanes = lanesWithKnots(session).filter((lane) => !sameRef(lane, ref))
    return (all ??= byFrame([...targets, ...knotTargets(session, view, lanes, false)]))
  }
  const catchFrame: ThreadTools['catchFrame'] = (frame, free, others = false, on = 'places') => {
    const places = on === 'grid' ? [] : among(others)
    const reach = on === 'near' ? NEAR_REACH : TIME_REACH
    const caught = free
      ? null
      : caughtFrame(
          { session, targets: places, framesPerPixel, scale: state.preferences.timeScale },
          frame,
          reach,
        )
    showSnapped(caught?.snapped ?? null)
    return caught?.frame ?? Math.round(frame)
  }
  return {
    dispatch,
    sampleRate: session.sampleRate,
    say: (text) => {
      if (text === null) showSnapped(null)
      say(text === null ? null : { x, y, text })
    },
    catchFrame,
    start: (frame, on) => catchFrame(frame, held.shiftKey || held.altKey, false, on),
  }
}

/** Catches the ends of a range that is swept, also on the knots of the current lanes, and shows on what. */
export const catchTimes = (
  { session, state, view, showSnapped }: Pick<GestureContext, 'session' | 'state' | 'view' | 'showSnapped'>,
  lanes: readonly LaneRef[] = [],
) => {
  const targets = byFrame([
    ...snapTargets(session, new Set(), getPlayer()?.position() ?? 0, null),
    ...knotTargets(session, view, lanes, lanes.length === 1),
  ])
  return (frame: number, free: boolean): number => {
    const caught = free
      ? { frame: Math.round(frame), snapped: null }
      : caughtFrame(
          { session, targets, framesPerPixel: view.framesPerPixel, scale: state.preferences.timeScale },
          frame,
        )
    showSnapped(caught.snapped)
    return caught.frame
  }
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
  const trackId = rowIds(session)[row]
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
    state.selection.regionIds.length === 0 ||
    state.selection.regionIds.some((id) => session.regions[id]?.trackId === trackId)
  dispatch(kept ? trackPicked(trackId) : selected({ regionIds: [], trackId }))
}
