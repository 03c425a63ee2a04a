import { useEffect, useRef, useState } from 'react'
import { current } from '../../../store/current'
import { shownSession } from '../../../store/selectors'
import type { RootState } from '../../../store/store'
import { viewChanged } from '../../../store/view-slice'
import { useAppDispatch, useAppSelector, useAppStore } from '../../parts/hooks'
import { rowHeight, rowTop } from '../drawing/geometry'

/** Whether nothing is current that the bench could show. */
function isEmpty(state: RootState): boolean {
  const session = shownSession(state)
  if (!session) return true
  const { bench, regionIds } = current(state)
  if (bench.kind === 'crossfade') return session.crossfades[bench.id] === undefined
  if (bench.kind === 'strip') return bench.trackId !== null && session.tracks[bench.trackId] === undefined
  return !regionIds.some((id) => session.regions[id])
}

/**
 * Whether the bench is one line high. It opens and closes when the pointer is let go, so that nothing moves under a
 * hand; then the row that was worked on is still in sight.
 */
export function useBenchEmpty(): boolean {
  const empty = useAppSelector(isEmpty)
  const [shown, setShown] = useState(empty)
  const held = useRef(false)
  const dispatch = useAppDispatch()
  const store = useAppStore()
  useEffect(() => {
    const down = () => void (held.current = true)
    const up = () => {
      held.current = false
      // After what the release itself does.
      setTimeout(() => setShown(isEmpty(store.getState())))
    }
    window.addEventListener('pointerdown', down, true)
    window.addEventListener('pointerup', up, true)
    window.addEventListener('pointercancel', up, true)
    return () => {
      window.removeEventListener('pointerdown', down, true)
      window.removeEventListener('pointerup', up, true)
      window.removeEventListener('pointercancel', up, true)
    }
  }, [store])
  useEffect(() => {
    if (!held.current) setShown(empty)
  }, [empty])
  // The timeline is lower now than a moment ago: what it was about comes back into sight.
  useEffect(() => {
    if (shown) return
    const frame = requestAnimationFrame(() => {
      const { view, trackId } = store.getState().view
      const row = shownSession(store.getState())?.trackIds.indexOf(trackId ?? '') ?? -1
      if (row < 0) return
      const below = rowTop(view, row) + rowHeight(view, row) - view.height
      if (below > 0 && rowTop(view, row) > 0)
        dispatch(viewChanged({ top: view.top + Math.min(below, rowTop(view, row)) }))
    })
    return () => cancelAnimationFrame(frame)
  }, [shown, dispatch, store])
  return shown
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
        ? 'Press a region to see it here close up and to type its values; Shift adds more, a sweep over empty cloth takes all it touches.'
        : 'Import audio to begin: drop files anywhere here, or press Import above the tracks.'}
    </section>
  )
}
