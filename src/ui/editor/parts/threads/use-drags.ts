import { useDrag } from '@use-gesture/react'
import { useEffect, useRef } from 'react'
import type { Drag } from '../../hands/gesture'

/** A press becomes a drag after this many pixels. */
const MOVED = 2

/**
 * Drags from press to release: `begin` decides what a press means, Escape cancels. A press that never moves
 * is a click; `onClick` is called in addition to the drag's own click.
 */
export function useDrags(begin: (event: PointerEvent) => Drag, onClick?: () => void) {
  const current = useRef<Drag | null>(null)
  useEffect(() => {
    const onEscape = (event: KeyboardEvent) => {
      if (event.key !== 'Escape' || !current.current?.gesture) return
      current.current.gesture.cancel()
      current.current.cancelled = true
      event.stopImmediatePropagation()
    }
    window.addEventListener('keydown', onEscape, true)
    return () => window.removeEventListener('keydown', onEscape, true)
  }, [])
  return useDrag<PointerEvent>(
    ({ first, last, movement: [dx, dy], event, canceled, memo }) => {
      if (first) return (current.current = begin(event))
      const drag = memo as Drag
      const moved = Math.hypot(dx, dy) >= MOVED
      if (last && !canceled && !drag.cancelled && !moved) {
        drag.gesture?.cancel()
        drag.click?.()
        onClick?.()
      } else if (drag.gesture && !drag.cancelled) {
        if (canceled) drag.gesture.cancel()
        else if (last) drag.gesture.end()
        else if (moved)
          drag.gesture.move({
            dx,
            dy,
            x: 0,
            fine: event.altKey,
            shift: event.shiftKey,
            ctrl: event.ctrlKey || event.metaKey,
          })
      }
      if (last || canceled) current.current = null
      return drag
    },
    { pointer: { keys: false, buttons: 1 } },
  )
}
