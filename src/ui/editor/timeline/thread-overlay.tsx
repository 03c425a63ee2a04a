import type { KeyboardEvent } from 'react'
import { moveKnots, removeKnots, shiftedHeight } from '../../../core/curve/knots'
import { shapeThread } from '../../../core/edit'
import type { Knot, Region, Session } from '../../../core/model/session'
import { heightToDb } from '../../../core/units/taper'
import { showDb, showTime } from '../../../core/units/typed'
import { commit } from '../../../store/edits'
import { knotsSelected, type View } from '../../../store/view-slice'
import { useAppDispatch, useAppSelector } from '../../parts/hooks'
import { regionBox, soundBox, visibleRegions, visibleRows } from './geometry'
import { knotPlaces, sourceToSession, threadPath } from './thread-geometry'

const none: readonly Knot[] = []

/** The knots of a region's gain thread; none when it has no thread. */
export const knotsOf = (session: Session, region: Region): readonly Knot[] => (region.gainThreadId === null ? none : session.gainThreads[region.gainThreadId]!.knots)

/** The gain threads of all visible regions, drawn over them: lines and squares on a corner that can be grabbed and focused. */
export function ThreadOverlay({ session, rows, view }: { session: Session; rows: readonly (readonly Region[])[]; view: View }) {
  const { first, last } = visibleRows(view, rows.length)
  const threads = []
  for (let row = first; row < last; row++) {
    const seen = visibleRegions(rows[row]!, view)
    for (let r = seen.first; r < seen.last; r++) {
      const region = rows[row]![r]!
      const box = soundBox(regionBox(view, region, row))
      if (box.width >= 4) threads.push(<Thread key={region.id} session={session} region={region} view={view} box={box} />)
    }
  }
  return <svg className="pointer-events-none absolute inset-0 overflow-hidden" width={view.width} height={view.height} role="group" aria-label="Gain threads">{threads}</svg>
}

function Thread({ session, region, view, box }: { session: Session; region: Region; view: View; box: ReturnType<typeof soundBox> }) {
  const dispatch = useAppDispatch()
  const selected = useAppSelector((s) => s.view.knots)
  const knots = knotsOf(session, region)
  const path = threadPath(view, region, box, knots)
  const chosen = selected?.regionId === region.id ? selected.indices : []
  const onKeyDown = (index: number) => (event: KeyboardEvent) => {
    const indices = chosen.includes(index) ? chosen : [index]
    const time = { ArrowRight: 1, ArrowLeft: -1 }[event.key]
    const level = { ArrowUp: 1, ArrowDown: -1 }[event.key]
    if (time) {
      const frames = time * (region.reversed ? -1 : 1) * Math.round(session.sampleRate * (event.altKey ? 0.001 : 0.01))
      dispatch(commit(shapeThread, { regionId: region.id, knots: moveKnots(knots, indices, frames, 0), what: 'Move knot in gain thread' }))
    } else if (level) {
      const by = level * (event.altKey ? 0.1 : 1)
      dispatch(commit(shapeThread, { regionId: region.id, knots: knots.map((k, i) => (indices.includes(i) ? { ...k, value: shiftedHeight(k.value, by) } : k)), what: 'Level of knot in gain thread' }))
    } else if (event.key === 'Delete' || event.key === 'Backspace') {
      dispatch(commit(shapeThread, { regionId: region.id, knots: removeKnots(knots, indices), what: 'Remove knot in gain thread' }))
      dispatch(knotsSelected(null))
    } else return
    event.preventDefault()
    event.stopPropagation()
  }
  return (
    <g>
      <path d={path} fill="none" stroke="var(--color-white)" strokeWidth={4} strokeOpacity={0.8} />
      <path d={path} fill="none" stroke="var(--color-weld)" strokeWidth={2} />
      <path d={path} fill="none" stroke="transparent" strokeWidth={11} data-handle="stretch" data-region={region.id} className="pointer-events-auto cursor-ns-resize" />
      {knotPlaces(view, region, box, knots).map(({ index, x, y }) => (
        <rect
          key={index} data-handle="knot" data-region={region.id} data-knot={index} x={x - 4.5} y={y - 4.5} width={9} height={9} transform={`rotate(45 ${x} ${y})`} tabIndex={0} role="slider"
          aria-label={`Knot ${index + 1} of ${region.name}`} aria-valuemin={-90} aria-valuemax={12} aria-valuenow={Math.max(-90, Math.round(heightToDb(knots[index]!.value) * 10) / 10)}
          aria-valuetext={`${showDb(Math.round(heightToDb(knots[index]!.value) * 10) / 10)} at ${showTime(sourceToSession(region, knots[index]!.frame), session.sampleRate)}`}
          onKeyDown={onKeyDown(index)} onFocus={() => !chosen.includes(index) && dispatch(knotsSelected({ regionId: region.id, indices: [index] }))}
          fill={chosen.includes(index) ? 'var(--color-weld)' : 'var(--color-linen)'} stroke="var(--color-weld)" strokeWidth={2} className="pointer-events-auto cursor-move"
        />
      ))}
    </g>
  )
}
