import { rowIds } from '../../../core/model/strips'
import { memo, useCallback, useMemo } from 'react'
import type { Region } from '../../../core/model/session'
import { type Bead, parameterOfBead } from '../../../store/beads'
import { shownSession } from '../../../store/selectors'
import { useAppFields, useAppSelector } from '../../parts/hooks'
import { visibleRows } from '../drawing/geometry'
import { Rows } from '../parts/rows'
import { Sheet, useSheet } from '../parts/threads/sheet'
import { ThreadOverlay } from '../parts/threads/thread-overlay'
import { LaneTags } from './lane-tags'
import { threadPlaces, threadPlacesOf } from './row-threads'

/**
 * Rows of threads rendered beyond the visible ones: each thread is a layer, and many layers slow everything
 * down.
 */
const THREADS_AHEAD = 9

function laneName(bead: Bead): string | null {
  const picked = parameterOfBead(bead)
  return picked && !picked.mix ? `${picked.parameter.name} lanes` : null
}

/** How the threads over the tracks are called; null where a bead shows none. */
const threadsLabel = (bead: Bead): string | null => (bead === 'gain-thread' ? 'Gain threads' : laneName(bead))

/** The threads, on their own sheet; only they depend on the knots of lanes. */
export const Threads = memo(function Threads({ rows }: { rows: readonly (readonly Region[])[] }) {
  const sheet = useSheet()
  const session = useAppSelector(shownSession)!
  const { bead, openLanes } = useAppFields(({ selection: { bead }, navigation: { openLanes } }) => ({
    bead,
    openLanes,
  }))
  const seen = useAppFields(({ navigation: { view } }) => visibleRows(view, rows.length))
  const layOut = useCallback(
    (row: number, inSight: boolean) => (
      <ThreadOverlay
        key={rowIds(session)[row]}
        inSight={inSight}
        places={threadPlaces(session, rows[row]!, row, sheet, bead, openLanes)}
        view={sheet}
        sampleRate={session.sampleRate}
      />
    ),
    [session, rows, sheet, bead, openLanes],
  )
  const tagged = useMemo(
    () =>
      bead === 'gain-thread' && openLanes.length === 0
        ? []
        : threadPlacesOf(session, rows, seen, sheet, bead, openLanes).filter((p) => p.tag),
    [session, rows, seen, sheet, bead, openLanes],
  )
  const label = threadsLabel(bead)
  if (label === null && openLanes.length === 0) return null
  return (
    <>
      <Sheet sheet={sheet}>
        <div role="group" aria-label={label ?? 'Opened lanes'}>
          <Rows trackIds={rowIds(session)} beyond={56} ahead={THREADS_AHEAD} layOut={layOut} />
        </div>
      </Sheet>
      {tagged.length > 0 && <LaneTags places={tagged} sheet={sheet} />}
    </>
  )
})
