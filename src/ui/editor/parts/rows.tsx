import { useEffect, useReducer, useState, type ReactNode } from 'react'
import { flushSync } from 'react-dom'
import { useAppFields, useAppSelector } from '../../parts/hooks'
import { runIdleTasks } from '../../parts/rendering/idle-tasks'
import { visibleRows } from '../drawing/geometry'
import { nextRow } from '../drawing/next-row'

/**
 * Rows rendered above and below the visible ones when the user is idle, and at least, in spare moments, while
 * scrolling.
 */
const AHEAD = 16
const LEAST_AHEAD = 2
/** Rows further away than this are dropped at once. */
const MOST_ROWS = 4 * AHEAD

/** Renders a row, visible or in advance. */
type LayOut = (row: number, inSight: boolean) => ReactNode

interface Laid {
  by: LayOut
  inSight: boolean
  row: ReactNode
}

/**
 * Rows of tracks. Rows that are visible, or less than `beyond` pixels away, are rendered at once; the next
 * ones in spare moments, so that scrolling finds them ready. Changes to invisible rows are rendered when the
 * user is idle. `layOut` renders a row with its track as the key; pass the same function while nothing about
 * the rows changes.
 */
export function Rows({
  trackIds,
  beyond = 0,
  ahead = AHEAD,
  layOut,
}: {
  trackIds: readonly string[]
  beyond?: number
  ahead?: number
  layOut: LayOut
}) {
  const count = trackIds.length
  const { first, last } = useAppFields(({ navigation: { view } }) => visibleRows(view, count, beyond))
  const below = useAppSelector((s) => s.navigation.view.below)
  const heights = useAppSelector((s) => s.navigation.view.heights)
  const [kept] = useState(() => ({
    rows: new Map<number, Laid>(),
    trackIds,
    below,
    heights,
    first,
    down: true,
  }))
  const [, showNext] = useReducer((n: number) => n + 1, 0)
  const { rows } = kept
  // Opened lanes and other heights push all rows below them down, and so do new tracks: none may be seen where it was.
  if (kept.below !== below || kept.heights !== heights || kept.trackIds !== trackIds) rows.clear()
  if (kept.first !== first) kept.down = first > kept.first
  Object.assign(kept, { trackIds, below, heights, first })
  for (const row of rows.keys()) if (row < first - MOST_ROWS || row >= last + MOST_ROWS) rows.delete(row)
  for (let row = first; row < last; row++)
    if (rows.get(row)?.by !== layOut || !rows.get(row)!.inSight)
      rows.set(row, { by: layOut, inSight: true, row: layOut(row, true) })
  useEffect(
    () =>
      runIdleTasks((all) => {
        const next = nextRow(
          { first, last },
          count,
          kept.down,
          all ? ahead : Math.min(ahead, LEAST_AHEAD),
          (row) => (all ? rows.get(row)?.by !== layOut : !rows.has(row)),
        )
        if (next !== null) rows.set(next, { by: layOut, inSight: false, row: layOut(next, false) })
        const far = all ? [...rows.keys()].filter((row) => row < first - ahead || row >= last + ahead) : []
        for (const row of far) rows.delete(row)
        if (next === null && far.length === 0) return false
        flushSync(showNext)
        return true
      }),
    [rows, first, last, count, ahead, kept, layOut],
  )
  return [...rows].sort(([a], [b]) => a - b).map(([, { row }]) => row)
}
