import type { Session } from '../../../core/model/session'
import { barPosition, barToBeat, beatToFrame, secondsToBeat } from '../../../core/units/tempo'
import { showTime } from '../../../core/units/typed'
import type { View } from '../../../store/view'
import { colour, faded } from '../../look/colours'
import { widthOf, write, type Style } from '../../look/writing'
import { frameToX, markStep, RULER_HEIGHT, SECOND_STEPS, xToFrame } from './geometry'

/** What the ruler shows besides bars and seconds, and which of them the grid follows. */
interface Shown {
  range: { from: number; to: number } | null
  loop: boolean
  scale: 'bars' | 'seconds'
}

/** The most of a marker's name that is shown, in pixels. */
const NAME_WIDTH = 90

/** The room for a marker's name, up to the next marker. */
export const markerRoom = (view: View, frame: number, next: number | null): number =>
  Math.min(NAME_WIDTH, next === null ? Infinity : (next - frame) / view.framesPerPixel - 24)

const NAMES = { face: 'words', size: 11 } as const
const FIGURES: Style = { face: 'figures', size: 11.5, dye: 'ink' }

/** Draws the ruler: bars above, seconds below; no label is cut off or lies on another or under a marker. */
export function drawRuler(
  ctx: CanvasRenderingContext2D,
  session: Session,
  view: View,
  { range, loop, scale }: Shown,
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
  const markers = [...session.markers].sort((a, b) => a.frame - b.frame)
  const taken = markers.map((m, i) => {
    const x = frameToX(view, m.frame)
    const room = markerRoom(view, m.frame, markers[i + 1]?.frame ?? null)
    return { from: x, to: x + 10 + Math.min(room, widthOf(m.name, NAMES)) }
  })
  const fits = labelRoom(width, taken)
  for (let n = Math.max(0, Math.floor(view.left / rate / step)); n * step <= lastSecond; n++) {
    const x = frameToX(view, n * step * rate)
    ctx.fillRect(Math.round(x), RULER_HEIGHT / 2 + 3, 1, 7)
    const text = showTime(Math.round(n * step * rate), rate, decimals)
    if (fits(x + 5, widthOf(text, style))) write(ctx, text, x + 5, RULER_HEIGHT * 0.75 - 1, style)
  }
}

/** Half the width of a marker's flag, and the least room between two labels, in pixels. */
const FLAG = 8
const GAP = 4

/**
 * Asks, from left to right, whether a label that begins at a place and is so wide fits: wholly on the ruler, beside the
 * one before it and beside the flags and names at `taken`. All in pixels.
 */
export function labelRoom(
  width: number,
  taken: readonly { from: number; to: number }[],
): (x: number, labelWidth: number) => boolean {
  let end = -GAP
  return (x, labelWidth) => {
    const free =
      x >= Math.max(0, end + GAP) &&
      x + labelWidth <= width &&
      !taken.some(({ from, to }) => to > x - FLAG && from < x + labelWidth + FLAG)
    if (free) end = x + labelWidth
    return free
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
  const fits = labelRoom(view.width, [])
  const every = markStep(barPixels, 44, [1, 2, 4, 8, 16, 32, 64])
  for (let bar = firstBar; ; bar++) {
    const beat = barToBeat(tempo, bar)
    const x = frameToX(view, beatToFrame(tempo, sampleRate, beat))
    if (x > view.width) return
    if ((bar - 1) % every === 0) {
      ctx.fillStyle = colour('ink')
      ctx.fillRect(Math.round(x), 4, 1, 14)
      if (fits(x + 5, widthOf(String(bar), FIGURES))) write(ctx, String(bar), x + 5, 11, FIGURES)
    } else if (barPixels >= 12) {
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
