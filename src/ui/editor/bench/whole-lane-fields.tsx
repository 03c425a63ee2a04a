import { shownText } from '../../../core/model/check/shown'
import { useRef, useState } from 'react'
import { FileDown, FileUp } from 'lucide-react'
import { valueAt } from '../../../core/curve/knots'
import { setLanes, threadOf, type LaneRef, type LaneScope } from '../../../core/edit'
import { scaleChange } from '../../../core/units/typed-change'
import { commit } from '../../../store/edits'
import { readTableInto, tableOfLane } from '../../../store/actions/lane-tables'
import { getPlayer } from '../../../store/playback/playback'
import { shownSession } from '../../../store/selectors'
import { useThrottledSelector } from '../../parts/rendering/throttled-selector'
import { Button } from '../../parts/button'
import { downloadFile } from '../../parts/copies/download'
import { toast } from '../../parts/messages/toast'
import { NOT_LOADED } from '../../parts/opening/load-part'
import { useAppDispatch, useAppSelector, useFrame } from '../../parts/hooks'
import { ValueField } from '../../parts/fields/value-field'

/** Milliseconds between two changes of the value that is shown. */
const CALM_MS = 250

/** Sets a lane to a typed value, or to the one at the playhead: as a whole, from the playhead on, or in the range. */
export function WholeLaneFields({ lane }: { lane: LaneRef }) {
  const dispatch = useAppDispatch()
  const session = useThrottledSelector(shownSession)!
  const range = useAppSelector((s) => s.selection.range)
  const [typed, setTyped] = useState<number | null>(null)
  const [present, setPresent] = useState(0)
  const { kind, knots } = threadOf(session, lane)!
  const shown = (value: number) => kind.show(value, 2)
  const shownAt = useRef(0)
  useFrame(() => {
    const now = valueAt(kind, knots, getPlayer()?.position() ?? 0)
    // While it plays, the field follows in steps that can be read.
    if (shown(now) === shown(present) || performance.now() - shownAt.current < CALM_MS) return
    shownAt.current = performance.now()
    setPresent(now)
  })
  const value = typed ?? present
  const set = (scope: LaneScope) => {
    dispatch(commit(setLanes, { lanes: [lane], value, scope }))
    setTyped(null)
  }
  return (
    <div className="flex flex-col gap-1.5 border-t border-fold pt-2" role="group" aria-label="The whole lane">
      <ValueField
        name="lane-value"
        label={typed === null ? 'Set the lane to (now at the playhead)' : 'Set the lane to'}
        shown={shown(value)}
        parse={kind.parse}
        onValue={setTyped}
        change={scaleChange(kind, value)}
      />
      <div className="flex gap-1.5">
        <Button
          className="flex-1 !px-0"
          title="Removes all knots and a bypass; the lane stays at this value"
          onClick={() => set('whole')}
        >
          Whole lane
        </Button>
        <Button
          className="flex-1 !px-0"
          title="From the playhead to the end"
          onClick={() => set({ from: Math.round(getPlayer()?.position() ?? 0), to: null })}
        >
          From here
        </Button>
        <Button
          className="flex-1 !px-0"
          disabled={!range}
          title={range ? 'In the marked range' : 'Mark a range first'}
          onClick={() => range && set(range)}
        >
          In range
        </Button>
      </div>
      <LaneTable lane={lane} empty={knots.length === 0} />
    </div>
  )
}

/** The lane as a table for a spreadsheet, and back. */
function LaneTable({ lane, empty }: { lane: LaneRef; empty: boolean }) {
  const dispatch = useAppDispatch()
  const file = useRef<HTMLInputElement>(null)
  const read = async (chosen: File | undefined) => {
    if (!chosen) return
    const wrong = await dispatch(readTableInto(lane, chosen))
    toast({ text: wrong ?? `“${shownText(chosen.name)}” is in the lane; Undo takes it out again.` })
  }
  return (
    <div className="flex gap-1.5">
      <Button
        className="flex-1 !px-0"
        disabled={empty}
        title="All knots as a table: time in seconds, value, shape"
        onClick={() =>
          void dispatch(tableOfLane(lane)).then(
            (table) => table && downloadFile(new Blob([table.text], { type: 'text/csv' }), table.name),
            () => toast({ text: NOT_LOADED }),
          )
        }
      >
        <FileDown size={15} aria-hidden />
        As CSV
      </Button>
      <Button
        className="flex-1 !px-0"
        title="Reads a table in place of what the lane has: time and value, of any spreadsheet"
        onClick={() => file.current?.click()}
      >
        <FileUp size={15} aria-hidden />
        From CSV…
      </Button>
      <input
        ref={file}
        type="file"
        aria-label="A table for the lane"
        accept=".csv,.tsv,.txt,text/csv,text/plain"
        className="hidden"
        onChange={(event) => {
          void read(event.target.files?.[0])
          event.target.value = ''
        }}
      />
    </div>
  )
}
