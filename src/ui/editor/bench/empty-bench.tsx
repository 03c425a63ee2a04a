import { rowIds, rowOf } from '../../../core/model/strips'
import { useEffect, useRef, useState } from 'react'
import { observable } from '../../../store/observable'
import { current } from '../../../store/current'
import { shownSession } from '../../../store/selectors'
import type { RootState } from '../../../store/store'
import { viewChanged } from '../../../store/view'
import { useAppDispatch, useAppSelector, useAppStore, useObservable } from '../../parts/hooks'
import { rowHeight, rowTop } from '../drawing/geometry'

/** Whether nothing is current that the bench could show. */
function isEmpty(state: RootState): boolean {
  const session = shownSession(state)
  if (!session) return true
  const { bench, regionIds } = current(state)
  if (bench.kind === 'crossfade') return session.crossfades[bench.id] === undefined
  if (bench.kind === 'insert') return false
  if (bench.kind === 'strip') return bench.trackId !== null && rowOf(session, bench.trackId) === undefined
  return state.selection.range === null && !regionIds.some((id) => session.regions[id])
}

/** Whether the pointer is held down anywhere on the page. */
const pointerHeld = observable(false)
if (typeof window !== 'undefined') {
  window.addEventListener('pointerdown', () => pointerHeld.set(true), true)
  // After what the release itself does.
  for (const type of ['pointerup', 'pointercancel', 'blur'] as const)
    window.addEventListener(type, () => setTimeout(() => pointerHeld.set(false)), true)
}

/**
 * Whether the bench is one line high. It opens and closes when the pointer is let go, so that nothing moves under a
 * hand; then the row that was worked on is still in sight.
 */
export function useBenchEmpty(): boolean {
  const empty = useAppSelector(isEmpty)
  const held = useObservable(pointerHeld)
  const [shown, setShown] = useState(empty)
  if (!held && shown !== empty) setShown(empty)
  return shown
}

/** When the bench opens, the timeline is lower than a moment before: brings the row that is current back into sight. */
export function useRowKeptInSight(benchEmpty: boolean): void {
  const dispatch = useAppDispatch()
  const store = useAppStore()
  const height = useAppSelector((s) => s.navigation.view.height)
  const opened = useRef(false)
  useEffect(() => void (opened.current = !benchEmpty), [benchEmpty])
  // The height follows a moment after the bench.
  useEffect(() => {
    if (!opened.current) return
    opened.current = false
    const {
      navigation: { view },
      selection: { trackId },
    } = store.getState()
    const shown = shownSession(store.getState())
    const row = shown ? rowIds(shown).indexOf(trackId ?? '') : -1
    if (row < 0) return
    const top = rowTop(view, row)
    const hidden = top + rowHeight(view, row) - view.height
    if (hidden > 0 && top > 0) dispatch(viewChanged({ top: view.top + Math.min(hidden, top) }))
  }, [height, dispatch, store])
}

/** The bench while there is nothing to show: one line that says how something comes to be there. */
export function EmptyBench() {
  const tracks = useAppSelector((s) => (shownSession(s)?.trackIds.length ?? 0) > 0)
  return (
    <section
      aria-label="Bench"
      className="flex h-7 shrink-0 items-center justify-center truncate border-t border-seam bg-linen px-4 text-xs text-soft"
    >
      {tracks
        ? 'Select a region to see it up close and type its values; Shift adds more, or drag over empty space to select several.'
        : 'Import audio to begin: drop files anywhere here, or press Import above the tracks.'}
    </section>
  )
}
