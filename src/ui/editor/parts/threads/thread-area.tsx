import { rowOf } from '../../../../core/model/strips'
import { useMemo, useRef, useState } from 'react'
import { threadOf, type ThreadRef } from '../../../../core/edit'
import type { Session } from '../../../../core/model/session'
import { shownSession } from '../../../../store/selectors'
import type { View } from '../../../../store/view'
import { useThrottledSelector } from '../../../parts/rendering/throttled-selector'
import { useAppDispatch, useAppSelector, useAppStore } from '../../../parts/hooks'
import { ReadoutCard, type Readout } from '../../../parts/rendering/readout'
import { addKnot } from '../../hands/add-knot'
import { beginThread } from '../../hands/begin-thread-drag'
import { drag } from '../../hands/gesture'
import { type GestureContext } from '../../hands/gesture-context'
import { frameToX, type Box } from '../../drawing/geometry'
import { Sheet, useSheet } from './sheet'
import { useDrags } from './use-drags'
import { ThreadOverlay } from './thread-overlay'
import type { ThreadPlace } from '../../drawing/thread-place'

interface Props {
  thread: ThreadRef
  /**
   * Where the thread's frames lie in the area while the timeline shows a view; the same function while the
   * area stays as it is.
   */
  viewOf(shown: View): View
  /** Where the thread lies in a session, for such a view; the same function while it lies in the same place. */
  placeOf(session: Session, view: View): ThreadPlace | null
  /** Whether knots at its ends may hang over them; for threads that begin and end there. */
  overhang?: boolean
  label: string
  testId: string
}

/**
 * Threads with more knots than this follow a drag elsewhere only when it pauses, or about once a second, so
 * that the dragged one follows at once.
 */
const HEAVY = 500

/** Whether nothing of what a thread belongs to has changed. */
function sameOwner(a: Session, b: Session, thread: ThreadRef): boolean {
  if (thread.kind === 'lane')
    return thread.trackId === null ? a.mix === b.mix : rowOf(a, thread.trackId) === rowOf(b, thread.trackId)
  return (
    a.regions[thread.regionId] === b.regions[thread.regionId] &&
    threadOf(a, thread)?.knots === threadOf(b, thread)?.knots
  )
}

/**
 * An area for one thread; all gestures of the timeline work on it. It is laid out on a sheet that is pushed
 * along when the timeline scrolls.
 */
export function ThreadArea({ thread, viewOf, placeOf, overhang = false, label, testId }: Props) {
  const dispatch = useAppDispatch()
  const store = useAppStore()
  const [held, setHeld] = useState(false)
  const heavy = useAppSelector((s) => (threadOf(shownSession(s)!, thread)?.knots.length ?? 0) > HEAVY)
  const session = useThrottledSelector(
    shownSession,
    (a, b) => a === b || (a !== null && b !== null && sameOwner(a, b, thread)),
    heavy && !held,
  )!
  const hand = useAppSelector((s) => s.selection.hand)
  const sheet = useSheet(viewOf)
  const place = useMemo(() => placeOf(session, sheet), [placeOf, session, sheet])
  const area = useRef<HTMLDivElement>(null)
  const [swept, setSwept] = useState<Box | null>(null)
  const [snappedX, setSnappedX] = useState<number | null>(null)
  const [readout, setReadout] = useState<(Readout & { width: number; height: number }) | null>(null)

  /** The context of a gesture and the pointer's place, at its start. */
  const begun = (event: { clientX: number; clientY: number }) => {
    const now = shownSession(store.getState())!
    const state = store.getState()
    const view = viewOf(state.navigation.view)
    const context: GestureContext = {
      dispatch,
      session: now,
      state,
      view,
      showSwept: setSwept,
      showSnapped: (s) => setSnappedX(s && frameToX(view, s.frame)),
      say: (said) => setReadout(said && { ...said, width: view.width, height: view.height }),
    }
    const bounds = area.current!.getBoundingClientRect()
    return {
      context,
      place: placeOf(now, view),
      x: event.clientX - bounds.left,
      y: event.clientY - bounds.top,
    }
  }
  const bind = useDrags((event) => {
    const { context, place, x, y } = begun(event)
    return place
      ? beginThread(
          context,
          place,
          (event.target as Element).closest<HTMLElement>('[data-handle]'),
          event,
          x,
          y,
        )
      : drag(null)
  })
  return (
    <div
      ref={area}
      data-testid={testId}
      className={`absolute inset-0 touch-none overflow-clip select-none ${overhang ? '[overflow-clip-margin:8px]' : ''} ${hand !== 'point' ? 'cursor-crosshair' : ''}`}
      {...bind()}
      onPointerDownCapture={() => setHeld(true)}
      onPointerUpCapture={() => setHeld(false)}
      onPointerCancelCapture={() => setHeld(false)}
      onDoubleClick={(event) => {
        const { context, place, x, y } = begun(event)
        if (place) addKnot(context, place, event.target as Element, x, y)
      }}
    >
      <Sheet sheet={sheet} viewOf={viewOf}>
        <div role="group" aria-label={label}>
          {place && <ThreadOverlay places={[place]} view={sheet} sampleRate={session.sampleRate} />}
        </div>
      </Sheet>
      {readout && <ReadoutCard {...readout} />}
      {snappedX !== null && (
        <div className="pointer-events-none absolute inset-y-0 w-px bg-ink" style={{ left: snappedX }} />
      )}
      {swept && (
        <div
          className="pointer-events-none absolute border border-ink bg-oak/10"
          style={{ left: swept.x, top: swept.y, width: swept.width, height: swept.height }}
        />
      )}
    </div>
  )
}
