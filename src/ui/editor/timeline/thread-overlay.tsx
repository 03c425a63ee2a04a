import { memo, type KeyboardEvent } from 'react'
import { valueAt } from '../../../core/curve/knots'
import { refKey, sameRef } from '../../../core/edit'
import { heightToDb } from '../../../core/units/taper'
import { showTime } from '../../../core/units/typed'
import { dropKnots, nudgeKnots, shiftKnots, showValue } from '../../../store/thread-actions'
import { knotsSelected, type View } from '../../../store/view-slice'
import { useAppDispatch, useAppSelector } from '../../parts/hooks'
import { knotPlaces, threadPath, valueToY, type KnotPlace, type ThreadPlace } from './thread-place'

/** Threads drawn over the timeline, with knots that can be grabbed and focused. */
export function ThreadOverlay({ places, view, sampleRate, label }: { places: readonly ThreadPlace[]; view: View; sampleRate: number; label: string }) {
  return (
    <svg className="pointer-events-none absolute inset-0 overflow-hidden" width={view.width} height={view.height} role="group" aria-label={label}>
      {places.map((place) => <Thread key={refKey(place.ref)} place={place} view={view} sampleRate={sampleRate} />)}
    </svg>
  )
}

/** Gain threads have squares on a corner, volume filled diamonds, pan rounds; each has a dye of its own. */
const dyes = { region: 'var(--color-weld)', gain: 'var(--color-madder)', pan: 'var(--color-woad)' }

const Thread = memo(function Thread({ place, view, sampleRate }: { place: ThreadPlace; view: View; sampleRate: number }) {
  const dispatch = useAppDispatch()
  const selected = useAppSelector((s) => s.view.knots)
  const { ref, knots, kind } = place
  const chosen = selected && sameRef(selected.ref, ref) ? selected.indices : []
  const path = threadPath(view, place)
  const key = refKey(ref)
  const dye = ref.kind === 'region' ? dyes.region : dyes[kind.unit]
  const onKeyDown = (index: number) => (event: KeyboardEvent) => {
    const indices = chosen.includes(index) ? chosen : [index]
    const time = { ArrowRight: 1, ArrowLeft: -1 }[event.key]
    const level = { ArrowUp: 1, ArrowDown: -1 }[event.key]
    // Finely: by a frame where single frames are seen, else by a millisecond.
    if (time) dispatch(nudgeKnots(ref, indices, time * place.direction * (event.altKey ? (view.framesPerPixel < 1 ? 1 : Math.round(sampleRate * 0.001)) : Math.max(1, Math.round(view.framesPerPixel < 1 ? 8 : sampleRate * 0.01)))))
    else if (level) dispatch(shiftKnots(ref, indices, level * (event.altKey ? 0.1 : 1) * (kind.unit === 'pan' ? -5 : 1)))
    else if (event.key === 'Delete' || event.key === 'Backspace') dispatch(dropKnots(ref, indices))
    else return
    event.preventDefault()
    event.stopPropagation()
  }
  const shown = knotPlaces(view, place)
  // Knots closer than they are wide are drawn as the line alone; zooming in parts them.
  const crowded = shown.length > 400 || (shown.length > 12 && (shown.at(-1)!.x - shown[0]!.x) / shown.length < 7)
  return (
    <g opacity={place.bypassed ? 0.45 : 1}>
      {!crowded && <path d={path} fill="none" stroke="var(--color-white)" strokeWidth={4} strokeOpacity={0.8} />}
      <path d={path} fill="none" stroke={dye} strokeWidth={crowded ? 1.2 : 2} strokeDasharray={place.bypassed ? '6 4' : undefined} />
      {place.tag && <Tag text={`${place.tag}${place.bypassed ? ', bypassed' : ''}`} x={6} y={valueToY(place, valueAt(kind, knots, Math.max(0, view.left)))} dye={dye} />}
      <path d={path} fill="none" stroke="transparent" strokeWidth={11} data-handle="stretch" data-ref={key} className="pointer-events-auto cursor-ns-resize" />
      {!crowded && shown.map(({ index, x, y }) => (
        <Knot
          key={index} shape={kind.unit === 'pan' ? 'round' : ref.kind === 'region' ? 'square' : 'filled'} place={{ index, x, y }} dye={dye} chosen={chosen.includes(index)} threadKey={key}
          label={`Knot ${index + 1} of ${place.name}`} value={kind.unit === 'pan' ? Math.round(knots[index]!.value * 100) : Math.max(-90, Math.round(heightToDb(knots[index]!.value) * 10) / 10)} range={kind.unit === 'pan' ? [-100, 100] : [-90, 12]}
          text={`${showValue(kind, knots[index]!.value)} at ${showTime(place.toSession(knots[index]!.frame), sampleRate)}`}
          onKeyDown={onKeyDown(index)} onFocus={() => !chosen.includes(index) && dispatch(knotsSelected({ ref, indices: [index] }))}
        />
      ))}
    </g>
  )
})

/** The name of a lane at the left end of its line. */
function Tag({ text, x, y, dye }: { text: string; x: number; y: number; dye: string }) {
  return (
    <g transform={`translate(${x} ${y - 7})`}>
      <rect width={text.length * 5.9 + 10} height={14} rx={4} fill="var(--color-white)" stroke={dye} />
      <text x={5} y={10.5} className="fill-ink text-[10.5px]">{text}</text>
    </g>
  )
}

function Knot({ shape, place: { index, x, y }, dye, chosen, threadKey, label, value, range, text, onKeyDown, onFocus }: {
  shape: 'square' | 'filled' | 'round'; place: KnotPlace; dye: string; chosen: boolean; threadKey: string; label: string; value: number; range: [number, number]; text: string; onKeyDown(event: KeyboardEvent): void; onFocus(): void
}) {
  const handle = {
    'data-handle': 'knot', 'data-ref': threadKey, 'data-knot': index, tabIndex: 0, role: 'slider', 'aria-label': label, 'aria-valuemin': range[0], 'aria-valuemax': range[1], 'aria-valuenow': value, 'aria-valuetext': text,
    onKeyDown, onFocus, stroke: dye, strokeWidth: 2, className: 'pointer-events-auto cursor-move',
    fill: chosen ? (shape === 'filled' ? 'var(--color-ink)' : dye) : shape === 'filled' ? dye : 'var(--color-linen)',
  }
  if (shape === 'round') return <circle {...handle} cx={x} cy={y} r={4.8} />
  return <rect {...handle} x={x - 4.5} y={y - 4.5} width={9} height={9} transform={`rotate(45 ${x} ${y})`} />
}
