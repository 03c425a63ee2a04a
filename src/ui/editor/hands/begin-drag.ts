import { rowIds } from '../../../core/model/strips'
import { refKey } from '../../../core/edit'
import { selected } from '../../../store/view'
import { overLanes, regionAt, rowAt, xToFrame } from '../drawing/geometry'
import { regionGesture } from './begin-region-drag'
import { beginThread } from './begin-thread-drag'
import { joinGesture, slideGesture } from './fade-gestures'
import { type Drag, drag } from './gesture'
import { sayWhyNot } from '../../../store/why-not'
import { catchTimes, type TimelineContext, pickLane, placeAt } from './gesture-context'
import { rangeGesture, sweepGesture } from './sweep-gestures'

/** Begins what a press at a place means: by the hand, the handle under the pointer, and the picked bead. */
export function beginDrag(context: TimelineContext, event: PointerEvent, x: number, y: number): Drag {
  const { dispatch, session, rows, view, places } = context
  const { hand, regionIds: selection, range } = context.state.selection
  const handle = (event.target as Element).closest<HTMLElement>('[data-handle]')
  const kind = handle?.dataset.handle
  const row = rowAt(view, y)
  const track = rowIds(session)[row]
  if (hand === 'range')
    return drag(rangeGesture(dispatch, view, x, range, catchTimes(context, context.lanes)))
  const onThread = kind === 'knot' || kind === 'stretch' || kind === 'knots' || kind === 'weave'
  if (hand === 'plateau' || hand === 'draw' || hand === 'weave' || onThread) {
    const place = onThread
      ? places.find((p) => refKey(p.ref) === handle!.dataset.ref)
      : placeAt(context, x, y)
    if (!place) {
      sayWhyNot('There is nothing to shape here. Sweep over a region, or over a lane that is shown.')
      return drag(null)
    }
    pickLane(context, place)
    return beginThread(context, place, handle, event, x, y)
  }
  if (kind === 'join') {
    const { left, right } = handle!.dataset
    return drag(
      joinGesture(dispatch, session, { leftId: left!, rightId: right! }, view.framesPerPixel, (text) =>
        context.say(text === null ? null : { x, y, text }),
      ),
      () => handle!.focus(),
    )
  }
  if (kind === 'crossfade')
    return drag(slideGesture(dispatch, handle!.dataset.crossfade!, view.framesPerPixel))
  // With a lane picked, dragging beside it selects its knots.
  const under = handle ? null : placeAt(context, x, y)
  const lane = under?.ref.kind === 'lane' ? under : null
  if (lane && track) {
    pickLane(context, lane)
    return beginThread(context, lane, null, event, x, y)
  }
  const region = handle?.dataset.region
    ? session.regions[handle.dataset.region]!
    : rows[row] && !overLanes(view, y)
      ? regionAt(rows[row], xToFrame(view, x))
      : null
  if (!region) {
    const kept = event.shiftKey ? selection : []
    if (!event.shiftKey) dispatch(selected({ regionIds: [], ...(track ? { trackId: track } : {}) }))
    return drag(sweepGesture(dispatch, { view, rows, start: { x, y }, kept, show: context.showSwept }))
  }
  const isSelected = selection.includes(region.id)
  if (event.shiftKey && !handle) {
    // Pressed and moved it moves with the others, off the grid; only pressed it is added, or taken away.
    const together = isSelected ? selection : [...selection, region.id]
    return drag(regionGesture(context, kind, region, together, x, y, event), () => {
      const regionIds = isSelected ? selection.filter((id) => id !== region.id) : together
      dispatch(selected({ regionIds, trackId: region.trackId }))
    })
  }
  if (!isSelected) dispatch(selected({ regionIds: [region.id], trackId: region.trackId }))
  if (kind === 'alone') return drag(null)
  const place = handle
    ? undefined
    : places.find((p) => p.ref.kind === 'region' && p.ref.regionId === region.id)
  if (place) return beginThread(context, place, null, event, x, y)
  const moved = isSelected ? selection : [region.id]
  const click = handle ? null : () => dispatch(selected({ regionIds: [region.id], trackId: region.trackId }))
  return drag(regionGesture(context, kind, region, moved, x, y, event), click)
}
