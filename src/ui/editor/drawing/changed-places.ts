import type { ChangedPlace } from '../../../core/edit'
import type { View } from '../../../store/view'
import { rowHeight, rowTop, xToFrame } from './geometry'

/** Where in the width a place begins that is brought into view, as a fraction. */
const FROM_LEFT = 0.15

const seenAlong = (view: View, { span }: ChangedPlace) =>
  span === null || (span.from < xToFrame(view, view.width) && span.to >= view.left)

function seenDown(view: View, trackIds: readonly string[], { trackId }: ChangedPlace): boolean {
  // The mix has a place of its own, which is always seen.
  if (trackId === null) return true
  const row = trackIds.indexOf(trackId)
  const top = rowTop(view, row)
  const half = rowHeight(view, row) / 2
  return top >= -half && top + half <= view.height
}

/** The places that may be seen in a view. */
export const placesInView = (
  view: View,
  trackIds: readonly string[],
  places: readonly ChangedPlace[],
): ChangedPlace[] => places.filter((place) => seenAlong(view, place) && seenDown(view, trackIds, place))

/**
 * A view in which one of the places is seen: the same where any is already, else scrolled to the first, at the same
 * zoom. What lies on tracks that are gone is left out.
 */
export function viewOfPlaces(view: View, trackIds: readonly string[], places: readonly ChangedPlace[]): View {
  const there = places.filter(({ trackId }) => trackId === null || trackIds.includes(trackId))
  const [first] = there
  if (!first || placesInView(view, trackIds, there).length > 0) return view
  const left =
    first.span && !seenAlong(view, first)
      ? Math.max(0, first.span.from - view.width * view.framesPerPixel * FROM_LEFT)
      : view.left
  const row = trackIds.indexOf(first.trackId ?? '')
  const top = seenDown(view, trackIds, first)
    ? view.top
    : rowTop({ ...view, top: 0 }, row) - (view.height - rowHeight(view, row)) / 2
  return { ...view, left, top: Math.max(0, top) }
}
