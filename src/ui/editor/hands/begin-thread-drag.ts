import { rowIds } from '../../../core/model/strips'
import { drawnMessage } from './thinning-message'
import { laneKeysOf, sameRef, shapeThreads, type ShapedThread } from '../../../core/edit'
import { amend, lastStep } from '../../../store/edits'
import type { Dispatch } from '../../../store/store'
import { knotsSelected, selected, weavePicked } from '../../../store/view'
import { toast } from '../../parts/messages/toast'
import { rowHeight, xToFrame } from '../drawing/geometry'
import { freeKnotPlaces, lanePlace, type ThreadPlace } from '../drawing/thread-place'
import { drawGesture, plateauGesture } from './draw-gestures'
import { type Drag, drag } from './gesture'
import { type GestureContext, toolsAt } from './gesture-context'
import {
  bendGesture,
  knotGesture,
  rangeOfKnotsGesture,
  type RangePart,
  stretchGesture,
} from './knot-gestures'
import { knotSweepGesture } from './sweep-gestures'
import type { ThreadTools } from './thread-gesture'
import { weaveFrameGesture, weaveGesture, type WeavePart } from './weave-gestures'

/** With a thread picked, dragging beside it selects knots. */
function sweepKnots(
  { dispatch, state, view, say, showSwept }: GestureContext,
  place: ThreadPlace,
  add: boolean,
  x: number,
  y: number,
): Drag {
  const kept =
    add && state.selection.knots && sameRef(state.selection.knots.ref, place.ref)
      ? state.selection.knots.indices
      : []
  const tools: ThreadTools = {
    dispatch,
    sampleRate: 0,
    say: () => say(null),
    catchFrame: (frame) => frame,
    start: (frame) => frame,
  }
  return drag(
    knotSweepGesture(tools, place, { x, y }, kept, () => freeKnotPlaces(view, place), showSwept),
    () => dispatch(knotsSelected(null)),
  )
}

/**
 * The same lanes of the tracks whose regions are selected along with one of the lane's own track: they are
 * drawn together.
 */
function drawnAlong({ session, state, view }: GestureContext, place: ThreadPlace): ThreadPlace[] {
  const { ref } = place
  if (ref.kind !== 'lane' || ref.trackId === null) return []
  const tracks = new Set(state.selection.regionIds.flatMap((id) => session.regions[id]?.trackId ?? []))
  if (!tracks.has(ref.trackId)) return []
  return [...tracks]
    .filter((id) => id !== ref.trackId && laneKeysOf(session, id).includes(ref.lane))
    .map((id) => lanePlace(session, view, id, ref.lane, 0, rowHeight(view, rowIds(session).indexOf(id))))
}

/** Puts the line with every point in place of the thinned one, as long as that is the last step. */
const keepRaw = (dispatch: Dispatch, threads: readonly ShapedThread[]) => {
  const number = dispatch(lastStep())
  return () => {
    if (dispatch(amend(number, shapeThreads, { threads, what: 'Draw' })) === null)
      toast({ text: 'The line was changed since. Undo goes back to it.' })
  }
}

/** Begins what a press on or beside a thread means: by the hand, and by the knot or stretch under the pointer. */
export function beginThread(
  context: GestureContext,
  place: ThreadPlace,
  grabbed: HTMLElement | null,
  event: PointerEvent,
  x: number,
  y: number,
): Drag {
  const { dispatch, session, state } = context
  const { ref } = place
  const regionId = ref.kind === 'region' ? ref.regionId : null
  if (regionId !== null && !state.selection.regionIds.includes(regionId))
    dispatch(selected({ regionIds: [regionId], trackId: session.regions[regionId]!.trackId }))
  const tools = toolsAt(context, ref, x, y, event)
  const frame = xToFrame(context.view, x)
  const handle =
    state.selection.hand === 'point' &&
    (grabbed?.dataset.handle === 'knot' || grabbed?.dataset.handle === 'stretch')
      ? grabbed
      : null
  if (handle?.dataset.handle === 'knot') {
    const index = Number(handle.dataset.knot)
    const chosen =
      state.selection.knots && sameRef(state.selection.knots.ref, ref) ? state.selection.knots.indices : []
    const toggled = event.shiftKey
      ? chosen.includes(index)
        ? chosen.filter((i) => i !== index)
        : [...chosen, index].sort((a, b) => a - b)
      : chosen.includes(index)
        ? chosen
        : [index]
    dispatch(knotsSelected(toggled.length ? { ref, indices: [...toggled] } : null))
    const moved = new Set(toggled.map((i) => place.knots[i]!.frame))
    return toggled.includes(index)
      ? drag(
          knotGesture(toolsAt(context, ref, x, y, event, moved), place, toggled, index),
          event.shiftKey ? null : () => dispatch(knotsSelected({ ref, indices: [index] })),
        )
      : drag(null)
  }
  const box =
    state.selection.hand === 'point' && grabbed?.dataset.handle === 'knots'
      ? (grabbed.dataset.part as RangePart)
      : null
  if (box && state.selection.knots && sameRef(state.selection.knots.ref, ref))
    return drag(rangeOfKnotsGesture(tools, place, state.selection.knots.indices, box), () =>
      dispatch(knotsSelected(null)),
    )
  const weave =
    state.selection.hand === 'point' && grabbed && ref.kind === 'lane'
      ? grabbed.dataset.handle === 'weave'
        ? place.weaves.find((w) => w.from === Number(grabbed.dataset.from))
        : handle && place.weaves.find((w) => frame >= w.from && frame < w.to)
      : null
  if (weave && ref.kind === 'lane') {
    dispatch(weavePicked({ ref, from: weave.from }))
    return drag(
      weaveFrameGesture(tools, place, weave, (grabbed?.dataset.part as WeavePart | undefined) ?? 'move'),
    )
  }
  if (handle)
    return drag(
      event.ctrlKey || event.metaKey ? bendGesture(tools, place, frame) : stretchGesture(tools, place, frame),
    )
  if (state.selection.hand === 'point' || state.selection.hand === 'range')
    return sweepKnots(context, place, event.shiftKey, x, y)
  if (state.selection.hand === 'draw') {
    return drag(
      drawGesture(
        tools,
        place,
        { frame, x, y },
        state.preferences.thinning,
        ({ drawn: knots, worst }, points, raw) => {
          const thins = state.preferences.thinning !== null && points > 2 && knots < points
          toast({
            text: drawnMessage(
              { knots, worst },
              points,
              state.preferences.thinning !== null,
              place.kind.thinningUnit,
            ),
            stays: thins ? 8000 : 4000,
            ...(thins ? { action: { label: 'Keep raw', run: keepRaw(dispatch, raw()) } } : {}),
          })
        },
        drawnAlong(context, place),
      ),
    )
  }
  if (state.selection.hand === 'weave')
    return drag(weaveGesture(tools, place, { frame, y }, state.preferences.weave, session.tempo))
  return drag(
    plateauGesture(
      tools,
      place,
      frame,
      Math.round((state.preferences.shoulderMs / 1000) * session.sampleRate),
    ),
  )
}
