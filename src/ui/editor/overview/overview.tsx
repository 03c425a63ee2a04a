import { clamp } from '../../../core/units/clamp'
import { rowIds } from '../../../core/model/strips'
import { useDrag } from '@use-gesture/react'
import { memo, useLayoutEffect, useMemo, useRef, useState } from 'react'
import { sessionLength } from '../../../core/model/queries'
import type { Session } from '../../../core/model/session'
import { viewChanged } from '../../../store/view'
import { colour, faded } from '../../look/colours'
import { write } from '../../look/writing'
import { preparedContext, useAppDispatch, useAppSelector, useFrame, useSize } from '../../parts/hooks'
import { setOffsetX, placeLine } from '../../parts/rendering/element-offset'
import { useLoudnessCourse, useOverloads } from '../parts/watch/overload-watch'
import { keptTarget } from '../../export/export-settings'
import { knownShare, shortTermOf } from './short-term'
import { levelsOf, type RegionPowers } from './level-lines'
import { usePictures } from '../parts/watch/use-pictures'
import { boundedView } from '../drawing/geometry'
import { getPlayer } from '../../../store/playback/playback'

const HEIGHT = 44
/** The lowest level shown, in dBFS. */
const FLOOR_DB = -54

/** The level of the whole session over its length, with a window that moves and zooms the view. */
export const Overview = memo(function Overview({ session }: { session: Session }) {
  const box = useRef<HTMLDivElement>(null)
  const canvas = useRef<HTMLCanvasElement>(null)
  const frame = useRef<HTMLDivElement>(null)
  const dispatch = useAppDispatch()
  const { width } = useSize(box)
  const { pictures, version } = usePictures()
  const view = useAppSelector((s) => s.navigation.view)
  // While a gesture goes on, the picture is that of before; it is made anew when the hand lets go.
  const settled = useAppSelector((s) => s.session.base) ?? session
  const overloads = useOverloads()
  const course = useLoudnessCourse()
  // What files are to keep is chosen on the export page.
  const [target] = useState(keptTarget)
  const length = sessionLength(session)
  const span = Math.max(1, length * 1.01)

  // The loudness comes bit by bit; the levels below it stay.
  // `version` is listed because pictures become finer.
  // eslint-disable-next-line react-hooks/exhaustive-deps
  const powers = useMemo((): RegionPowers => new WeakMap(), [pictures, version, width, span])
  const levels = useMemo(
    () => levelsOf(settled, pictures, Math.floor(width), span / Math.max(1, width), powers),
    [settled, pictures, width, span, powers],
  )
  const known = useMemo(() => (course ? knownShare(course) : 0), [course])
  const words = !course
    ? 'level of the whole session'
    : known === 1
      ? 'level, and as a line short-term loudness'
      : `level, and as a line short-term loudness, ${Math.floor(known * 100)} % measured`
  useLayoutEffect(() => {
    const ctx = canvas.current && width ? preparedContext(canvas.current, width, HEIGHT) : null
    if (!ctx) return
    drawOverview(ctx, levels, width)
    if (course) drawLoudness(ctx, shortTermOf(course, Math.floor(width), span / width / settled.sampleRate))
    if (target) drawTarget(ctx, target.loudness, width)
    write(ctx, words, width - 8, 9, { face: 'words', size: 10.5, dye: 'soft' }, 'right')
  }, [levels, settled.sampleRate, width, span, course, target, words])

  const rows = rowIds(session).length
  const left = (view.left / span) * width
  const size = clamp(((view.width * view.framesPerPixel) / span) * width, 6, width - left)
  useLayoutEffect(() => {
    if (frame.current) setOffsetX(frame.current, left)
  })
  const bind = useDrag<PointerEvent>(
    ({ first, movement: [dx], event, memo }) => {
      if (first) {
        const edge = (event.target as HTMLElement).dataset.edge
        const x = event.clientX - box.current!.getBoundingClientRect().left
        const inside = x >= left && x <= left + size
        const start = inside || edge ? view : { ...view, left: ((x - size / 2) / width) * span }
        dispatch(viewChanged(boundedView(start, length, rows)))
        return { edge, start }
      }
      const { edge, start } = memo as { edge?: string; start: typeof view }
      const moved = (dx / width) * span
      if (!edge) dispatch(viewChanged(boundedView({ ...start, left: start.left + moved }, length, rows)))
      else {
        const frames = start.width * start.framesPerPixel
        const from = edge === 'from' ? Math.min(start.left + moved, start.left + frames - 100) : start.left
        const to =
          edge === 'to' ? Math.max(start.left + frames + moved, start.left + 100) : start.left + frames
        dispatch(
          viewChanged(
            boundedView(
              { ...start, left: Math.max(0, from), framesPerPixel: (to - Math.max(0, from)) / start.width },
              length,
              rows,
            ),
          ),
        )
      }
      return memo as unknown
    },
    { pointer: { keys: false } },
  )

  return (
    <div
      ref={box}
      {...bind()}
      aria-label="Overview of the whole session"
      aria-description={words}
      role="group"
      className="apart relative shrink-0 touch-none overflow-hidden border-b border-seam bg-linen [@media(max-height:520px)]:hidden"
      style={{ height: HEIGHT }}
    >
      <canvas ref={canvas} className="block" style={{ width, height: HEIGHT }} />
      {length > 0 && (
        <div
          ref={frame}
          className="absolute inset-y-0.5 left-0 cursor-grab rounded-md border-[1.5px] border-ink bg-white/30 will-change-transform"
          style={{ width: size }}
        >
          <span data-edge="from" className="absolute inset-y-0 -left-1.5 w-3 cursor-ew-resize" />
          <span data-edge="to" className="absolute inset-y-0 -right-1.5 w-3 cursor-ew-resize" />
        </div>
      )}
      <svg className="pointer-events-none absolute inset-0" width={width} height={HEIGHT} aria-hidden>
        {overloads.map((o) => (
          <path
            key={`${o.trackId} ${o.from}`}
            d={`M${(o.from / span) * width - 4} 2h8l-4 7z`}
            fill="var(--color-fault)"
          />
        ))}
      </svg>
      <OverviewPlayhead span={span} width={width} />
    </div>
  )
})

function OverviewPlayhead({ span, width }: { span: number; width: number }) {
  const line = useRef<HTMLDivElement>(null)
  useFrame(() => {
    placeLine(line.current, ((getPlayer()?.position() ?? 0) / span) * width, true)
  })
  return (
    <div
      ref={line}
      className="pointer-events-none absolute inset-y-0 left-0 w-px bg-ink will-change-transform"
      aria-hidden
    />
  )
}

function drawOverview(ctx: CanvasRenderingContext2D, levels: Float64Array, width: number): void {
  ctx.beginPath()
  ctx.moveTo(0, HEIGHT)
  levels.forEach((db, x) => ctx.lineTo(x, toY(db)))
  ctx.lineTo(width, HEIGHT)
  ctx.fillStyle = faded('soft', 0.42)
  ctx.fill()
}

const toY = (db: number) => HEIGHT - clamp(1 - db / FLOOR_DB, 0, 1) * (HEIGHT - 4)

/** Short-term loudness as a line, on the scale of the levels; with gaps where it is not known. */
function drawLoudness(ctx: CanvasRenderingContext2D, loudness: Float64Array): void {
  ctx.beginPath()
  let open = false
  loudness.forEach((lufs, x) => {
    if (Number.isNaN(lufs)) open = false
    else if (open) ctx.lineTo(x, toY(lufs))
    else {
      ctx.moveTo(x, toY(lufs))
      open = true
    }
  })
  ctx.strokeStyle = colour('walnut')
  ctx.lineWidth = 1.25
  ctx.stroke()
}

/** The loudness that files are to have. */
function drawTarget(ctx: CanvasRenderingContext2D, lufs: number, width: number): void {
  ctx.strokeStyle = colour('madder')
  ctx.lineWidth = 1
  ctx.setLineDash([6, 4])
  ctx.beginPath()
  ctx.moveTo(0, Math.round(toY(lufs)) + 0.5)
  ctx.lineTo(width, Math.round(toY(lufs)) + 0.5)
  ctx.stroke()
  ctx.setLineDash([])
}
