import type { PointerEvent } from 'react'
import { setTrack } from '../../../core/edit'
import { commit, dropPreview, preview } from '../../../store/edits'
import { useAppDispatch } from '../../parts/hooks'

/** A switch of a track's head. */
export interface SwitchSweep {
  trackId: string
  key: 'muted' | 'soloed'
}

/** When the last sweep over several switches ended: the click that ends it is no press. */
let sweptAt = -Infinity
export const wasSwept = () => performance.now() - sweptAt < 50

/**
 * Begins a sweep over the switches of heads: those of one kind that the pointer passes get the state that the first one
 * got, as one step of the history. A press without movement stays a click. Escape gives it up.
 */
export function useSwitchSweep() {
  const dispatch = useAppDispatch()
  return (event: PointerEvent<HTMLElement>, first: SwitchSweep, on: boolean) => {
    // They change what is heard, never what is current.
    event.stopPropagation()
    if (event.button !== 0) return
    // Touch would keep all movements for the first one.
    event.currentTarget.releasePointerCapture?.(event.pointerId)
    const passed = new Set([first.trackId])
    const args = () => ({ trackIds: [...passed], change: { [first.key]: on } })
    const over = (x: number, y: number) => {
      const [key, trackId] =
        document.elementFromPoint(x, y)?.closest<HTMLElement>('[data-switch]')?.dataset.switch?.split(' ') ??
        []
      if (key !== first.key || trackId === undefined || passed.has(trackId)) return
      passed.add(trackId)
      dispatch(preview(setTrack, args()))
    }
    const move = (e: globalThis.PointerEvent) => over(e.clientX, e.clientY)
    const end = (e: globalThis.PointerEvent | KeyboardEvent) => {
      if (e instanceof KeyboardEvent && e.key !== 'Escape') return
      window.removeEventListener('pointermove', move)
      window.removeEventListener('pointerup', end)
      window.removeEventListener('pointercancel', end)
      window.removeEventListener('keydown', end, true)
      if (passed.size < 2) return
      sweptAt = performance.now()
      if (e.type === 'pointerup') dispatch(commit(setTrack, args()))
      else dispatch(dropPreview())
    }
    window.addEventListener('pointermove', move)
    window.addEventListener('pointerup', end)
    window.addEventListener('pointercancel', end)
    window.addEventListener('keydown', end, true)
  }
}
