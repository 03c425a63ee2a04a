import type { Session } from '../../../core/model/session'
import { barPosition, barToBeat, beatToFrame, secondsToBeat } from '../../../core/units/tempo'
import type { View } from '../../../store/view'
import { faded } from '../../look/colours'
import { frameToX, markStep, SECOND_STEPS } from './geometry'

/** Least distance of grid lines, in pixels. */
const GRID_PIXELS = 12

/** How many bars lie between two lines of the grid at a zoom: 1, or 4, 16 … so that lines keep apart. */
export function gridBars({ tempo, sampleRate }: Session, framesPerPixel: number): number {
  const barPixels = (((60 / tempo[0]!.bpm) * sampleRate) / framesPerPixel) * tempo[0]!.beatsPerBar
  let bars = 1
  while (barPixels * bars < GRID_PIXELS) bars *= 4
  return bars
}

/** Thin lines over the height of a view: at bars and, where they are far enough apart, at beats; or at seconds. */
export function drawGrid(
  ctx: CanvasRenderingContext2D,
  session: Session,
  view: View,
  scale: 'bars' | 'seconds',
): void {
  if (scale === 'seconds') drawSeconds(ctx, session.sampleRate, view)
  else drawBars(ctx, session, view)
}

function drawBars(ctx: CanvasRenderingContext2D, session: Session, view: View): void {
  const { tempo, sampleRate } = session
  const beatPixels = ((60 / tempo[0]!.bpm) * sampleRate) / view.framesPerPixel
  const first = Math.max(1, barPosition(tempo, Math.max(0, secondsToBeat(tempo, view.left / sampleRate))).bar)
  const skip = gridBars(session, view.framesPerPixel)
  let bar = first - ((first - 1) % skip)
  for (; ; bar += skip) {
    const beat = barToBeat(tempo, bar)
    const x = frameToX(view, beatToFrame(tempo, sampleRate, beat))
    if (x > view.width) return
    ctx.fillStyle = faded('seam', 0.55)
    ctx.fillRect(Math.round(x), 0, 1, view.height)
    if (beatPixels < 24) continue
    ctx.fillStyle = faded('seam', 0.28)
    for (let b = beat + 1; b < barToBeat(tempo, bar + 1) - 1e-9; b++)
      ctx.fillRect(Math.round(frameToX(view, beatToFrame(tempo, sampleRate, b))), 0, 1, view.height)
  }
}

function drawSeconds(ctx: CanvasRenderingContext2D, sampleRate: number, view: View): void {
  const step = markStep(sampleRate / view.framesPerPixel, 14, SECOND_STEPS)
  const main = markStep(sampleRate / view.framesPerPixel, 74, SECOND_STEPS)
  for (let n = Math.ceil(view.left / sampleRate / step); ; n++) {
    const x = frameToX(view, n * step * sampleRate)
    if (x > view.width) return
    ctx.fillStyle = faded(
      'seam',
      Math.abs((n * step) / main - Math.round((n * step) / main)) < 1e-6 ? 0.55 : 0.28,
    )
    ctx.fillRect(Math.round(x), 0, 1, view.height)
  }
}
