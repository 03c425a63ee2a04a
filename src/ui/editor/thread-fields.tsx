import { RotateCcw, Trash2 } from 'lucide-react'
import { moveKnots, removeKnots, shiftedHeight } from '../../core/curve/knots'
import { resetThreads, shapeThread } from '../../core/edit'
import type { Region, Session } from '../../core/model/session'
import { dbToHeight, heightToDb } from '../../core/units/taper'
import { parseLength, parseLevel, showDb, showLength } from '../../core/units/typed'
import { commit } from '../../store/edits'
import { knotsSelected, shouldersSet } from '../../store/view-slice'
import { Button } from '../parts/button'
import { useAppDispatch, useAppSelector } from '../parts/hooks'
import { ValueField } from '../parts/value-field'
import { knotsOf } from './timeline/thread-overlay'

/** Lowest level that can be typed; below it a thread is silent. */
const RANGE = { min: -90, max: 12, silence: true }

/** The gain thread's values as fields: the selected knot, the shoulders of plateaus, and the way back to plain. */
export function ThreadFields({ session, regions }: { session: Session; regions: readonly Region[] }) {
  const dispatch = useAppDispatch()
  const selected = useAppSelector((s) => s.view.knots)
  const shoulderMs = useAppSelector((s) => s.view.shoulderMs)
  const region = regions.find((r) => r.id === selected?.regionId)
  const knots = region ? knotsOf(session, region) : []
  const index = selected?.indices[0]
  const knot = index === undefined ? undefined : knots[index]
  const rate = session.sampleRate
  const context = { sampleRate: rate, bpm: session.tempo[0]!.bpm }
  const anyShape = regions.some((r) => knotsOf(session, r).length > 0)
  return (
    <div className="flex flex-col gap-2">
      {region && knot && index !== undefined && selected ? (
        <div className="flex items-end gap-2">
          <ValueField
            name="knot-level" className="flex-1" label="Level of the knot" shown={showDb(knot.value === 0 ? null : Math.round(heightToDb(knot.value) * 100) / 100)} parse={(text) => parseLevel(text, RANGE)}
            onValue={(db) => void dispatch(commit(shapeThread, { regionId: region.id, knots: knots.map((k, i) => (selected.indices.includes(i) ? { ...k, value: db === null ? 0 : dbToHeight(db) } : k)), what: 'Level of knot in gain thread' }))}
            onNudge={(direction, fine) => void dispatch(commit(shapeThread, { regionId: region.id, knots: knots.map((k, i) => (selected.indices.includes(i) ? { ...k, value: shiftedHeight(k.value, direction * (fine ? 0.1 : 1)) } : k)), what: 'Level of knot in gain thread' }))}
          />
          <ValueField
            name="knot-time" className="w-24" label="from start" shown={showLength(knot.frame - region.offset, rate)} parse={(text) => parseLength(text, context, { min: 0, max: region.length }, 's')}
            onValue={(frames) => void dispatch(commit(shapeThread, { regionId: region.id, knots: moveKnots(knots, [index], region.offset + frames - knot.frame, 0), what: 'Move knot in gain thread' }))}
          />
          <Button
            className="w-9 !px-0" aria-label="Remove the knot" title="Remove the knot"
            onClick={() => {
              dispatch(commit(shapeThread, { regionId: region.id, knots: removeKnots(knots, selected.indices), what: 'Remove knot in gain thread' }))
              dispatch(knotsSelected(null))
            }}
          ><Trash2 size={15} /></Button>
        </div>
      ) : <p className="text-xs text-soft">Double-click on the thread adds a knot; select one to type its level.</p>}
      <div className="flex items-end gap-2">
        <ValueField
          name="shoulders" className="flex-1" label="Shoulders of a plateau" shown={`${shoulderMs} ms`} parse={(text) => parseLength(text, context, { min: 0, max: rate })}
          onValue={(frames) => void dispatch(shouldersSet(Math.round((frames / rate) * 1e4) / 10))}
        />
        <Button disabled={!anyShape} aria-label="Reset the gain thread" onClick={() => void dispatch(commit(resetThreads, { regionIds: regions.map((r) => r.id) }))}><RotateCcw size={15} />Plain</Button>
      </div>
    </div>
  )
}
