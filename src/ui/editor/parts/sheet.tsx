import {
  useCallback,
  useEffect,
  useLayoutEffect,
  useReducer,
  useRef,
  useState,
  type ReactNode,
  type RefObject,
} from 'react'
import { flushSync } from 'react-dom'
import type { View } from '../../../store/view-slice'
import { useAppSelector, useAppStore } from '../../parts/hooks'
import { moveDown, moveTo } from '../../parts/element-offset'
import { inSpareTime } from '../../parts/idle-tasks'
import { frameToX, nearby, SHEET_STEP, sheetFor } from '../drawing/geometry'

/** What an area shows while the timeline shows a view: the timeline itself the same one. */
type ViewOf = (shown: View) => View

const timelines: ViewOf = (shown) => shown

/**
 * The view on which things are laid out: wider than the area, and the same while the area scrolls within it.
 * When the area comes near its end the next sheet is laid out in a spare moment, or else when it is left;
 * those of different `phase` at different times.
 */
export function useSheet(viewOf: ViewOf = timelines, phase = 0, step = SHEET_STEP): View {
  const store = useAppStore()
  const [last] = useState<{ sheet: View | null }>({ sheet: null })
  const [, show] = useReducer((n: number) => n + 1, 0)
  useEffect(() => {
    let giveUp: (() => void) | null = null
    const next = () => sheetFor(nearby(viewOf(store.getState().view.view), step), last.sheet, phase, step)
    const look = () => {
      if (giveUp || next() === last.sheet) return
      giveUp = inSpareTime(() => {
        giveUp = null
        last.sheet = next()
        flushSync(show)
      })
    }
    look()
    const leave = store.subscribe(look)
    return () => {
      leave()
      giveUp?.()
    }
  }, [store, viewOf, phase, step, last])
  return useAppSelector((s) => (last.sheet = sheetFor(viewOf(s.view.view), last.sheet, phase, step)))
}

/**
 * Pushes an element along with the timeline: `offsetOf` tells by how many pixels while it shows a view; the
 * same function while that is the same.
 */
export function usePushed(
  element: RefObject<HTMLElement | null>,
  offsetOf: (shown: View) => { x?: number; y: number },
): void {
  const store = useAppStore()
  useLayoutEffect(() => {
    const push = () => {
      if (!element.current) return
      const { x, y } = offsetOf(store.getState().view.view)
      // By whole pixels of the screen, as the pictures below.
      const ratio = window.devicePixelRatio || 1
      if (x !== undefined) moveTo(element.current, Math.round(x * ratio) / ratio)
      moveDown(element.current, Math.round(y * ratio) / ratio)
    }
    push()
    return store.subscribe(push)
  }, [element, offsetOf, store])
}

/** Holds what is laid out on a sheet and pushes it along when the view scrolls, without laying it out anew. */
export function Sheet({
  sheet,
  viewOf = timelines,
  children,
}: {
  sheet: View
  viewOf?: ViewOf
  children: ReactNode
}) {
  const element = useRef<HTMLDivElement>(null)
  usePushed(
    element,
    useCallback(
      (shown) => {
        const view = viewOf(shown)
        return { x: frameToX(view, sheet.left), y: sheet.top - view.top }
      },
      [sheet, viewOf],
    ),
  )
  return (
    <div ref={element} className="absolute top-0 left-0 h-0 w-0 will-change-transform">
      {children}
    </div>
  )
}
