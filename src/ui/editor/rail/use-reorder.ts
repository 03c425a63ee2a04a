import { clamp } from '../../../core/units/clamp'
import { rowIds } from '../../../core/model/strips'
import { useDrag } from '@use-gesture/react'
import { useState } from 'react'
import { shownSession } from '../../../store/selectors'
import { moveHeads, tracksMeant } from '../../../store/actions/track-actions'
import { useAppDispatch, useAppStore } from '../../parts/hooks'
import { rowAt, rowTop } from '../drawing/geometry'

/**
 * Dragging a head up or down moves its track, or all selected ones, by whole rows when it is let go; Escape gives it up.
 * `byRows` is how far it has come meanwhile, `lineAt` the edge (from the top of all rows) that it would come to.
 */
export function useReorder(trackId: string, sessionId: string) {
  const dispatch = useAppDispatch()
  const store = useAppStore()
  const [{ byRows, lineAt }, setMoved] = useState({ byRows: 0, lineAt: 0 })
  const bind = useDrag<PointerEvent>(
    ({ movement: [, dy], last, canceled, event, tap }) => {
      event.stopPropagation()
      const { view } = store.getState().navigation
      const session = shownSession(store.getState())
      if (!session) return
      const row = rowIds(session).indexOf(trackId)
      const middle = (rowTop(view, row) + rowTop(view, row + 1)) / 2
      // Tracks stay among tracks, and buses below them among buses.
      const tracks = session.trackIds.length
      const [first, end] = row < tracks ? [0, tracks] : [tracks, rowIds(session).length]
      const over = clamp(rowAt(view, middle + dy), first, end - 1)
      const rows = tap || canceled ? 0 : over - row
      setMoved(
        last
          ? { byRows: 0, lineAt: 0 }
          : { byRows: rows, lineAt: rowTop({ ...view, top: 0 }, rows > 0 ? over + 1 : over) },
      )
      if (last && rows !== 0 && session.id === sessionId)
        dispatch(moveHeads(tracksMeant(store.getState(), trackId), rows))
    },
    { pointer: { keys: false }, filterTaps: true, axis: 'y' },
  )
  return { bind, byRows, lineAt }
}
