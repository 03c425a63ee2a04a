import { rowIds } from '../../../core/model/strips'
import type { Session } from '../../../core/model/session'
import { LANE_HEIGHT, laneHeightSet } from '../../../store/view'
import { HeightHandle } from '../../parts/height-handle'
import { useAppDispatch, useAppFields } from '../../parts/hooks'
import { rowHeight, rowTop, visibleRows } from '../drawing/geometry'
import { lanesBelow } from '../drawing/open-lanes'

/** The lower edges of opened lanes: dragged anywhere along, a lane gets another height. The rail has them for keys. */
export function LaneEdges({ session }: { session: Session }) {
  const dispatch = useAppDispatch()
  const { view, openLanes } = useAppFields(({ navigation: { view, openLanes } }) => ({ view, openLanes }))
  if (openLanes.length === 0) return null
  const { first, last } = visibleRows(view, rowIds(session).length)
  return rowIds(session)
    .slice(first, last)
    .flatMap((trackId, i) => {
      let bottom = rowTop(view, first + i) + rowHeight(view, first + i)
      return lanesBelow(session, trackId, openLanes).map((open) => {
        bottom += open.height
        return (
          <div
            key={`${trackId} ${open.lane}`}
            className="absolute inset-x-0 h-0"
            style={{ top: bottom }}
            // The timeline's own gestures do not begin here.
            onPointerDown={(event) => event.stopPropagation()}
          >
            <HeightHandle
              height={open.height}
              limits={LANE_HEIGHT}
              edge="bottom"
              onHeight={(height) => dispatch(laneHeightSet({ ...open, height }))}
            />
          </div>
        )
      })
    })
}
