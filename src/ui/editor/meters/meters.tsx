import { useCallback, useEffect, useRef } from 'react'
import { gainToDb } from '../../../core/units/decibel'
import { getPlayer } from '../../../store/playback'
import { pathTrack, shownSession } from '../../../store/selectors'
import { colour, type ColourName } from '../../look/colours'
import { preparedContext, useAppStore, useFrame, useSize } from '../../parts/hooks'
import { METER, ROW_HEIGHT, rowTop, visibleRows } from '../drawing/geometry'

/** Where the meter of a fader lies on a track's head, in pixels. The fader lies over it. */
const PLACE = { x: 16, y: 64 }

/** Two bars, left above right: 60 dB to full scale, in the red of faults beyond it. */
function drawMeter(
  ctx: CanvasRenderingContext2D,
  x: number,
  y: number,
  levels: readonly [left: number, right: number],
  dye: ColourName,
): void {
  levels.forEach((level, c) => {
    ctx.fillStyle = colour('fold')
    ctx.fillRect(x, y + c * 5, METER.width, 4)
    ctx.fillStyle = colour(level > 1 ? 'fault' : dye)
    ctx.fillRect(x, y + c * 5, Math.max(0, Math.min(1, 1 + gainToDb(level) / 60)) * METER.width, 4)
  })
}

/** The levels at a place among the player's meters: 0 the mix, n the track in row n - 1. */
function levelsOf(meters: Float32Array | null, place: number): [left: number, right: number] {
  return [meters?.[place * 2] ?? 0, meters?.[place * 2 + 1] ?? 0]
}

/**
 * The meters of all visible tracks and the mark of the picked one, below the heads of the rail. They share
 * one canvas: one each would be a layer each.
 */
export function TrackMeters() {
  const store = useAppStore()
  const canvas = useRef<HTMLCanvasElement>(null)
  const drawn = useRef<readonly unknown[]>([])
  const { width, height } = useSize(canvas)
  const draw = useCallback(() => {
    const state = store.getState()
    const session = shownSession(state)
    const { view } = state.view
    const picked = pathTrack(state)?.id
    if (!canvas.current || !session) return
    const { first, last } = visibleRows(view, session.trackIds.length)
    const meters = getPlayer()?.meters() ?? null
    const rows = session.trackIds.slice(first, last).map((id, i) => ({
      top: Math.round(rowTop(view, first + i)),
      isPicked: id === picked,
      levels: levelsOf(meters, first + i + 1),
      dye: session.tracks[id]!.colour,
    }))
    const wanted = [
      width,
      height,
      window.devicePixelRatio,
      ...rows.flatMap((r) => [r.top, r.isPicked, r.dye, ...r.levels]),
    ]
    if (wanted.length === drawn.current.length && wanted.every((part, i) => part === drawn.current[i])) return
    drawn.current = wanted
    const ctx = preparedContext(canvas.current, width, height)
    if (!ctx) return
    for (const { top, isPicked, levels, dye } of rows) {
      ctx.fillStyle = colour('linen')
      if (isPicked) ctx.fillRect(0, top, width, ROW_HEIGHT)
      drawMeter(ctx, PLACE.x, top + PLACE.y, levels, dye)
    }
  }, [store, width, height])
  useFrame(draw)
  // With the heads, when they are pushed along.
  useEffect(() => {
    draw()
    return store.subscribe(draw)
  }, [draw, store])
  return <canvas ref={canvas} className="absolute inset-0 block h-full w-full" aria-hidden />
}

/** The meter of the mix, below its fader. */
export function MixMeter({ className }: { className: string }) {
  const canvas = useRef<HTMLCanvasElement>(null)
  const drawn = useRef<readonly number[]>([])
  useFrame(() => {
    const levels = levelsOf(getPlayer()?.meters() ?? null, 0)
    if (!canvas.current || levels.every((level, i) => level === drawn.current[i])) return
    drawn.current = levels
    const ctx = preparedContext(canvas.current, METER.width, METER.height)
    if (ctx) drawMeter(ctx, 0, 0, levels, 'ink')
  })
  return <canvas ref={canvas} className={className} style={METER} aria-hidden />
}
