import { useMemo, useRef, useState } from 'react'
import { dbToHeight, heightToDb, UNITY_HEIGHT } from '../../core/units/taper'
import type { Session } from '../../core/model/session'
import type { View } from '../../store/view-slice'
import { useAppDispatch, useAppFields, useAppStore } from '../parts/hooks'
import { Calm } from '../parts/calm'
import { ReadoutCard, type Readout } from '../parts/readout'
import { addKnot, beginThread, type ThreadGround } from './timeline/begin'
import type { Box } from './timeline/geometry'
import { gridFrames, type Snapped } from './timeline/snap'
import { useDrags } from './timeline/use-drags'
import { ThreadOverlay } from './timeline/thread-overlay'
import { valueToY, type ThreadPlace } from './timeline/thread-place'

const LEVELS = [12, 6, 0, -6, -12, -24, -48, null]
const PANS: [number, string][] = [[-1, 'L100'], [-0.5, 'L50'], [0, 'C'], [0.5, 'R50'], [1, 'R100']]

interface Props {
  session: Session
  /** Where the thread's frames lie in the area. */
  view: View
  place: ThreadPlace
  /** Room for the value axis on the left, in pixels; without it there is none. */
  axis?: number
  label: string
  testId: string
}

/** A thread of more knots than this follows a hand elsewhere a few times a second only, so that it follows at once where the hand is. */
const HEAVY = 500

/** An area for one thread; all gestures of the timeline work on it. */
export function ThreadArea(props: Props) {
  const [held, setHeld] = useState(false)
  return (
    <div className="contents" onPointerDownCapture={() => setHeld(true)} onPointerUp={() => setHeld(false)} onPointerCancel={() => setHeld(false)}>
      <Calm when={!held && props.place.knots.length > HEAVY}><Area {...props} /></Calm>
    </div>
  )
}

function Area({ session, view, place, axis, label, testId }: Props) {
  const dispatch = useAppDispatch()
  const store = useAppStore()
  const { hand, timeScale } = useAppFields(({ view: { hand, timeScale } }) => ({ hand, timeScale }))
  const area = useRef<HTMLDivElement>(null)
  const [swept, setSwept] = useState<Box | null>(null)
  const [snapped, setSnapped] = useState<Snapped | null>(null)
  const [readout, setReadout] = useState<Readout | null>(null)
  const places = useMemo(() => [place], [place])
  const ground = (): ThreadGround => ({ dispatch, session, state: store.getState().view, view, showSwept: setSwept, showSnapped: setSnapped, say: setReadout })
  const at = (event: { clientX: number; clientY: number }): [number, number] => {
    const bounds = area.current!.getBoundingClientRect()
    return [event.clientX - bounds.left, event.clientY - bounds.top]
  }
  const bind = useDrags((event) => beginThread(ground(), place, (event.target as Element).closest<HTMLElement>('[data-handle]'), event, ...at(event)))
  const isGain = place.kind.unit === 'gain'
  const marks: [number, string][] = isGain ? LEVELS.map((db) => [db === null ? 0 : dbToHeight(db), db === null ? '−∞' : db > 0 ? `+${db}` : db === 0 ? '0 dB' : `−${-db}`]) : PANS
  let lastY = -Infinity
  return (
    <div ref={area} {...bind()} data-testid={testId} onDoubleClick={(event) => addKnot(ground(), place, event.target as Element, ...at(event))} className={`absolute inset-0 touch-none overflow-hidden select-none ${hand !== 'point' ? 'cursor-crosshair' : ''}`}>
      <svg className="pointer-events-none absolute inset-0" width={view.width} height={view.height} aria-hidden>
        {axis === undefined ? <line x1={0} x2={view.width} y1={valueToY(place, place.kind.unit === 'gain' ? UNITY_HEIGHT : 0)} y2={valueToY(place, place.kind.unit === 'gain' ? UNITY_HEIGHT : 0)} stroke="var(--color-oak)" strokeOpacity={0.5} /> : marks.map(([value, text]) => {
          const y = valueToY(place, value)
          const room = y - lastY > 11
          if (room) lastY = y
          const neutral = isGain ? Math.abs(heightToDb(value)) < 1e-9 : value === 0
          return (
            <g key={text}>
              <line x1={axis} x2={view.width} y1={y} y2={y} stroke={neutral ? 'var(--color-oak)' : 'var(--color-seam)'} strokeWidth={neutral ? 1.5 : 1} />
              {room && <text x={axis - 6} y={y} dominantBaseline="middle" textAnchor="end" className="fill-soft font-mono text-[10.5px]">{text}</text>}
            </g>
          )
        })}
      </svg>
      <ThreadOverlay places={places} view={view} sampleRate={session.sampleRate} grid={gridFrames(session, view.framesPerPixel, timeScale)} label={label} />
      {readout && <ReadoutCard {...readout} width={view.width} />}
      {snapped && <div className="pointer-events-none absolute inset-y-0 w-px bg-madder" style={{ left: (snapped.frame - view.left) / view.framesPerPixel }} />}
      {swept && <div className="pointer-events-none absolute border border-ink bg-oak/10" style={{ left: swept.x, top: swept.y, width: swept.width, height: swept.height }} />}
    </div>
  )
}
