import { type KeyboardEvent, memo, type SyntheticEvent } from 'react'
import { refKey, sameRef, threadOf } from '../../../../core/edit'
import { showTime } from '../../../../core/units/typed'
import { dropKnots } from '../../../../store/actions/thread-actions'
import { knotsSelected, type View } from '../../../../store/view'
import { useAppDispatch, useAppSelector } from '../../../parts/hooks'
import { seenAcross } from '../../drawing/geometry'
import {
  isLevel,
  freeKnotPlaces,
  knotRuns,
  type ThreadPlace,
  threadRuns,
  valueToY,
} from '../../drawing/thread-place'
import { STOP } from '../../hands/weave-gestures'
import { type KnotStep, stepKnots } from '../../hands/step-knots'
import { Knot, RangeBox } from './knot-handles'
import { WeaveFrames } from './weave-frames'

/** Threads drawn over the timeline, with knots that can be grabbed and focused. */
export function ThreadOverlay({
  places,
  inSight = true,
  view,
  sampleRate,
}: {
  places: readonly ThreadPlace[]
  inSight?: boolean
  view: View
  sampleRate: number
}) {
  return places.map((place) => (
    <Thread key={refKey(place.ref)} place={place} inSight={inSight} view={view} sampleRate={sampleRate} />
  ))
}

/** How far knots at the highest and the lowest value may reach beyond the place of their thread, in pixels. */
const OVER = 12

/** The layer of a thread grows in steps of this, in pixels. */
const STEADY = 4096

const STEPS: Record<string, Pick<KnotStep, 'time' | 'level'>> = {
  ArrowRight: { time: 1 },
  ArrowLeft: { time: -1 },
  ArrowUp: { level: 1 },
  ArrowDown: { level: -1 },
}

const Thread = memo(function Thread({
  place,
  inSight,
  view,
  sampleRate,
}: {
  place: ThreadPlace
  inSight: boolean
  view: View
  sampleRate: number
}) {
  const dispatch = useAppDispatch()
  const selected = useAppSelector((s) => s.selection.knots)
  const { ref, knots, kind } = place
  const chosen = selected && sameRef(selected.ref, ref) ? selected.indices : []
  const weaving = useAppSelector((s) => s.selection.hand === 'weave')
  // Where lanes begin: at the start of the session, or at the axis of the bench.
  const seen = seenAcross(view)
  const left = Math.max(seen.from, place.box.x)
  const whole = {
    from: Math.max(Math.floor(seen.from / STEADY) * STEADY, place.box.x),
    to: Math.min(Math.ceil(seen.to / STEADY) * STEADY, place.box.x + place.box.width),
  }
  const neutralY = valueToY(place, kind.defaultValue)
  const runs = threadRuns(view, place)
  const key = refKey(ref)
  const dye = `var(--color-${place.look.dye})`
  const shape = place.look.knotShape
  const knotOf = (event: SyntheticEvent) => {
    const index = (event.target as Element).getAttribute('data-knot')
    return index === null ? null : Number(index)
  }
  const onKeyDown = (event: KeyboardEvent) => {
    const index = knotOf(event)
    if (index === null) return
    const indices = chosen.includes(index) ? chosen : [index]
    const step = STEPS[event.key]
    if (step) dispatch(stepKnots(ref, indices, { ...step, fine: event.altKey }, view.framesPerPixel))
    else if (event.key === 'Delete' || event.key === 'Backspace') dispatch(dropKnots(ref, indices))
    else return
    event.preventDefault()
    event.stopPropagation()
  }
  // While a hand shapes or rides a lane, what it replaces stays to be seen.
  const before = useAppSelector((s) =>
    ref.kind === 'lane' && s.session.base ? threadOf(s.session.base, ref)?.knots : undefined,
  )
  const ghost =
    before && before !== knots
      ? threadRuns(view, { ...place, knots: before })
          .map((run) => run.d)
          .join('')
      : null
  const shown = freeKnotPlaces(view, place)
  // Knots that would lie on each other are drawn as the line alone; zooming in parts them.
  const crowded =
    shown.length > 400 || (shown.length > 12 && (shown.at(-1)!.x - shown[0]!.x) / shown.length < 11)
  return (
    // A layer for each thread, so that only those that change are painted anew.
    <svg
      data-thread
      className="pointer-events-none absolute top-0 left-0 overflow-visible will-change-transform"
      width={1}
      height={1}
      opacity={place.bypassed ? 0.45 : 1}
      onKeyDown={onKeyDown}
      onFocus={(event) => {
        const index = knotOf(event)
        if (index !== null && !chosen.includes(index)) dispatch(knotsSelected({ ref, indices: [index] }))
      }}
    >
      {/* Almost invisible: keeps the layer at its largest size, since browsers recompute all layers when one grows. */}
      <rect
        x={whole.from}
        y={place.box.y - OVER}
        width={Math.max(0, whole.to - whole.from)}
        height={place.box.height + 2 * OVER}
        fill="var(--color-white)"
        fillOpacity={0.004}
      />
      {ref.kind === 'lane' && place.tag && (
        <path
          d={`M${left} ${neutralY}H${seen.to}`}
          stroke="var(--color-walnut)"
          strokeOpacity={0.45}
          strokeDasharray="2 3"
        />
      )}
      {weaving && ref.kind === 'lane' && kind.catchesPlain && (
        <g>
          <path
            d={`M${left} ${neutralY - STOP}H${seen.to}`}
            stroke="var(--color-madder)"
            strokeOpacity={0.6}
            strokeDasharray="6 4"
          />
          <path
            d={`M${left} ${neutralY}H${seen.to}V${neutralY - STOP}H${left}Z`}
            fill="var(--color-madder)"
            fillOpacity={0.06}
          />
        </g>
      )}
      {ghost && (
        <path
          d={ghost}
          fill="none"
          stroke={dye}
          strokeWidth={1.2}
          strokeDasharray="2 3"
          strokeOpacity={0.7}
        />
      )}
      {!crowded &&
        runs.map(({ column, d }) => (
          <path
            key={column}
            d={d}
            fill="none"
            stroke="var(--color-white)"
            strokeWidth={4}
            strokeLinejoin="round"
            strokeOpacity={0.8}
          />
        ))}
      {runs.map(({ column, d }) => (
        <path
          key={column}
          d={d}
          fill="none"
          stroke={dye}
          strokeWidth={crowded ? 1.2 : 2}
          strokeLinecap={isLevel(d) ? 'butt' : 'round'}
          strokeLinejoin="round"
          strokeDasharray={place.bypassed ? '6 4' : undefined}
        />
      ))}
      {runs.map(({ column, d }) => (
        <path
          key={column}
          d={d}
          fill="none"
          strokeWidth={11}
          strokeLinejoin="round"
          data-handle="stretch"
          data-ref={key}
          className="cursor-ns-resize [pointer-events:stroke]"
        />
      ))}
      {place.weaves.length > 0 && <WeaveFrames place={place} view={view} threadKey={key} />}
      {chosen.length > 1 && <RangeBox place={place} view={view} chosen={chosen} threadKey={key} />}
      {!crowded &&
        knotRuns(shown, shape === 'round').map(({ column, d }) => (
          <path
            key={column}
            d={d}
            fill={shape === 'filled' ? dye : 'var(--color-linen)'}
            stroke={dye}
            strokeWidth={2}
          />
        ))}
      {!crowded &&
        inSight &&
        shown.map(({ index, x, y }) => (
          <Knot
            key={index}
            shape={shape}
            index={index}
            x={x}
            y={y}
            dye={dye}
            chosen={chosen.includes(index)}
            threadKey={key}
            label={`Knot ${index + 1} of ${place.name}`}
            value={kind.units(knots[index]!.value)}
            min={kind.unitRange.min}
            max={kind.unitRange.max}
            text={`${kind.show(knots[index]!.value)} at ${showTime(place.toSession(knots[index]!.frame), sampleRate)}`}
          />
        ))}
    </svg>
  )
})
