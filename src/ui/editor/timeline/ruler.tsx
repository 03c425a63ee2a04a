import { useDrag } from '@use-gesture/react'
import { memo, useEffect, useRef } from 'react'
import { barPosition, barToBeat, beatToFrame, secondsToBeat } from '../../../core/units/tempo'
import { showTime } from '../../../core/units/typed'
import type { Session } from '../../../core/model/session'
import { getPlayer } from '../../../store/playback'
import { rangeSet, type View } from '../../../store/view-slice'
import { colour, faded } from '../../look/colours'
import { write, type Style } from '../../look/writing'
import { preparedContext, useAppDispatch, useAppFields, useAppSelector, useAppStore } from '../../parts/hooks'
import { shownSession } from '../../../store/selectors'
import { caughtFrame } from '../hands/snap'
import { sameParts } from '../../parts/same-parts'
import { rangeGesture } from '../hands/sweep-gestures'
import { type Gesture } from '../hands/gesture'
import { MarkerFlags } from './marker-flags'
import { frameToX, markStep, RULER_HEIGHT, SECOND_STEPS, xToFrame } from '../drawing/geometry'

/** The ruler in bars and seconds. Pressing or dragging it seeks, to what is near unless Alt is held; with Shift it sets the range. */
export const Ruler = memo(
  function Ruler({ session, onSeek }: { session: Session; onSeek(frame: number): void }) {
    const view = useAppSelector((s) => s.view.view)
    const canvas = useRef<HTMLCanvasElement>(null)
    const dispatch = useAppDispatch()
    const range = useAppSelector((s) => s.view.range)
    const { loop, timeScale } = useAppFields(({ view: { loop, timeScale } }) => ({ loop, timeScale }))
    const hand = useAppSelector((s) => s.view.hand)
    const store = useAppStore()

    useEffect(() => {
      const ctx = canvas.current && preparedContext(canvas.current, view.width, RULER_HEIGHT)
      if (ctx) drawRuler(ctx, session, view, range, loop, timeScale)
    }, [session, view, range, loop, timeScale])

    const bind = useDrag<PointerEvent>(
      ({ first, last, movement: [dx, dy], event, memo }) => {
        const box = canvas.current!.getBoundingClientRect()
        const x = event.clientX - box.left
        const caught = (frame: number, free: boolean, playhead: number | null) =>
          free
            ? Math.round(frame)
            : caughtFrame(shownSession(store.getState())!, frame, {
                framesPerPixel: view.framesPerPixel,
                scale: timeScale,
                playhead,
              }).frame
        if (first && (event.shiftKey || hand === 'range'))
          return rangeGesture(dispatch, view, x, range, (frame, free) =>
            caught(frame, free, getPlayer()?.position() ?? 0),
          )
        const gesture = memo as Gesture | undefined
        if (gesture) {
          gesture.move({ dx, dy, x, fine: event.altKey, shift: false, ctrl: false })
          if (last) gesture.end()
          return gesture
        }
        onSeek(caught(Math.max(0, xToFrame(view, x)), event.altKey, null))
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

const FIGURES: Style = { face: 'figures', size: 11.5, dye: 'ink' }

function drawRuler(
  ctx: CanvasRenderingContext2D,
  session: Session,
  view: View,
  range: { from: number; to: number } | null,
  loop: boolean,
  scale: 'bars' | 'seconds',
): void {
  const { width } = view
  const rate = session.sampleRate
  if (range) {
    const [a, b] = [frameToX(view, range.from), frameToX(view, range.to)]
    ctx.fillStyle = loop ? colour('oak') : faded('oak', 0.35)
    ctx.fillRect(a, RULER_HEIGHT - 5, b - a, 5)
  }
  // What the grid follows stands in ink.
  ctx.globalAlpha = scale === 'bars' ? 1 : 0.6
  drawBars(ctx, session, view)
  ctx.globalAlpha = 1
  // Seconds below.
  const step = markStep(rate / view.framesPerPixel, 74, SECOND_STEPS)
  const decimals = Math.max(0, Math.ceil(-Math.log10(step) - 1e-9))
  const style: Style = { ...FIGURES, dye: scale === 'seconds' ? 'ink' : 'soft' }
  ctx.fillStyle = colour(style.dye)
  const lastSecond = xToFrame(view, width) / rate
  for (let n = Math.max(0, Math.floor(view.left / rate / step)); n * step <= lastSecond; n++) {
    const x = frameToX(view, n * step * rate)
    ctx.fillRect(Math.round(x), RULER_HEIGHT / 2 + 3, 1, 7)
    write(ctx, showTime(Math.round(n * step * rate), rate, decimals), x + 5, RULER_HEIGHT * 0.75 - 1, style)
  }
}

/** Bars at the top: numbers where there is room, small marks for beats. */
function drawBars(ctx: CanvasRenderingContext2D, session: Session, view: View): void {
  const { tempo, sampleRate } = session
  const firstBeat = Math.max(0, secondsToBeat(tempo, view.left / sampleRate))
  const firstBar = Math.max(1, barPosition(tempo, firstBeat).bar)
  const barPixels =
    (beatToFrame(tempo, sampleRate, barToBeat(tempo, firstBar + 1)) -
      beatToFrame(tempo, sampleRate, barToBeat(tempo, firstBar))) /
    view.framesPerPixel
  const every = markStep(barPixels, 44, [1, 2, 4, 8, 16, 32, 64])
  for (let bar = firstBar; ; bar++) {
    const beat = barToBeat(tempo, bar)
    const x = frameToX(view, beatToFrame(tempo, sampleRate, beat))
    if (x > view.width) return
    if ((bar - 1) % every === 0) {
      ctx.fillStyle = colour('ink')
      ctx.fillRect(Math.round(x), 4, 1, 14)
      write(ctx, String(bar), x + 5, 11, FIGURES)
    } else if (barPixels > 6) {
      ctx.fillStyle = colour('seam')
      ctx.fillRect(Math.round(x), 12, 1, 6)
    }
    if (barPixels < 60) continue
    const next = barToBeat(tempo, bar + 1)
    ctx.fillStyle = colour('seam')
    for (let b = beat + 1; b < next - 1e-9; b++)
      ctx.fillRect(Math.round(frameToX(view, beatToFrame(tempo, sampleRate, b))), 13, 1, 5)
  }
}
