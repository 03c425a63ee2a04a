import { memo, useLayoutEffect, useMemo, useRef, useState } from 'react'
import { regionRows } from '../../../store/selectors'
import { preparedContext, useAppFields, useObservable } from '../../parts/hooks'
import { runIdleTasks } from '../../parts/rendering/idle-tasks'
import { drawAhead, drawTimeline } from '../drawing/draw-timeline'
import { gainTrial } from '../drawing/gain-trial'
import { RowTiles } from '../drawing/row-tiles'
import { useSeams } from '../parts/watch/seam-watch'
import { usePictures } from '../parts/watch/use-pictures'
import { useCorrelations } from '../parts/watch/use-relations'
import { useSounding } from '../parts/watch/use-sounding'

/** The picture below the handles, redrawn whenever the view, the session or the waveform data changes. */
export const Picture = memo(function Picture() {
  const session = useSounding()
  const rows = useMemo(() => regionRows(session), [session])
  const { pictures, version } = usePictures()
  const { view, selection, range, trackId, timeScale, soundScale, soundFactors, leavesGroups } = useAppFields(
    ({
      navigation: { view, soundFactors },
      selection: { regionIds: selection, range, trackId, leavesGroups },
      preferences: { timeScale, soundScale },
    }) => ({
      view,
      selection,
      range,
      trackId,
      timeScale,
      soundScale,
      soundFactors,
      leavesGroups,
    }),
  )
  const selectedIds = useMemo(() => new Set(selection), [selection])
  const correlations = useCorrelations(session)
  const { clicks } = useSeams()
  const trial = useObservable(gainTrial)
  const canvas = useRef<HTMLCanvasElement>(null)
  const [tiles] = useState(() => new RowTiles())
  const [went] = useState({ top: 0, down: true })
  useLayoutEffect(() => {
    if (!canvas.current || view.width === 0) return
    const ctx = preparedContext(canvas.current, view.width, view.height)
    if (!ctx) return
    const picture = {
      session,
      rows,
      view,
      selection: selectedIds,
      selected: selection,
      leavesGroups,
      range,
      pickedTrack: trackId,
      timeScale,
      correlations,
      clicks,
      trial,
      scale: soundScale,
      factors: soundFactors,
    }
    drawTimeline(ctx, tiles, pictures, picture)
    if (view.top !== went.top) Object.assign(went, { top: view.top, down: view.top > went.top })
    return runIdleTasks((all) => drawAhead(tiles, pictures, picture, went.down, all))
  }, [
    session,
    rows,
    view,
    selectedIds,
    range,
    tiles,
    pictures,
    version,
    trackId,
    timeScale,
    correlations,
    clicks,
    trial,
    soundScale,
    soundFactors,
    selection,
    leavesGroups,
    went,
  ])
  return (
    <canvas
      ref={canvas}
      className="absolute inset-0 block will-change-transform"
      style={{ width: view.width, height: view.height }}
      aria-hidden
    />
  )
})
