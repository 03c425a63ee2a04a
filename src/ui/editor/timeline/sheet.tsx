import { useLayoutEffect, useRef, useState, type ReactNode } from 'react'
import type { View } from '../../../store/view-slice'
import { useAppSelector, useAppStore } from '../../parts/hooks'
import { moveTo } from '../../parts/move'
import { frameToX, sheetFor } from './geometry'

/** The view on which the handles are laid out: wider than the screen, and the same while the screen scrolls within it. */
export function useSheet(): View {
  const [last] = useState<{ sheet: View | null }>({ sheet: null })
  return useAppSelector((s) => (last.sheet = sheetFor(s.view.view, last.sheet)))
}

/** Holds what is laid out on a sheet and pushes it along when the view scrolls, without laying it out anew. */
export function Sheet({ sheet, children }: { sheet: View; children: ReactNode }) {
  const element = useRef<HTMLDivElement>(null)
  const store = useAppStore()
  useLayoutEffect(() => {
    let pushed = NaN
    const push = () => {
      const { view } = store.getState().view
      // By whole pixels of the screen, as the pictures below.
      const ratio = window.devicePixelRatio || 1
      const [x, y] = [Math.round(frameToX(view, sheet.left) * ratio) / ratio, Math.round((sheet.top - view.top) * ratio) / ratio]
      if (!element.current) return
      moveTo(element.current, x)
      if (y !== pushed) element.current.style.translate = `0 ${(pushed = y)}px`
    }
    push()
    return store.subscribe(push)
  }, [sheet, store])
  return <div ref={element} className="absolute top-0 left-0 h-0 w-0 will-change-transform">{children}</div>
}
