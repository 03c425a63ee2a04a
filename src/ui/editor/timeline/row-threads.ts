import { rowIds } from '../../../core/model/strips'
import type { Region, Session } from '../../../core/model/session'
import { type Bead, lanesAt } from '../../../store/beads'
import type { OpenLane, View } from '../../../store/view'
import { rowHeight, rowTop, visibleRegions } from '../drawing/geometry'
import { lanesBelow } from '../drawing/open-lanes'
import { lanePlace, regionPlace, type ThreadPlace } from '../drawing/thread-place'

/** The threads of a row: those that the picked bead shows over its regions, and the lanes that are opened below. */
export function threadPlaces(
  session: Session,
  regions: readonly Region[],
  row: number,
  view: View,
  bead: Bead,
  openLanes: readonly OpenLane[],
): ThreadPlace[] {
  const places: ThreadPlace[] = []
  const trackId = rowIds(session)[row]!
  const top = rowTop(view, row)
  const lanes = lanesBelow(session, trackId, openLanes)
  const height = rowHeight(view, row)
  let y = top + height
  for (const opened of lanes) {
    places.push(lanePlace(session, view, trackId, opened.lane, y, opened.height, true))
    y += opened.height
  }
  if (bead === 'gain-thread') {
    const seen = visibleRegions(regions, view)
    for (const region of regions.slice(seen.first, seen.last))
      if (region.length / view.framesPerPixel >= 4) places.push(regionPlace(session, view, region, row))
  } else
    for (const lane of lanesAt(session, trackId, bead))
      if (!lanes.some((o) => o.lane === lane))
        places.push(lanePlace(session, view, trackId, lane, top, height))
  return places
}

/** The same of all rows from one to before another. */
export const threadPlacesOf = (
  session: Session,
  rows: readonly (readonly Region[])[],
  { first, last }: { first: number; last: number },
  view: View,
  bead: Bead,
  openLanes: readonly OpenLane[],
) =>
  rows
    .slice(first, last)
    .flatMap((regions, i) => threadPlaces(session, regions, first + i, view, bead, openLanes))
