import { useCallback, useLayoutEffect, useMemo, useRef } from 'react'
import { gainKind } from '../../../core/curve/knots'
import type { Region, Session } from '../../../core/model/session'
import { crossfadeSides, planRegion, REDUCTION_STEP } from '../../../core/render'
import { dbToGain } from '../../../core/units/decibel'
import { getPlayer } from '../../../store/playback/playback'
import { shownSession } from '../../../store/selectors'
import type { View } from '../../../store/view'
import { faded } from '../../look/colours'
import { write, type Style } from '../../look/writing'
import { preparedContext, useAppSelector, useFrame, useSize } from '../../parts/hooks'
import { placeLine } from '../../parts/rendering/element-offset'
import { ThreadArea } from '../parts/threads/thread-area'
import { AXIS, PAD, ThreadAxis } from '../parts/threads/thread-axis'
import { reductionWords, type Reductions } from '../parts/inserts/use-reductions'
import { usePictures } from '../parts/watch/use-pictures'
import { drawFade } from '../drawing/draw-region'
import { drawSound } from '../drawing/draw-sound'
import { frameToX } from '../drawing/geometry'
import { regionPlace } from '../drawing/thread-place'

const FIGURES: Style = { face: 'figures', size: 10.5, dye: 'soft' }
const MARKS = [0, -6, -12, -24]

/** A region in full width, as it leaves its gain stages, with an axis in dBFS. */
export function RegionView({
  regionId,
  threaded,
  reductions = null,
}: {
  regionId: string
  threaded: boolean
  /** What the track's inserts turn it down by. */
  reductions?: Reductions | null
}) {
  const session = useAppSelector(shownSession)
  const region = session?.regions[regionId]
  return (
    session &&
    region && <RegionPicture session={session} region={region} threaded={threaded} reductions={reductions} />
  )
}

function RegionPicture({
  session,
  region,
  threaded,
  reductions,
}: {
  session: Session
  region: Region
  threaded: boolean
  reductions: Reductions | null
}) {
  const frame = useRef<HTMLDivElement>(null)
  const canvas = useRef<HTMLCanvasElement>(null)
  const line = useRef<HTMLDivElement>(null)
  const { width, height } = useSize(frame)
  const { pictures, version } = usePictures()
  const inner = Math.max(1, width - AXIS - PAD)
  const framesPerPixel = region.length / inner
  const viewOf = useCallback(
    (): View => ({ left: region.start, framesPerPixel, top: 0, width: inner, height }),
    [region.start, framesPerPixel, inner, height],
  )
  const thread = useMemo(() => ({ kind: 'region' as const, regionId: region.id }), [region.id])
  const placeOf = useCallback(
    (session: Session, view: View) => {
      const own = session.regions[thread.regionId]
      return own
        ? {
            ...regionPlace(session, view, own, 0),
            box: { x: frameToX(view, own.start), y: PAD, width: inner, height: height - 2 * PAD },
          }
        : null
    },
    [thread, inner, height],
  )
  const axis = useMemo(
    () => ({ kind: gainKind(), box: { x: AXIS, y: PAD, width: inner, height: height - 2 * PAD } }),
    [inner, height],
  )

  useLayoutEffect(() => {
    const ctx =
      canvas.current && width > 60 && height > 40 ? preparedContext(canvas.current, width, height) : null
    if (!ctx) return
    const source = session.sources[region.sourceId]!
    const dye = session.tracks[region.trackId]!.colour
    const box = { x: AXIS, y: PAD, width: inner, height: height - 2 * PAD }
    if (!threaded) drawAxis(ctx, box, source.channels)
    ctx.fillStyle = faded(dye, 0.08)
    ctx.fillRect(box.x, box.y, box.width, box.height)
    drawSound(ctx, pictures, {
      plan: planRegion(session, region, crossfadeSides(session).get(region.id)),
      source,
      box,
      width: AXIS + inner,
      framesPerPixel,
      dye,
    })
    if (region.fadeIn) drawFade(ctx, { framesPerPixel }, box, region.fadeIn, 'in')
    if (region.fadeOut) drawFade(ctx, { framesPerPixel }, box, region.fadeOut, 'out')
    if (reductions?.before) drawReduction(ctx, box, framesPerPixel, reductions.before, 0.35)
    if (reductions) drawReduction(ctx, box, framesPerPixel, reductions.now, 1)
  }, [session, region, pictures, version, width, height, inner, framesPerPixel, threaded, reductions])

  useFrame(() => {
    const position = getPlayer()?.position() ?? 0
    const x = AXIS + (position - region.start) / framesPerPixel
    placeLine(line.current, x, x >= AXIS && x <= AXIS + inner)
  })

  return (
    <div ref={frame} className="absolute inset-0 overflow-hidden">
      <canvas
        ref={canvas}
        className="block"
        style={{ width, height }}
        role="img"
        aria-label={`The sound of ${region.name} after clip gain and fades`}
      />
      {reductions && (
        <p
          role="status"
          title="By the compressing inserts of its track; pale is what it was before the last change"
          className="pointer-events-none absolute bottom-3 left-16 rounded-md bg-linen/85 px-1.5 text-xs text-madder"
        >
          {reductionWords(reductions)}
        </p>
      )}
      {threaded && width > 60 && height > 40 && (
        <>
          <ThreadAxis place={axis} width={width} height={height} />
          <div className="absolute inset-y-0" style={{ left: AXIS, width: inner }}>
            <ThreadArea
              thread={thread}
              viewOf={viewOf}
              placeOf={placeOf}
              overhang
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

/** Reductions are drawn from the top down, so many dB over the whole height. */
const REDUCTION_RANGE = 30

/** What inserts turn a region down by, from the top; pale what it was before. */
function drawReduction(
  ctx: CanvasRenderingContext2D,
  box: { x: number; y: number; width: number; height: number },
  framesPerPixel: number,
  db: Float32Array,
  opacity: number,
): void {
  if (db.every((value) => value < 0.05)) return
  ctx.beginPath()
  db.forEach((value, i) => {
    const x = Math.min(box.x + box.width, box.x + ((i + 0.5) * REDUCTION_STEP) / framesPerPixel)
    const y = box.y + Math.min(1, value / REDUCTION_RANGE) * box.height
    if (i) ctx.lineTo(x, y)
    else ctx.moveTo(x, y)
  })
  ctx.strokeStyle = faded('madder', opacity)
  ctx.lineWidth = 1.5
  ctx.stroke()
}

function drawAxis(
  ctx: CanvasRenderingContext2D,
  place: { x: number; y: number; width: number; height: number },
  channels: number,
): void {
  const height = place.height / channels
  for (let c = 0; c < channels; c++) {
    const middle = place.y + height * (c + 0.5)
    const half = height / 2 - 1
    let lastY = -Infinity
    for (const db of MARKS)
      for (const side of [-1, 1]) {
        const y = middle + side * dbToGain(db) * half
        ctx.fillStyle = faded('seam', 0.6)
        ctx.fillRect(place.x, Math.round(y), place.width, 1)
        if (side === 1 || y - lastY < 11) continue
        lastY = y
        write(ctx, db === 0 ? '0 dB' : `−${-db}`, place.x - 6, Math.max(6, y), FIGURES, 'right')
      }
    ctx.fillStyle = faded('seam', 0.9)
    ctx.fillRect(place.x, Math.round(middle), place.width, 1)
    if (middle - lastY > 11) write(ctx, '−∞', place.x - 6, middle, FIGURES, 'right')
  }
}
