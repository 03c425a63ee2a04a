import type { KeyboardEvent } from 'react'
import { crossfadeJoins, crossfadeOf, removeCrossfades, shiftCrossfade } from '../../../core/edit'
import { regionEnd } from '../../../core/model/queries'
import type { Crossfade, Region, Session } from '../../../core/model/session'
import { showLength } from '../../../core/units/typed'
import { commit } from '../../../store/edits'
import { DEFAULT_CROSSFADE_SECONDS } from '../../../store/actions/region-actions'
import { crossfadePicked, type View } from '../../../store/view'
import { useAppDispatch, useAppSelector } from '../../parts/hooks'
import { lawNames } from '../parts/fields/law-names'
import {
  frameToX,
  ROW_PAD,
  rowHeight,
  rowTop,
  soundBox,
  seenAcross,
  visibleRegions,
} from '../drawing/geometry'

/** What can be grabbed where two regions of a row meet: joins that become crossfades, and crossfades that slide. */
export function Joins({
  session,
  regions,
  row,
  view,
}: {
  session: Session
  regions: readonly Region[]
  row: number
  view: View
}) {
  const seen = seenAcross(view)
  const top = rowTop(view, row) + ROW_PAD
  const { height } = soundBox({ x: 0, y: 0, width: 0, height: rowHeight(view, row) - 2 * ROW_PAD })
  const { first, last } = visibleRegions(regions, view)
  return regions.slice(Math.max(1, first), last + 1).map((right, i) => {
    const left = regions[Math.max(1, first) + i - 1]!
    // Narrow pieces leave no room for a handle.
    if (right.start > regionEnd(left) || Math.min(left.length, right.length) / view.framesPerPixel < 40)
      return null
    const fade =
      right.start < regionEnd(left) ? crossfadeOf(session, { leftId: left.id, rightId: right.id }) : null
    const x = frameToX(view, right.start)
    if (fade)
      return (
        <CrossfadeHandle
          key={fade.id}
          fade={fade}
          left={left}
          right={right}
          x={x}
          width={(regionEnd(left) - right.start) / view.framesPerPixel}
          top={top}
          height={height}
          rate={session.sampleRate}
          seen={seen}
        />
      )
    return (
      x > seen.from - 8 &&
      x < seen.to + 8 && (
        <JoinHandle
          key={`${left.id} ${right.id}`}
          left={left}
          right={right}
          x={x}
          top={top}
          height={height}
          rate={session.sampleRate}
        />
      )
    )
  })
}

/** Where two regions touch: dragging across it makes a crossfade, so does Enter. */
function JoinHandle({
  left,
  right,
  x,
  top,
  height,
  rate,
}: {
  left: Region
  right: Region
  x: number
  top: number
  /** Height of the sound there. */
  height: number
  rate: number
}) {
  const dispatch = useAppDispatch()
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.key !== 'Enter' && event.key !== 'c') return
    event.preventDefault()
    event.stopPropagation()
    dispatch(
      commit(crossfadeJoins, {
        joins: [{ leftId: left.id, rightId: right.id }],
        lengthFrames: Math.round(rate * DEFAULT_CROSSFADE_SECONDS),
        law: 'equal-power',
      }),
    )
    dispatch((d, getState) => {
      const made = crossfadeOf(getState().session.session!, { leftId: left.id, rightId: right.id })
      if (made) d(crossfadePicked({ id: made.id, trackId: left.trackId }))
    })
  }
  return (
    <button
      type="button"
      data-handle="join"
      data-left={left.id}
      data-right={right.id}
      onKeyDown={onKeyDown}
      title="Drag across: crossfade (Enter: 30 ms)"
      aria-label={`Join of ${left.name} and ${right.name}`}
      className="group/join absolute z-[3] -ml-3 w-6 cursor-ew-resize touch-none"
      style={{ left: x, top: top + height - 18, height: 24 }}
    >
      <span className="absolute top-1.75 left-1.75 block h-2.5 w-2.5 rotate-45 border-2 border-walnut bg-linen invisible group-hover/join:visible group-focus-visible/join:visible" />
    </button>
  )
}

/** A crossfade: click selects it, dragging slides it; arrow keys change its length. */
function CrossfadeHandle({
  fade,
  left,
  right,
  x,
  width,
  top,
  height,
  rate,
  seen,
}: {
  fade: Crossfade
  left: Region
  right: Region
  x: number
  width: number
  top: number
  /** Height of the sound there. */
  height: number
  rate: number
  seen: { from: number; to: number }
}) {
  const dispatch = useAppDispatch()
  const chosen = useAppSelector((s) => s.selection.crossfadeId === fade.id)
  const [from, to] = [Math.max(seen.from - 10, x), Math.min(seen.to + 10, x + width)]
  if (to <= from) return null
  const overlap = regionEnd(left) - right.start
  const pick = () => dispatch(crossfadePicked({ id: fade.id, trackId: left.trackId }))
  const onKeyDown = (event: KeyboardEvent) => {
    const by = { ArrowRight: 1, ArrowLeft: -1 }[event.key]
    if (by) {
      const lengthFrames = Math.max(1, overlap + by * Math.round(rate * (event.altKey ? 0.001 : 0.01)))
      dispatch(
        event.shiftKey
          ? commit(shiftCrossfade, {
              crossfadeId: fade.id,
              edge: 'both',
              byFrames: by * Math.round(rate * (event.altKey ? 0.001 : 0.01)),
            })
          : commit(crossfadeJoins, { joins: [fade], lengthFrames, law: fade.law }),
      )
    } else if (event.key === 'Enter') pick()
    else if (event.key === 'Delete' || event.key === 'Backspace')
      dispatch(commit(removeCrossfades, { crossfadeIds: [fade.id] }))
    else return
    event.preventDefault()
    event.stopPropagation()
  }
  return (
    <button
      type="button"
      data-handle="crossfade"
      data-crossfade={fade.id}
      onClick={pick}
      onFocus={pick}
      onKeyDown={onKeyDown}
      aria-pressed={chosen}
      title="Drag: slide the crossfade. Its edges: length of each side"
      aria-label={`Crossfade of ${left.name} into ${right.name}, ${showLength(overlap, rate)}, ${lawNames[fade.law]}`}
      className={`absolute cursor-grab touch-none rounded-sm ${chosen ? 'ring-2 ring-ink' : 'hover:ring-1 hover:ring-ink/60'}`}
      style={{
        left: Math.min(from, (from + to) / 2 - 6),
        width: Math.max(12, to - from),
        top: top + Math.min(18, height / 4),
        height: Math.max(10, height - 32),
      }}
    />
  )
}
