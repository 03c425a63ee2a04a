import { insertKnot } from '../../../core/curve/knots'
import {
  laneKeysOf,
  lanesWithKnots,
  refKey,
  sameRef,
  shapeThread,
  threadOf,
  threadWords,
  type ThreadRef,
} from '../../../core/edit'
import { regionEnd } from '../../../core/model/queries'
import type { Region, Session } from '../../../core/model/session'
import { commit } from '../../../store/edits'
import { getPlayer } from '../../../store/playback'
import type { Dispatch } from '../../../store/store'
import {
  knotsSelected,
  selected,
  trackPicked,
  weaveDrawn,
  type View,
  type ViewState,
} from '../../../store/view-slice'
import { toast } from '../../parts/toast'
import {
  HEM_HEIGHT,
  overLanes,
  regionAt,
  ROW_HEIGHT,
  ROW_PAD,
  rowAt,
  xToFrame,
  type Box,
} from '../drawing/geometry'
import {
  bendFadeGesture,
  fadeGesture,
  gainGesture,
  joinGesture,
  moveGesture,
  rangeGesture,
  slideGesture,
  slipGesture,
  sweepGesture,
  trimGesture,
  type Gesture,
} from './region-gestures'
import { snap, snapTargets, type Snapped } from './snap'
import { knotPlaces, LANE_PAD, lanePlace, yToValue, type ThreadPlace } from '../drawing/thread-place'
import {
  bendGesture,
  drawGesture,
  knotGesture,
  knotSweepGesture,
  plateauGesture,
  rangeOfKnotsGesture,
  stretchGesture,
  weaveGesture,
  type RangePart,
  type ThreadTools,
} from './thread-gestures'

/** A gesture in progress, and what a click that never moved means. */
export interface Drag {
  gesture: Gesture | null
  click: (() => void) | null
  cancelled: boolean
}

/**
 * What gestures on threads need of the place they happen in: its state, its view, and its ways of showing
 * what goes on.
 */
export interface ThreadGround {
  dispatch: Dispatch
  session: Session
  state: ViewState
  view: View
  showSwept(box: Box | null): void
  showSnapped(snapped: Snapped | null): void
  say(readout: { x: number; y: number; text: string } | null): void
}

/** What the timeline lends to gestures besides: its rows, and the threads that it shows. */
export interface Ground extends ThreadGround {
  rows: readonly (readonly Region[])[]
  places: readonly ThreadPlace[]
}

/** A drag that does what a gesture does; without one it does nothing. */
export const drag = (gesture: Gesture | null, click: (() => void) | null = null): Drag => ({
  gesture,
  click,
  cancelled: false,
})

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

function toolsAt(
  { dispatch, session, state, view, say, showSnapped }: ThreadGround,
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

/** The thread under a place: that of the region there, or the lane of the row. */
export function placeAt(
  { places, session, rows, view }: Pick<Ground, 'places' | 'session' | 'rows' | 'view'>,
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
 * The track whose lane is worked on is the Path's: regions that are selected on other tracks alone would hold
 * it, and are let go.
 */
function pickTrack({ dispatch, session, state }: ThreadGround, trackId: string): void {
  const kept =
    state.selection.length === 0 || state.selection.some((id) => session.regions[id]?.trackId === trackId)
  dispatch(kept ? trackPicked(trackId) : selected({ regionIds: [], trackId }))
}

/** Begins what a press at a place means: by the hand, the handle under the pointer, and the picked bead. */
export function beginDrag(ground: Ground, event: PointerEvent, x: number, y: number): Drag {
  const { dispatch, session, rows, state, places } = ground
  const { view, hand, selection, range } = state
  const handle = (event.target as Element).closest<HTMLElement>('[data-handle]')
  const kind = handle?.dataset.handle
  const row = rowAt(view, y)
  const track = session.trackIds[row]
  if (hand === 'range') return drag(rangeGesture(dispatch, view, x, range))
  const onThread = kind === 'knot' || kind === 'stretch' || kind === 'knots'
  if (hand === 'plateau' || hand === 'draw' || hand === 'weave' || onThread) {
    const place = onThread ? places.find((p) => refKey(p.ref) === handle!.dataset.ref) : placeAt(ground, x, y)
    if (track && place?.ref.kind === 'lane') pickTrack(ground, track)
    return place ? beginThread(ground, place, handle, event, x, y) : drag(null)
  }
  if (kind === 'join') {
    const { left, right } = handle!.dataset
    return drag(
      joinGesture(dispatch, session, { leftId: left!, rightId: right! }, view.framesPerPixel, (text) =>
        ground.say(text === null ? null : { x, y, text }),
      ),
      () => handle!.focus(),
    )
  }
  if (kind === 'crossfade')
    return drag(slideGesture(dispatch, handle!.dataset.crossfade!, view.framesPerPixel))
  // With a lane picked, dragging beside it selects its knots.
  const under = handle ? null : placeAt(ground, x, y)
  const lane = under?.ref.kind === 'lane' ? under : null
  if (lane && track) {
    pickTrack(ground, track)
    return beginThread(ground, lane, null, event, x, y)
  }
  const region = handle?.dataset.region
    ? session.regions[handle.dataset.region]!
    : rows[row] && !overLanes(view, y)
      ? regionAt(rows[row], xToFrame(view, x))
      : null
  if (!region) {
    const kept = event.shiftKey ? selection : []
    if (!event.shiftKey) dispatch(selected({ regionIds: [], ...(track ? { trackId: track } : {}) }))
    return drag(sweepGesture(dispatch, { view, rows, start: { x, y }, kept, show: ground.showSwept }))
  }
  const isSelected = selection.includes(region.id)
  if (event.shiftKey && !handle) {
    dispatch(
      selected({
        regionIds: isSelected ? selection.filter((id) => id !== region.id) : [...selection, region.id],
      }),
    )
    return drag(null)
  }
  if (!isSelected) dispatch(selected({ regionIds: [region.id], trackId: region.trackId }))
  if (kind === 'alone') return drag(null)
  const place = handle
    ? undefined
    : places.find((p) => p.ref.kind === 'region' && p.ref.regionId === region.id)
  if (place) return beginThread(ground, place, null, event, x, y)
  const moved = isSelected ? selection : [region.id]
  const click = handle ? null : () => dispatch(selected({ regionIds: [region.id], trackId: region.trackId }))
  return drag(regionGesture(ground, kind, region, moved, x, y, event), click)
}

/** With a thread picked, dragging beside it selects knots. */
function sweepKnots(
  { dispatch, state, view, say, showSwept }: ThreadGround,
  place: ThreadPlace,
  add: boolean,
  x: number,
  y: number,
): Drag {
  const kept = add && state.knots && sameRef(state.knots.ref, place.ref) ? state.knots.indices : []
  const tools: ThreadTools = { dispatch, sampleRate: 0, say: () => say(null), catchFrame: (frame) => frame }
  return drag(
    knotSweepGesture(tools, place, { x, y }, kept, () => knotPlaces(view, place), showSwept),
    () => dispatch(knotsSelected(null)),
  )
}

/**
 * The same lanes of the tracks whose regions are selected along with one of the lane's own track: they are
 * drawn together.
 */
function drawnAlong({ session, state, view }: ThreadGround, place: ThreadPlace): ThreadPlace[] {
  const { ref } = place
  if (ref.kind !== 'lane' || ref.trackId === null) return []
  const tracks = new Set(state.selection.flatMap((id) => session.regions[id]?.trackId ?? []))
  if (!tracks.has(ref.trackId)) return []
  return [...tracks]
    .filter((id) => id !== ref.trackId && laneKeysOf(session, id).includes(ref.lane))
    .map((id) => lanePlace(session, view, id, ref.lane, 0))
}

/** Begins what a press on or beside a thread means: by the hand, and by the knot or stretch under the pointer. */
export function beginThread(
  ground: ThreadGround,
  place: ThreadPlace,
  grabbed: HTMLElement | null,
  event: PointerEvent,
  x: number,
  y: number,
): Drag {
  const { dispatch, session, state } = ground
  const { ref } = place
  const regionId = ref.kind === 'region' ? ref.regionId : null
  if (regionId !== null && !state.selection.includes(regionId))
    dispatch(selected({ regionIds: [regionId], trackId: session.regions[regionId]!.trackId }))
  const tools = toolsAt(ground, ref, x, y)
  const frame = xToFrame(ground.view, x)
  const handle =
    state.hand === 'point' && (grabbed?.dataset.handle === 'knot' || grabbed?.dataset.handle === 'stretch')
      ? grabbed
      : null
  if (handle?.dataset.handle === 'knot') {
    const index = Number(handle.dataset.knot)
    const chosen = state.knots && sameRef(state.knots.ref, ref) ? state.knots.indices : []
    const toggled = event.shiftKey
      ? chosen.includes(index)
        ? chosen.filter((i) => i !== index)
        : [...chosen, index].sort((a, b) => a - b)
      : chosen.includes(index)
        ? chosen
        : [index]
    dispatch(knotsSelected(toggled.length ? { ref, indices: [...toggled] } : null))
    return toggled.includes(index)
      ? drag(
          knotGesture(tools, place, toggled, index),
          event.shiftKey ? null : () => dispatch(knotsSelected({ ref, indices: [index] })),
        )
      : drag(null)
  }
  const box =
    state.hand === 'point' && grabbed?.dataset.handle === 'knots' ? (grabbed.dataset.part as RangePart) : null
  if (box && state.knots && sameRef(state.knots.ref, ref))
    return drag(rangeOfKnotsGesture(tools, place, state.knots.indices, box), () =>
      dispatch(knotsSelected(null)),
    )
  if (handle)
    return drag(
      event.ctrlKey || event.metaKey ? bendGesture(tools, place, frame) : stretchGesture(tools, place, frame),
    )
  if (state.hand === 'point' || state.hand === 'range') return sweepKnots(ground, place, event.shiftKey, x, y)
  if (state.hand === 'draw') {
    return drag(
      drawGesture(
        tools,
        place,
        { frame, x, y },
        state.thinning,
        ({ drawn, worst }, points) => {
          toast({
            text:
              state.thinning === null || points <= 2
                ? `${drawn} knots drawn`
                : `${points} points → ${drawn} knots, ${worst.toFixed(1)} ${place.kind.thinningUnit} apart at most`,
            stays: 4000,
          })
        },
        drawnAlong(ground, place),
      ),
    )
  }
  if (state.hand === 'weave')
    return drag(
      weaveGesture(tools, place, { frame, y }, state.weave, session.tempo, (drawn) =>
        dispatch(weaveDrawn(drawn)),
      ),
    )
  return drag(plateauGesture(tools, place, frame, Math.round((state.shoulderMs / 1000) * session.sampleRate)))
}

/** What a drag of a region, or of one of its handles, does. */
function regionGesture(
  ground: Ground,
  kind: string | undefined,
  region: Region,
  moved: readonly string[],
  x: number,
  y: number,
  event: PointerEvent,
): Gesture {
  const { dispatch, session, state } = ground
  const { view } = state
  if (kind === 'gain')
    return gainGesture(dispatch, session, moved, (text) =>
      ground.say(text === null ? null : { x: x + 14, y: y + 22, text }),
    )
  if (kind === 'fade-in' || kind === 'fade-out') {
    const edge = kind === 'fade-in' ? 'in' : 'out'
    const row = ground.rows[session.trackIds.indexOf(region.trackId)] ?? []
    const other = row[row.findIndex((r) => r.id === region.id) + (edge === 'in' ? -1 : 1)]
    const touches =
      other && (edge === 'in' ? regionEnd(other) === region.start : other.start === regionEnd(region))
    const join = touches
      ? edge === 'in'
        ? { leftId: other.id, rightId: region.id }
        : { leftId: region.id, rightId: other.id }
      : null
    return fadeGesture(
      dispatch,
      moved,
      edge,
      view.framesPerPixel,
      (edge === 'in' ? region.fadeIn : region.fadeOut)?.length ?? 0,
      join,
    )
  }
  if (kind === 'bend-in' || kind === 'bend-out') {
    const edge = kind === 'bend-in' ? 'in' : 'out'
    return bendFadeGesture(
      dispatch,
      moved,
      edge,
      (edge === 'in' ? region.fadeIn : region.fadeOut)?.bend ?? 0,
      ROW_HEIGHT - 2 * ROW_PAD - HEM_HEIGHT,
    )
  }
  const targets = snapTargets(session, new Set(moved), getPlayer()?.position() ?? 0, state.range)
  const place = {
    session,
    framesPerPixel: view.framesPerPixel,
    targets,
    show: ground.showSnapped,
    timeScale: state.timeScale,
  }
  if (kind === 'trim-start') return trimGesture(dispatch, place, moved, 'start', region.start)
  if (kind === 'trim-end') return trimGesture(dispatch, place, moved, 'end', regionEnd(region))
  if (event.ctrlKey || event.metaKey) return slipGesture(dispatch, place, moved)
  return moveGesture(dispatch, place, moved, (dy) => rowAt(view, y + dy) - rowAt(view, y), state.travels)
}

/** Adds a knot where a thread was double-clicked: on the line when the line was hit, else at the pointer. */
export function addKnot(
  { dispatch, view }: ThreadGround,
  place: ThreadPlace,
  target: Element,
  x: number,
  y: number,
): void {
  if (target.closest('[data-handle="knot"]')) return
  const frame = xToFrame(view, x)
  if (frame < place.from || frame > place.to) return
  const onLine = target.closest('[data-handle="stretch"]') !== null
  const { knots, index } = insertKnot(
    place.knots,
    Math.round(place.toThread(frame)),
    onLine ? undefined : yToValue(place, y),
    place.kind,
  )
  if (dispatch(commit(shapeThread, { ref: place.ref, knots, what: 'Add knot' })))
    dispatch(knotsSelected({ ref: place.ref, indices: [index] }))
}

/**
 * The same on the timeline: for the thread whose line was hit, else the one under the pointer. Returns
 * whether there is one.
 */
export function addKnotAt(ground: Ground, target: Element, x: number, y: number): boolean {
  const line = target.closest<HTMLElement>('[data-handle="stretch"]')
  const place =
    (line ? ground.places.find((p) => refKey(p.ref) === line.dataset.ref) : placeAt(ground, x, y)) ?? null
  if (place) addKnot(ground, place, target, x, y)
  return place !== null
}
