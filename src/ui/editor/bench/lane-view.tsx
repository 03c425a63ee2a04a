import { rowOf } from '../../../core/model/strips'
import { useCallback, useLayoutEffect, useMemo, useRef } from 'react'
import { threadKind } from '../../../core/curve/knots'
import { regionsOf } from '../../../core/model/queries'
import type { Session } from '../../../core/model/session'
import { crossfadeSides, planRegion } from '../../../core/render'
import type { Scale } from '../../../core/units/scale'
import { getPlayer } from '../../../store/playback/playback'
import type { View } from '../../../store/view'
import {
  preparedContext,
  useAppFields,
  useAppSelector,
  useAppStore,
  useFrame,
  useSize,
} from '../../parts/hooks'
import { placeLine } from '../../parts/rendering/element-offset'
import { usePictures } from '../parts/watch/use-pictures'
import { useSounding } from '../parts/watch/use-sounding'
import { ThreadArea } from '../parts/threads/thread-area'
import { PAD, ThreadAxis } from '../parts/threads/thread-axis'
import { drawGrid } from '../drawing/draw-grid'
import { drawSound } from '../drawing/draw-sound'
import { frameToX, seenAcross, visibleRegions, xToFrame } from '../drawing/geometry'
import { Sheet, useSheet } from '../parts/threads/sheet'
import { newLanePlace } from '../drawing/thread-place'

/**
 * The picture of the sound behind a lane grows in steps of this, in pixels; large pictures take long to show.
 */
const STEP = 768

/** A lane large, on the timeline's own time axis, with grid, range and the sound of its track behind. */
export function LaneView({ trackId, lane, scale }: { trackId: string | null; lane: string; scale: Scale }) {
  const frame = useRef<HTMLDivElement>(null)
  const line = useRef<HTMLDivElement>(null)
  const store = useAppStore()
  const { width, height } = useSize(frame)
  // It lies below the timeline: what is seen there is seen here at the same place.
  const viewOf = useCallback(
    ({ left, framesPerPixel }: View): View => ({ left, framesPerPixel, top: 0, width, height }),
    [width, height],
  )
  const thread = useMemo(() => ({ kind: 'lane' as const, trackId, lane }), [trackId, lane])
  const placeOf = useCallback(
    (session: Session, view: View) => {
      const place = newLanePlace(session, view, thread, 0)
      return place && { ...place, tag: undefined, box: { ...place.box, y: PAD, height: height - 2 * PAD } }
    },
    [thread, height],
  )
  const axis = useMemo(
    () => ({
      kind: threadKind(scale),
      box: { x: 0, y: PAD, width, height: height - 2 * PAD },
    }),
    [scale, width, height],
  )

  useFrame(() => {
    const x = frameToX(viewOf(store.getState().navigation.view), getPlayer()?.position() ?? 0)
    placeLine(line.current, x, x >= 0 && x <= width)
  })

  return (
    <div ref={frame} className="absolute inset-0 overflow-hidden">
      {width > 60 && height > 40 && (
        <>
          <div className="absolute inset-0 overflow-clip">
            <Ground trackId={trackId} viewOf={viewOf} height={height} />
          </div>
          <MarkedRange viewOf={viewOf} />
          <ThreadAxis place={axis} width={width} height={height} inside />
          <div className="absolute inset-0">
            <ThreadArea
              thread={thread}
              viewOf={viewOf}
              placeOf={placeOf}
              label="Close-up of the thread"
              testId="bench-thread"
            />
          </div>
        </>
      )}
      <div
        ref={line}
        className="pointer-events-none absolute inset-y-2 left-0 w-px bg-ink will-change-transform"
        aria-hidden
      />
    </div>
  )
}

/** The marked range, as the timeline shows it. */
function MarkedRange({ viewOf }: { viewOf(shown: View): View }) {
  const { view, range } = useAppFields(({ navigation: { view }, selection: { range } }) => ({ view, range }))
  if (!range) return null
  const shown = viewOf(view)
  const [from, to] = [frameToX(shown, range.from), frameToX(shown, range.to)]
  return (
    <div
      className="pointer-events-none absolute inset-y-0 bg-oak/12"
      style={{
        left: Math.max(-2, from),
        width: Math.max(0, Math.min(shown.width + 2, to) - Math.max(-2, from)),
      }}
    />
  )
}

/** The grid, and what is heard of a track's regions, faintly: the lane itself lies above. */
function Ground({
  trackId,
  viewOf,
  height,
}: {
  /** null for the mix, which has no regions. */
  trackId: string | null
  viewOf(shown: View): View
  height: number
}) {
  const canvas = useRef<HTMLCanvasElement>(null)
  const { pictures, version } = usePictures()
  const session = useSounding()
  const sheet = useSheet(viewOf, 0, STEP)
  const x0 = seenAcross(sheet).from
  const scale = useAppSelector((s) => s.preferences.timeScale)
  useLayoutEffect(() => {
    const ctx = canvas.current && preparedContext(canvas.current, sheet.width, height)
    if (!ctx) return
    const view = { ...sheet, left: xToFrame(sheet, x0), x0: 0 }
    drawGrid(ctx, session, { ...view, height }, scale)
    if (trackId === null) return
    const regions = regionsOf(session, trackId)
    const seen = visibleRegions(regions, view)
    const sides = crossfadeSides(session)
    ctx.globalAlpha = 0.45
    for (const region of regions.slice(seen.first, seen.last)) {
      const box = {
        x: frameToX(view, region.start),
        y: PAD,
        width: region.length / sheet.framesPerPixel,
        height: height - 2 * PAD,
      }
      drawSound(ctx, pictures, {
        plan: planRegion(session, region, sides.get(region.id)),
        source: session.sources[region.sourceId]!,
        box,
        width: sheet.width,
        framesPerPixel: sheet.framesPerPixel,
        dye: region.colour ?? rowOf(session, trackId)!.colour,
      })
    }
    ctx.globalAlpha = 1
  }, [session, trackId, sheet, x0, height, pictures, version, scale])
  return (
    <Sheet sheet={sheet} viewOf={viewOf}>
      <canvas
        ref={canvas}
        className="absolute top-0 block max-w-none"
        style={{ left: x0, width: sheet.width, height }}
        aria-hidden
      />
    </Sheet>
  )
}
