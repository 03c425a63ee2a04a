import { clamp } from '../../../core/units/clamp'
import { colour, faded } from '../../look/colours'
import { write } from '../../look/writing'
import { FIGURES } from '../drawing/axes'
import type { LiveMeasure } from './live-measure'

/** The range of the level bars in dB below full scale, and levels with a figure. */
const RANGE_DB = 60
const NAMED = [-48, -36, -24, -12, -6, 0]

/** Left and right as bars: RMS full, the peak pale, its highest place as a line, with a scale below. */
export function drawLevelBars(
  ctx: CanvasRenderingContext2D,
  { sides }: LiveMeasure,
  width: number,
  height: number,
): void {
  const part = (db: number) => clamp(1 + db / RANGE_DB, 0, 1)
  const inner = width - 14
  const bar = Math.floor((height - 16) / 2)
  sides.forEach(({ peakDb, holdDb, rmsDb }, c) => {
    const y = c * (bar + 2)
    write(ctx, c === 0 ? 'L' : 'R', 0, y + bar / 2, FIGURES)
    ctx.fillStyle = colour('fold')
    ctx.fillRect(14, y, inner, bar)
    ctx.fillStyle = faded('pine', 0.45)
    ctx.fillRect(14, y, part(peakDb) * inner, bar)
    ctx.fillStyle = colour('pine')
    ctx.fillRect(14, y, part(rmsDb) * inner, bar)
    if (holdDb > -RANGE_DB) {
      ctx.fillStyle = colour(holdDb > 0 ? 'fault' : 'ink')
      ctx.fillRect(14 + Math.min(inner - 2, part(holdDb) * inner - 1), y, 2, bar)
    }
  })
  for (const db of NAMED) {
    const x = 14 + part(db) * inner
    ctx.fillStyle = faded('ink', 0.3)
    ctx.fillRect(Math.min(Math.round(x), width - 1), 0, 1, 2 * bar + 2)
    write(ctx, db === 0 ? '0' : String(-db), Math.min(x + 5, width), height - 6, FIGURES, 'right')
  }
}

/** What is softer than this is not drawn any larger. */
const SOFTEST = 0.003
/** Samples that are drawn at once. */
const DOTS = 2048

/** Left against right, turned by 45°: alike stands upright, against each other lies flat; below it the correlation. */
export function drawScope(
  ctx: CanvasRenderingContext2D,
  measure: LiveMeasure,
  width: number,
  height: number,
): void {
  const { left, right, correlation } = measure
  const foot = 18
  const side = Math.min(width, height - foot)
  const [x0, y0] = [width / 2, (height - foot) / 2]
  const half = side / 2 - 6
  ctx.strokeStyle = faded('seam', 0.9)
  ctx.lineWidth = 1
  ctx.beginPath()
  // The axes of left, right, the middle and the side.
  for (const [x, y] of [
    [0, 1],
    [1, 0],
    [0.707, 0.707],
    [-0.707, 0.707],
  ] as const) {
    ctx.moveTo(x0 - x * half, y0 - y * half)
    ctx.lineTo(x0 + x * half, y0 + y * half)
  }
  ctx.stroke()
  write(ctx, 'L', x0 - 0.707 * half - 9, y0 - 0.707 * half, FIGURES)
  write(ctx, 'R', x0 + 0.707 * half + 3, y0 - 0.707 * half, FIGURES)
  ctx.fillStyle = faded('pine', 0.55)
  const from = left.length - DOTS
  // Soft sound is drawn larger: the form tells of phase, not of level.
  let largest = SOFTEST
  for (let i = from; i < left.length; i++)
    largest = Math.max(largest, Math.abs(left[i]!), Math.abs(right[i]!))
  const scale = 0.7071 / largest
  for (let i = from; i < left.length; i += 2) {
    const [l, r] = [left[i]!, right[i]!]
    if (l === 0 && r === 0) continue
    // Whole pixels: nothing has to be smoothed at their edges.
    ctx.fillRect(Math.round(x0 + (r - l) * scale * half), Math.round(y0 - (l + r) * scale * half), 1, 1)
  }
  // Correlation from -1 to +1.
  const [a, b, y] = [16, width - 16, height - 9]
  ctx.fillStyle = colour('fold')
  ctx.fillRect(a, y - 3, b - a, 6)
  ctx.fillStyle = faded('fault', 0.25)
  ctx.fillRect(a, y - 3, (b - a) * 0.35, 6)
  ctx.fillStyle = colour(correlation < -0.3 ? 'fault' : 'ink')
  ctx.fillRect(a + ((correlation + 1) / 2) * (b - a) - 1.5, y - 5, 3, 10)
  write(ctx, '−1', 1, y, FIGURES)
  write(ctx, '+1', width - 1, y, FIGURES, 'right')
}
