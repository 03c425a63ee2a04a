import { useLayoutEffect, useRef } from 'react'
import { valueAt } from '../../../core/curve/knots'
import { colour } from '../../look/colours'
import { widthOf, write, type Style } from '../../look/writing'
import { preparedContext, useAppSelector } from '../../parts/hooks'
import type { View } from '../../../store/view'
import { valueToY, type ThreadPlace } from '../drawing/thread-place'

/** Room for the longest tag, in pixels. */
const WIDTH = 170
const HEIGHT = 14
const WORDS: Style = { face: 'words', size: 10.5, dye: 'ink' }

/**
 * The names of lanes at the left end of their visible lines. Drawn on a canvas, since they move with every
 * scroll.
 */
export function LaneTags({ places, sheet }: { places: readonly ThreadPlace[]; sheet: View }) {
  const canvas = useRef<HTMLCanvasElement>(null)
  const view = useAppSelector((s) => s.navigation.view)
  const tags = places.flatMap((place) => {
    if (!place.tag) return []
    const y =
      Math.round(
        valueToY(place, valueAt(place.kind, place.knots, Math.max(0, view.left))) + sheet.top - view.top,
      ) -
      HEIGHT / 2
    return [{ text: `${place.tag}${place.bypassed ? ', bypassed' : ''}`, y, dye: place.look.dye }]
  })
  // Most of what changes the threads leaves their tags where they are.
  const key = JSON.stringify(tags)
  useLayoutEffect(() => {
    const ctx = canvas.current && preparedContext(canvas.current, WIDTH, view.height)
    if (!ctx) return
    for (const { text, y, dye } of JSON.parse(key) as typeof tags) {
      ctx.beginPath()
      ctx.roundRect(6.5, y + 0.5, Math.min(WIDTH - 8, Math.ceil(widthOf(text, WORDS)) + 10), HEIGHT, 4)
      ctx.fillStyle = colour('white')
      ctx.fill()
      ctx.strokeStyle = colour(dye)
      ctx.stroke()
      write(ctx, text, 11, y + HEIGHT / 2 + 1, WORDS)
    }
  }, [key, view.height])
  return (
    <canvas
      ref={canvas}
      className="pointer-events-none absolute top-0 left-0 will-change-transform"
      style={{ width: WIDTH, height: view.height }}
      aria-hidden
    />
  )
}
