import { useRef, useState } from 'react'
import { valueAt } from '../../../core/curve/knots'
import { setLanes, threadOf, type LaneRef, type LaneScope } from '../../../core/edit'
import { scaleChange } from '../../../core/units/typed-change'
import { commit } from '../../../store/edits'
import { getPlayer } from '../../../store/playback'
import { shownSession } from '../../../store/selectors'
import { useThrottledSelector } from '../../parts/throttled-selector'
import { Button } from '../../parts/button'
import { useAppDispatch, useAppSelector, useFrame } from '../../parts/hooks'
import { ValueField } from '../../parts/value-field'

/** Milliseconds between two changes of the value that is shown. */
const CALM_MS = 250

/** Sets a lane to a typed value, or to the one at the playhead: as a whole, from the playhead on, or in the range. */
export function WholeLaneFields({ lane }: { lane: LaneRef }) {
  const dispatch = useAppDispatch()
  const session = useThrottledSelector(shownSession)!
  const range = useAppSelector((s) => s.view.range)
  const [typed, setTyped] = useState<number | null>(null)
  const [present, setPresent] = useState(0)
  const { kind, knots } = threadOf(session, lane)!
  const shownAt = useRef(0)
  useFrame(() => {
    const now = valueAt(kind, knots, getPlayer()?.position() ?? 0)
    // While it plays, the field follows in steps that can be read.
    if (kind.show(now) === kind.show(present) || performance.now() - shownAt.current < CALM_MS) return
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
        shown={kind.show(value, 2)}
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
    </div>
  )
}
