import { useDrag } from '@use-gesture/react'
import { useState } from 'react'
import { shownSession } from '../../../store/selectors'
import { moveHeads, tracksMeant } from '../../../store/track-actions'
import { useAppDispatch, useAppStore } from '../../parts/hooks'
import { ROW_HEIGHT } from '../drawing/geometry'

/**
 * Dragging a head up or down moves its track, or all selected ones, by whole rows when it is let go; Escape gives it up.
 * `byRows` is how far it has come meanwhile.
 */
export function useReorder(trackId: string, sessionId: string) {
  const dispatch = useAppDispatch()
  const store = useAppStore()
  const [byRows, setByRows] = useState(0)
  const bind = useDrag<PointerEvent>(
    ({ movement: [, dy], last, canceled, event, tap }) => {
      event.stopPropagation()
      const rows = tap || canceled ? 0 : Math.round(dy / ROW_HEIGHT)
      setByRows(last ? 0 : rows)
      if (last && rows !== 0 && shownSession(store.getState())?.id === sessionId)
        dispatch(moveHeads(tracksMeant(store.getState(), trackId), rows))
    },
    { pointer: { keys: false }, filterTaps: true, axis: 'y' },
  )
  return { bind, byRows }
}
