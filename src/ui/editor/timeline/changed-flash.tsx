import { rowIds } from '../../../core/model/strips'
import { useEffect, useState } from 'react'
import { changedPlaces, type ChangedPlace } from '../../../core/edit'
import { sessionLength } from '../../../core/model/queries'
import type { Session } from '../../../core/model/session'
import { lastHistoryJump } from '../../../store/edits'
import { viewChanged } from '../../../store/view'
import { useAppDispatch, useAppSelector, useAppStore } from '../../parts/hooks'
import { boundedView, frameToX, rowHeight, rowTop } from '../drawing/geometry'
import { placesInView, viewOfPlaces } from '../drawing/changed-places'

/** Milliseconds that what undo or redo changed is marked. */
const FLASH_MS = 900

/** At most so many places are marked; of more, those in sight come first. */
const MOST_FLASHES = 40

/** Brings what undo, redo or a press in the history changed into view, and marks it for a moment. */
export function ChangedFlash({ session }: { session: Session }) {
  const dispatch = useAppDispatch()
  const store = useAppStore()
  const [flash, setFlash] = useState<{ places: readonly ChangedPlace[]; count: number }>({
    places: [],
    count: 0,
  })
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout> | undefined
    const stop = lastHistoryJump.subscribe(() => {
      const change = lastHistoryJump.get()
      if (!change) return
      const places = changedPlaces(change.before, change.after)
      const { trackIds } = change.after
      const { view } = store.getState().navigation
      const next = viewOfPlaces(view, trackIds, places)
      if (next !== view)
        dispatch(viewChanged(boundedView(next, sessionLength(change.after), trackIds.length)))
      const seen = placesInView(next, trackIds, places)
      setFlash(({ count }) => ({
        places: (seen.length ? seen : places).slice(0, MOST_FLASHES),
        count: count + 1,
      }))
      clearTimeout(timer)
      timer = setTimeout(() => setFlash(({ count }) => ({ places: [], count })), FLASH_MS)
    })
    return () => {
      stop()
      clearTimeout(timer)
    }
  }, [dispatch, store])
  return flash.places.map((place, i) => <Mark key={`${flash.count} ${i}`} session={session} place={place} />)
}

function Mark({ session, place }: { session: Session; place: ChangedPlace }) {
  const view = useAppSelector((s) => s.navigation.view)
  const row = place.trackId === null ? -1 : rowIds(session).indexOf(place.trackId)
  if (row < 0) return null
  const [from, to] = place.span
    ? [frameToX(view, place.span.from), frameToX(view, place.span.to)]
    : [0, view.width]
  const left = Math.max(-4, from)
  return (
    <div
      data-testid="changed"
      className="changed-flash pointer-events-none absolute rounded-md border-2 border-oak bg-oak/15"
      style={{
        left,
        width: Math.max(6, Math.min(view.width + 4, to) - left),
        top: rowTop(view, row),
        height: rowHeight(view, row),
      }}
    />
  )
}
