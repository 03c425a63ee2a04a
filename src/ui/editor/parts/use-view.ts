import { clamp } from '../../../core/units/clamp'
import { rowIds } from '../../../core/model/strips'
import { useEffect, useLayoutEffect, useRef, type FocusEvent, type RefObject } from 'react'
import { changeClipGain } from '../../../core/edit'
import { commit, preview } from '../../../store/edits'
import { viewChanged, type View } from '../../../store/view'
import { useAppDispatch, useAppStore } from '../../parts/hooks'
import { scaleSound } from '../../../store/actions/row-actions'
import { shownSession } from '../../../store/selectors'
import { boundedView, rowAt, wholeFramesPerPixel, zoomedAbout } from '../drawing/geometry'

/**
 * Shows the whole session when it is opened for the first time and when the first sound is in it, and keeps the view's size up
 * to date.
 */
export function useShownWhole(
  id: string,
  size: { width: number; height: number },
  length: number,
  rows: number,
): void {
  const dispatch = useAppDispatch()
  const store = useAppStore()
  const shown = useRef({ id: '', empty: true })
  useLayoutEffect(() => {
    if (size.width === 0) return
    const { view, placed } = store.getState().navigation
    const sized: View = { ...view, ...size }
    const first = (shown.current.id !== id && !placed) || (shown.current.id === id && shown.current.empty)
    shown.current = { id, empty: length === 0 }
    dispatch(
      viewChanged(
        boundedView(
          first ? { ...sized, left: 0, framesPerPixel: wholeFramesPerPixel(length, size.width) } : sized,
          length,
          rows,
        ),
      ),
    )
    // Only when the place or the session changes; scrolling has its own way.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [id, size.width, size.height, rows, length > 0])
}

/**
 * How much of the focused element must be visible, in pixels; and its distance from the left edge when it was
 * not, as a fraction of the width.
 */
const SEEN = 40
const FROM_LEFT = 0.15

/**
 * Scrolls the element focused by keyboard, or its surrounding `data-seen-whole`, into view: elements exist
 * beyond the edges before they are visible.
 */
export function useFocusSeen(
  area: RefObject<HTMLDivElement | null>,
  length: number,
  rows: number,
): (event: FocusEvent) => void {
  const dispatch = useAppDispatch()
  const store = useAppStore()
  return ({ target }) => {
    // A menu or a dialog opened from here lies elsewhere on the page, yet its focus is told here too.
    if (!area.current?.contains(target) || !target.matches(':focus-visible')) return
    const [box, seen] = [
      (target.closest('[data-seen-whole]') ?? target).getBoundingClientRect(),
      area.current.getBoundingClientRect(),
    ]
    const { view } = store.getState().navigation
    const across = Math.min(box.right, seen.right) - Math.max(box.left, seen.left) < Math.min(box.width, SEEN)
    const top =
      view.top + Math.min(0, box.top - seen.top) + clamp(box.top - seen.top, 0, box.bottom - seen.bottom)
    const left = across
      ? view.left + (box.left - seen.left - seen.width * FROM_LEFT) * view.framesPerPixel
      : view.left
    if (across || top !== view.top) dispatch(viewChanged(boundedView({ ...view, left, top }, length, rows)))
  }
}

/** Longest pause within one turn of the wheel, in milliseconds. */
const PAUSE = 400

/**
 * Wheel and trackpad: scroll, with Shift sideways, with Ctrl (or a pinch) zoom about the pointer. Over the
 * hem of a selected region a turn that begins there changes the clip gain, finely with Alt; one turn is one
 * step. With Alt elsewhere the sound of the row is drawn larger or smaller, with Shift that of all.
 */
export function useWheel(area: RefObject<HTMLDivElement | null>, length: number, rows: number): void {
  const dispatch = useAppDispatch()
  const store = useAppStore()
  const latest = useRef({ length, rows })
  useEffect(() => void (latest.current = { length, rows }))
  useEffect(() => {
    const element = area.current
    if (!element) return
    /**
     * Wheel movement since the last frame; it is relative, so that it does not undo other movements of the
     * view.
     */
    let turns: ((from: View) => View)[] = []
    let frame = 0
    let turn: { kind: 'scroll' | 'gain'; byDb: number; timer: number } | null = null
    const kept = (kind: 'scroll' | 'gain') => {
      if (turn) window.clearTimeout(turn.timer)
      turn ??= { kind, byDb: 0, timer: 0 }
      const now = turn
      now.timer = window.setTimeout(() => {
        turn = null
        if (now.kind === 'gain')
          dispatch(
            commit(changeClipGain, { regionIds: store.getState().selection.regionIds, byDb: now.byDb }),
          )
      }, PAUSE)
      return now
    }
    const onWheel = (event: WheelEvent) => {
      event.preventDefault()
      const { length, rows } = latest.current
      const {
        navigation: { view },
        selection: { regionIds },
      } = store.getState()
      const unit = event.deltaMode === 1 ? 24 : 1
      const [dx, dy] = [event.deltaX * unit, event.deltaY * unit]
      const hem = (event.target as Element).closest<HTMLElement>('[data-handle="gain"]')
      const zooms = event.ctrlKey || event.metaKey
      const overGain = !zooms && !event.shiftKey && hem !== null && regionIds.includes(hem.dataset.region!)
      if (event.altKey && !zooms && !overGain) {
        // Over one row its sound, with Shift that of all rows.
        const row = rowAt(view, event.clientY - element.getBoundingClientRect().top)
        const shown = shownSession(store.getState())
        const id = shown ? rowIds(shown)[row] : undefined
        const steps = -Math.sign(dy || dx) * 0.5
        if (event.shiftKey) dispatch(scaleSound(null, steps))
        else if (id !== undefined) dispatch(scaleSound([id], steps))
        return
      }
      const { kind } = (turn = kept(overGain ? 'gain' : 'scroll'))
      if (kind === 'gain') {
        turn.byDb = Math.round((turn.byDb - Math.sign(dy || dx) * (event.altKey ? 0.1 : 0.5)) * 100) / 100
        dispatch(preview(changeClipGain, { regionIds, byDb: turn.byDb }))
        return
      }
      const x = zooms ? event.clientX - element.getBoundingClientRect().left : 0
      const [sideways, down] = event.shiftKey ? [dx + dy, 0] : [dx, dy]
      turns.push((from) =>
        zooms
          ? zoomedAbout(from, x, Math.exp(clamp(dy, -120, 120) * 0.004), length, rows)
          : boundedView(
              { ...from, left: from.left + sideways * from.framesPerPixel, top: from.top + down },
              length,
              rows,
            ),
      )
      frame ||= requestAnimationFrame(() => {
        frame = 0
        dispatch(viewChanged(turns.reduce((view, turn) => turn(view), store.getState().navigation.view)))
        turns = []
      })
    }
    element.addEventListener('wheel', onWheel, { passive: false })
    return () => {
      element.removeEventListener('wheel', onWheel)
      cancelAnimationFrame(frame)
    }
  }, [area, dispatch, store])
}
