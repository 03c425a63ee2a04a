import { insertKnot } from '../../../core/curve/knots'
import { refKey, shapeThread } from '../../../core/edit'
import { commit } from '../../../store/edits'
import { knotsSelected } from '../../../store/view'
import { sayWhyNot } from '../../../store/why-not'
import { xToFrame } from '../drawing/geometry'
import { type ThreadPlace, yToValue } from '../drawing/thread-place'
import { type TimelineContext, placeAt, type GestureContext } from './gesture-context'

/** Adds a knot where a thread was double-clicked: on the line when the line was hit, else at the pointer. */
export function addKnot(
  { dispatch, view }: GestureContext,
  place: ThreadPlace,
  target: Element,
  x: number,
  y: number,
): void {
  if (target.closest('[data-handle="knot"]')) return
  const frame = xToFrame(view, x)
  if (frame < place.from || frame > place.to) return
  if (place.weaves.some((w) => frame >= w.from && frame <= w.to))
    return sayWhyNot('This is a weave: change its values on the bench, or detach it to shape its knots.')
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
export function addKnotAt(context: TimelineContext, target: Element, x: number, y: number): boolean {
  const line = target.closest<HTMLElement>('[data-handle="stretch"], [data-handle="weave"]')
  const place =
    (line ? context.places.find((p) => refKey(p.ref) === line.dataset.ref) : placeAt(context, x, y)) ?? null
  if (place) addKnot(context, place, target, x, y)
  return place !== null
}
