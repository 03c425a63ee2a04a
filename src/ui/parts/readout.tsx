import { useLayoutEffect, useRef } from 'react'
import { colour } from '../look/colours'
import { write, type Style } from '../look/writing'
import { preparedContext } from './hooks'

/** What a gesture says of itself, and where. */
export interface Readout {
  x: number
  y: number
  text: string
}

const HEIGHT = 20
const PADDING = 6
/** Of a character of the mono face at this size, in pixels. */
const CHARACTER = 6.96
/** How far above the pointer it stands, so that it does not cover what is being shaped; where there is no room, so far below. */
const ABOVE = 54
const BELOW = 34
const FIGURES: Style = { face: 'figures', size: 11, dye: 'white' }
/** Room for the longest that is said. */
const WIDTH = 440

/**
 * The words beside the pointer, inside a place so wide. They are drawn on a canvas: an element whose text changes with every movement has the browser
 * go through the whole page each time.
 */
export function ReadoutCard({ x, y, text, width }: Readout & { width: number }) {
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
  return <canvas ref={canvas} className="pointer-events-none absolute top-0 left-0 z-10 will-change-transform" style={{ width: WIDTH, height: HEIGHT, transform: `translate(${Math.round(Math.max(4, Math.min(x, width - wide - 4)))}px, ${Math.round(y >= ABOVE + 2 ? y - ABOVE : y + BELOW)}px)` }} aria-hidden />
}
