import { useLayoutEffect, useMemo, useRef } from 'react'
import type { Region, Session } from '../../core/model/session'
import { crossfadeSides, planRegion } from '../../core/render'
import { dbToGain } from '../../core/units/decibel'
import { getPlayer } from '../../store/playback'
import type { View } from '../../store/view-slice'
import { colour, faded } from '../look/colours'
import { preparedContext, useFrame, useSize } from '../parts/hooks'
import { placeLine } from '../parts/move'
import { ThreadArea } from './thread-area'
import { usePictures } from './pictures'
import { drawFade } from './timeline/draw-region'
import { drawSound } from './timeline/draw-sound'
import { regionPlace } from './timeline/thread-place'

/** Room for the axis on the left and around the sound. */
const AXIS = 44
const PAD = 10
const MARKS = [0, -6, -12, -24]

/** A region in full width, as it leaves its gain stages, with an axis in dBFS. */
export function BenchPicture({ session, region, threaded }: { session: Session; region: Region; threaded: boolean }) {
  const frame = useRef<HTMLDivElement>(null)
  const canvas = useRef<HTMLCanvasElement>(null)
  const line = useRef<HTMLDivElement>(null)
  const { width, height } = useSize(frame)
  const { pictures, version } = usePictures()
  const inner = Math.max(1, width - AXIS - PAD)
  const framesPerPixel = region.length / inner
  const view: View = useMemo(() => ({ left: region.start - AXIS * framesPerPixel, framesPerPixel, top: 0, width, height }), [region.start, framesPerPixel, width, height])
  const place = useMemo(() => ({ ...regionPlace(session, view, region, 0), box: { x: AXIS, y: PAD, width: inner, height: height - 2 * PAD } }), [session, view, region, inner, height])

  useLayoutEffect(() => {
    const ctx = canvas.current && width > 60 && height > 40 ? preparedContext(canvas.current, width, height) : null
    if (!ctx) return
    const source = session.sources[region.sourceId]!
    const dye = session.tracks[region.trackId]!.colour
    const box = { x: AXIS, y: PAD, width: inner, height: height - 2 * PAD }
    if (!threaded) drawAxis(ctx, box, source.channels)
    ctx.fillStyle = faded(dye, 0.08)
    ctx.fillRect(box.x, box.y, box.width, box.height)
    drawSound(ctx, pictures, { plan: planRegion(session, region, crossfadeSides(session).get(region.id)), source, box, width: AXIS + inner, framesPerPixel, dye })
    if (region.fadeIn) drawFade(ctx, { framesPerPixel }, box, region.fadeIn, 'in')
    if (region.fadeOut) drawFade(ctx, { framesPerPixel }, box, region.fadeOut, 'out')
  }, [session, region, pictures, version, width, height, inner, framesPerPixel, threaded])

  useFrame(() => {
    const position = getPlayer()?.position() ?? 0
    const x = AXIS + (position - region.start) / framesPerPixel
    placeLine(line.current, x, x >= AXIS && x <= AXIS + inner)
  })

  return (
    <div ref={frame} className="absolute inset-0 overflow-hidden">
      <canvas ref={canvas} className="block" style={{ width, height }} role="img" aria-label={`The sound of ${region.name} after clip gain and fades`} />
      {threaded && width > 60 && height > 40 && <ThreadArea session={session} view={view} place={place} axis={AXIS} label="Close-up of the thread" testId="bench-thread" />}
      <div ref={line} className="pointer-events-none absolute inset-y-2 left-0 w-px bg-ink will-change-transform" aria-hidden />
    </div>
  )
}

function drawAxis(ctx: CanvasRenderingContext2D, place: { x: number; y: number; width: number; height: number }, channels: number): void {
  ctx.font = '10.5px "Atkinson Hyperlegible Mono Variable", monospace'
  ctx.textAlign = 'right'
  ctx.textBaseline = 'middle'
  const height = place.height / channels
  for (let c = 0; c < channels; c++) {
    const middle = place.y + height * (c + 0.5)
    const half = height / 2 - 1
    let lastY = -Infinity
    for (const db of MARKS) for (const side of [-1, 1]) {
      const y = middle + side * dbToGain(db) * half
      ctx.fillStyle = faded('seam', 0.6)
      ctx.fillRect(place.x, Math.round(y), place.width, 1)
      if (side === 1 || y - lastY < 11) continue
      lastY = y
      ctx.fillStyle = colour('soft')
      ctx.fillText(db === 0 ? '0 dB' : `−${-db}`, place.x - 6, Math.max(6, y))
    }
    ctx.fillStyle = faded('seam', 0.9)
    ctx.fillRect(place.x, Math.round(middle), place.width, 1)
    if (middle - lastY > 11) {
      ctx.fillStyle = colour('soft')
      ctx.fillText('−∞', place.x - 6, middle)
    }
  }
}
