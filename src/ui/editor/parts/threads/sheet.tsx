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
import type { View } from '../../../../store/view'
import { useAppSelector, useAppStore } from '../../../parts/hooks'
import { setOffsetY, setOffsetX } from '../../../parts/rendering/element-offset'
import { runWhenIdle } from '../../../parts/rendering/idle-tasks'
import { frameToX, nearby, SHEET_STEP, sheetFor } from '../../drawing/geometry'

/** What an area shows while the timeline shows a view: the timeline itself the same one. */
type ViewOf = (shown: View) => View

const timelines: ViewOf = (shown) => shown

/**
 * The view that things are laid out on: wider than the visible area, and constant while that scrolls within
 * it. Near its end the next sheet is prepared in a spare moment, or when the area leaves it; sheets of
 * different `phase` do so at different times.
 */
export function useSheet(viewOf: ViewOf = timelines, phase = 0, step = SHEET_STEP): View {
  const store = useAppStore()
  const [last] = useState<{ sheet: View | null }>({ sheet: null })
  const [, show] = useReducer((n: number) => n + 1, 0)
  useEffect(() => {
    let giveUp: (() => void) | null = null
    const next = () =>
      sheetFor(nearby(viewOf(store.getState().navigation.view), step), last.sheet, phase, step)
    const look = () => {
      if (giveUp || next() === last.sheet) return
      giveUp = runWhenIdle(() => {
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
  return useAppSelector((s) => (last.sheet = sheetFor(viewOf(s.navigation.view), last.sheet, phase, step)))
}

/**
 * Moves an element along with the timeline: `offsetOf` gives the offset for a view, in pixels; pass the same
 * function while it is unchanged.
 */
export function usePushed(
  element: RefObject<HTMLElement | null>,
  offsetOf: (shown: View) => { x?: number; y: number },
): void {
  const store = useAppStore()
  useLayoutEffect(() => {
    const push = () => {
      if (!element.current) return
      const { x, y } = offsetOf(store.getState().navigation.view)
      // By whole pixels of the screen, as the pictures below.
      const ratio = window.devicePixelRatio || 1
      if (x !== undefined) setOffsetX(element.current, Math.round(x * ratio) / ratio)
      setOffsetY(element.current, Math.round(y * ratio) / ratio)
    }
    push()
    return store.subscribe(push)
  }, [element, offsetOf, store])
}

/** Moves its content along when the view scrolls, without re-rendering it. */
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
