import { clamp } from '../../../core/units/clamp'
import { useLayoutEffect, useRef } from 'react'
import { colour } from '../../look/colours'
import { write, type Style } from '../../look/writing'
import { preparedContext } from '../hooks'

/** The text of a gesture, and its place. */
export interface Readout {
  x: number
  y: number
  text: string
}

const HEIGHT = 20
const PADDING = 6
/** Width of a character of the mono font at this size, in pixels. */
const CHARACTER = 6.96
/**
 * Distance above the pointer, so that it does not cover what is being shaped; if there is no room, below,
 * else beside.
 */
const ABOVE = 54
const BELOW = 34
const BESIDE = 24
/** Least distance from the edges of the area. */
const EDGE = 4
const FIGURES: Style = { face: 'figures', size: 11, dye: 'white' }
/** Room for the longest that is said. */
const WIDTH = 440

/** Where words so wide stand that are about a place in an area, in pixels: their left upper corner. */
export function readoutPlace(
  { x, y }: Pick<Readout, 'x' | 'y'>,
  wide: number,
  area: { width: number; height: number },
): { left: number; top: number } {
  const within = (left: number) => Math.round(clamp(left, EDGE, area.width - wide - EDGE))
  if (y - ABOVE >= 2) return { left: within(x), top: Math.round(y - ABOVE) }
  if (y + BELOW + HEIGHT <= area.height) return { left: within(x), top: Math.round(y + BELOW) }
  const before = x - BESIDE - wide
  return {
    left: within(before >= EDGE ? before : x + BESIDE),
    top: Math.round(clamp(y - HEIGHT / 2, EDGE, area.height - HEIGHT - EDGE)),
  }
}

/**
 * The text beside the pointer, kept inside an area of the given size. It is drawn on a canvas: a changing
 * text element would make the browser lay out the whole page each time.
 */
export function ReadoutCard({ x, y, text, width, height }: Readout & { width: number; height: number }) {
  const canvas = useRef<HTMLCanvasElement>(null)
  const wide = Math.min(WIDTH, text.length * CHARACTER + 2 * PADDING)
  useLayoutEffect(() => {
    const ctx = canvas.current && preparedContext(canvas.current, WIDTH, HEIGHT)
    if (!ctx) return
    ctx.fillStyle = colour('ink')
    ctx.beginPath()
    ctx.roundRect(0, 0, wide, HEIGHT, 4)
    ctx.fill()
    write(ctx, text, PADDING, HEIGHT / 2 + 0.5, FIGURES, 'left', true)
  }, [text, wide])
  const { left, top } = readoutPlace({ x, y }, wide, { width, height })
  return (
    <canvas
      ref={canvas}
      className="pointer-events-none absolute top-0 left-0 z-10 will-change-transform"
      style={{ width: WIDTH, height: HEIGHT, transform: `translate(${left}px, ${top}px)` }}
      aria-hidden
    />
  )
}
