import { useRef } from 'react'
import { preparedContext, useFrame, useSize } from '../../parts/hooks'

/** A canvas that fills its place and is drawn with every frame of the screen; `label` says in words what it shows. */
export function LiveCanvas({
  label,
  draw,
  className = 'absolute inset-0',
  everyMs = 0,
  turn = 0,
}: {
  label: string
  /** Draws in CSS pixels; the canvas is empty. */
  draw(ctx: CanvasRenderingContext2D, width: number, height: number): void
  className?: string
  /** Least time between two drawings, in milliseconds. */
  everyMs?: number
  /** At which part of that time it is drawn, 0…1: those of different turns are not drawn with the same frame. */
  turn?: number
}) {
  const drawn = useRef(0)
  const place = useRef<HTMLDivElement>(null)
  const canvas = useRef<HTMLCanvasElement>(null)
  const { width, height } = useSize(place)
  useFrame(() => {
    if (!canvas.current || width < 8 || height < 8) return
    const slot = everyMs ? Math.floor(performance.now() / everyMs + turn) : -1
    if (slot === drawn.current && everyMs) return
    drawn.current = slot
    const ctx = preparedContext(canvas.current, width, height)
    if (ctx) draw(ctx, width, height)
  })
  return (
    <div ref={place} className={className}>
      <canvas ref={canvas} role="img" aria-label={label} className="block h-full w-full" />
    </div>
  )
}
