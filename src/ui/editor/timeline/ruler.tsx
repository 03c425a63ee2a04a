import { useDrag } from '@use-gesture/react'
import { memo, useEffect, useRef } from 'react'
import { showTime } from '../../../core/units/typed'
import type { Session } from '../../../core/model/session'
import { getPlayer } from '../../../store/playback/playback'
import { rangeSet } from '../../../store/view'
import { preparedContext, useAppDispatch, useAppFields, useAppSelector, useAppStore } from '../../parts/hooks'
import { shownSession } from '../../../store/selectors'
import { catchTimes } from '../hands/gesture-context'
import { caughtFrame, snapTargets, type Snapped } from '../hands/snap'
import { drawRuler } from '../drawing/draw-ruler'
import { sameParts } from '../../parts/rendering/same-parts'
import { rangeGesture } from '../hands/sweep-gestures'
import { type Gesture } from '../hands/gesture'
import { MarkerFlags } from './marker-flags'
import { RULER_HEIGHT, xToFrame } from '../drawing/geometry'

/** The ruler in bars and seconds. Pressing or dragging it seeks, to what is near unless Alt is held; with Shift it sets the range. */
export const Ruler = memo(
  function Ruler({
    session,
    onSeek,
    onSnapped,
  }: {
    session: Session
    onSeek(frame: number): void
    /** Shows at what the playhead or a range is caught. */
    onSnapped(snapped: Snapped | null): void
  }) {
    const view = useAppSelector((s) => s.navigation.view)
    const canvas = useRef<HTMLCanvasElement>(null)
    const dispatch = useAppDispatch()
    const range = useAppSelector((s) => s.selection.range)
    const { loop, timeScale } = useAppFields(({ listening: { loop }, preferences: { timeScale } }) => ({
      loop,
      timeScale,
    }))
    const hand = useAppSelector((s) => s.selection.hand)
    const store = useAppStore()

    useEffect(() => {
      const ctx = canvas.current && preparedContext(canvas.current, view.width, RULER_HEIGHT)
      if (ctx) drawRuler(ctx, session, view, { range, loop, scale: timeScale })
    }, [session, view, range, loop, timeScale])

    const bind = useDrag<PointerEvent>(
      ({ first, last, movement: [dx, dy], event, memo }) => {
        const box = canvas.current!.getBoundingClientRect()
        const x = event.clientX - box.left
        if (first && (event.shiftKey || hand === 'range'))
          return rangeGesture(
            dispatch,
            view,
            x,
            range,
            catchTimes({
              session: shownSession(store.getState())!,
              state: store.getState(),
              view,
              showSnapped: onSnapped,
            }),
          )
        const gesture = memo as Gesture | undefined
        if (gesture) {
          gesture.move({ dx, dy, x, fine: event.altKey, shift: false, ctrl: false })
          if (last) gesture.end()
          return gesture
        }
        const session = shownSession(store.getState())!
        const caught = caughtFrame(
          {
            session,
            targets: event.altKey ? [] : snapTargets(session, new Set(), null, range),
            framesPerPixel: view.framesPerPixel,
            scale: timeScale,
          },
          Math.max(0, xToFrame(view, x)),
        )
        onSeek(event.altKey ? Math.round(Math.max(0, xToFrame(view, x))) : caught.frame)
        onSnapped(last || event.altKey ? null : caught.snapped)
        return undefined
      },
      { pointer: { keys: false } },
    )

    return (
      <div
        {...bind()}
        className="relative shrink-0 cursor-col-resize touch-none border-b border-seam bg-cloth"
        style={{ height: RULER_HEIGHT }}
        onDoubleClick={() => dispatch(rangeSet(null))}
      >
        <canvas ref={canvas} className="block" style={{ width: view.width, height: RULER_HEIGHT }} />
        <div
          role="slider"
          // It is no edit: a walk by arrow keys may go on moving it.
          data-keeps-arrows=""
          tabIndex={0}
          aria-label="Playhead"
          aria-valuenow={Math.round((getPlayer()?.position() ?? 0) / session.sampleRate)}
          aria-valuemin={0}
          aria-valuetext={showTime(getPlayer()?.position() ?? 0, session.sampleRate)}
          className="absolute inset-x-0 bottom-0 h-1"
          onKeyDown={(event) => {
            const step = { ArrowLeft: -1, ArrowRight: 1 }[event.key]
            if (step === undefined) return
            event.preventDefault()
            onSeek((getPlayer()?.position() ?? 0) + step * session.sampleRate * (event.altKey ? 0.01 : 0.25))
          }}
        />
        <MarkerFlags session={session} view={view} />
      </div>
    )
  },
  sameParts('tempo', 'sampleRate', 'markers'),
)
