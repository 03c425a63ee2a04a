import { rowIds } from '../../../core/model/strips'
import { Fragment, memo, useCallback } from 'react'
import type { Region, Session } from '../../../core/model/session'
import { SHEET_STEP } from '../drawing/geometry'
import { Rows } from '../parts/rows'
import { Sheet, useSheet } from '../parts/threads/sheet'
import { Joins } from './joins'
import { Overlay } from './overlay'

/** The handles of regions, laid out on a sheet. */
export const RegionsOnSheet = memo(function RegionsOnSheet({
  session,
  rows,
  selection,
}: {
  session: Session
  rows: readonly (readonly Region[])[]
  selection: ReadonlySet<string>
}) {
  const sheet = useSheet(undefined, SHEET_STEP / 2)
  const layOut = useCallback(
    (row: number) => (
      <Fragment key={rowIds(session)[row]}>
        <Overlay session={session} regions={rows[row]!} row={row} view={sheet} selection={selection} />
        <Joins session={session} regions={rows[row]!} row={row} view={sheet} />
      </Fragment>
    ),
    [session, rows, sheet, selection],
  )
  return (
    <Sheet sheet={sheet}>
      <Rows trackIds={rowIds(session)} beyond={28} layOut={layOut} />
    </Sheet>
  )
})
