import { useEffect, useLayoutEffect, useRef, type RefObject } from 'react'
import { changeClipGain } from '../../../core/edit'
import { commit, preview } from '../../../store/edits'
import { viewChanged, type View } from '../../../store/view-slice'
import { useAppDispatch, useAppStore } from '../../parts/hooks'
import { boundedView, wholeFramesPerPixel, zoomedAbout } from './geometry'

/** Shows the whole session when it is opened and when the first sound is in it, and keeps the view's size up to date. */
export function useShownWhole(id: string, size: { width: number; height: number }, length: number, rows: number): void {
  const dispatch = useAppDispatch()
  const store = useAppStore()
  const shown = useRef({ id: '', empty: true })
  useLayoutEffect(() => {
    if (size.width === 0) return
    const { view } = store.getState().view
    const sized: View = { ...view, ...size }
    const first = shown.current.id !== id || shown.current.empty
    shown.current = { id, empty: length === 0 }
    dispatch(viewChanged(boundedView(first ? { ...sized, left: 0, framesPerPixel: wholeFramesPerPixel(length, size.width) } : sized, length, rows)))
    // Only when the place or the session changes; scrolling has its own way.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [id, size.width, size.height, rows, length > 0])
}

/** How long a turn of the wheel lasts at most between two notches, in milliseconds. */
const PAUSE = 400

/**
 * Wheel and trackpad: scroll, with Shift sideways, with Ctrl (or a pinch) zoom about the pointer. Over the hem of a selected region a turn
 * that begins there changes the clip gain, finely with Alt; one turn is one step.
 */
export function useWheel(area: RefObject<HTMLDivElement | null>, length: number, rows: number): void {
  const dispatch = useAppDispatch()
  const store = useAppStore()
  const latest = useRef({ length, rows })
  useEffect(() => void (latest.current = { length, rows }))
  useEffect(() => {
    const element = area.current
    if (!element) return
    let wanted: View | null = null
    let frame = 0
    let turn: { kind: 'scroll' | 'gain'; byDb: number; timer: number } | null = null
    const kept = (kind: 'scroll' | 'gain') => {
      if (turn) window.clearTimeout(turn.timer)
      turn ??= { kind, byDb: 0, timer: 0 }
      const now = turn
      now.timer = window.setTimeout(() => {
        turn = null
        if (now.kind === 'gain') dispatch(commit(changeClipGain, { regionIds: store.getState().view.selection, byDb: now.byDb }))
      }, PAUSE)
      return now
    }
    const onWheel = (event: WheelEvent) => {
      event.preventDefault()
      const state = { ...latest.current, ...store.getState().view }
      const from = wanted ?? state.view
      const unit = event.deltaMode === 1 ? 24 : 1
      const [dx, dy] = [event.deltaX * unit, event.deltaY * unit]
      const hem = (event.target as Element).closest<HTMLElement>('[data-handle="gain"]')
      const zooms = event.ctrlKey || event.metaKey
      const overGain = !zooms && !event.shiftKey && hem !== null && state.selection.includes(hem.dataset.region!)
      const { kind } = (turn = kept(overGain ? 'gain' : 'scroll'))
      if (kind === 'gain') {
        turn.byDb = Math.round((turn.byDb - Math.sign(dy || dx) * (event.altKey ? 0.1 : 0.5)) * 100) / 100
        dispatch(preview(changeClipGain, { regionIds: state.selection, byDb: turn.byDb }))
        return
      }
      if (zooms) wanted = zoomedAbout(from, event.clientX - element.getBoundingClientRect().left, Math.exp(Math.max(-120, Math.min(120, dy)) * 0.004), state.length, state.rows)
      else {
        const sideways = event.shiftKey ? dx + dy : dx
        wanted = boundedView({ ...from, left: from.left + sideways * from.framesPerPixel, top: from.top + (event.shiftKey ? 0 : dy) }, state.length, state.rows)
      }
      frame ||= requestAnimationFrame(() => {
        frame = 0
        if (wanted) dispatch(viewChanged(wanted))
        wanted = null
      })
    }
    element.addEventListener('wheel', onWheel, { passive: false })
    return () => {
      element.removeEventListener('wheel', onWheel)
      cancelAnimationFrame(frame)
    }
  }, [area, dispatch, store])
}
