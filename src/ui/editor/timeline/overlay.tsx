import { regionEnd } from '../../../core/model/queries'
import type { Region, Session } from '../../../core/model/session'
import { type View } from '../../../store/view'
import { FAR, regionBox, visibleRegions } from '../drawing/geometry'
import { HANDLE_WIDTH, RegionHandles } from './region-handles'

/**
 * With more regions in a row, only the one under the pointer or the focus, and a few selected ones, have all
 * their handles.
 */
const CROWD = 16

const FEW = 30

/**
 * What can be grabbed and focused above the picture of a row: regions, their hems and fade handles. Drags are
 * the timeline's.
 */
export function Overlay({
  session,
  regions,
  row,
  view,
  selection,
}: {
  session: Session
  regions: readonly Region[]
  row: number
  view: View
  selection: ReadonlySet<string>
}) {
  const { first, last } = visibleRegions(regions, view)
  const crowded = last - first > CROWD
  return regions.slice(first, last).map((region, i) => {
    const box = regionBox(view, region, row)
    const left = Math.max(-FAR, box.x)
    const right = Math.min(FAR, box.x + box.width)
    const [before, after] = [regions[first + i - 1], regions[first + i + 1]]
    return (
      <RegionHandles
        key={region.id}
        region={region}
        beat={(60 / session.tempo[0]!.bpm) * session.sampleRate}
        rate={session.sampleRate}
        trackName={session.tracks[region.trackId]!.name}
        selected={selection.has(region.id)}
        left={left}
        top={box.y}
        width={right - left}
        height={box.height}
        wide={box.width >= HANDLE_WIDTH}
        complete={!crowded || (selection.size <= FEW && selection.has(region.id))}
        crossedIn={before ? Math.max(0, regionEnd(before) - region.start) / view.framesPerPixel : 0}
        crossedOut={after ? Math.max(0, regionEnd(region) - after.start) / view.framesPerPixel : 0}
        framesPerPixel={view.framesPerPixel}
        boxX={box.x - left}
        fadeInX={box.x - left + (region.fadeIn?.length ?? 0) / view.framesPerPixel}
        fadeOutX={box.x + box.width - left - (region.fadeOut?.length ?? 0) / view.framesPerPixel}
      />
    )
  })
}
