import { clamp } from '../../../core/units/clamp'
import { gainToDb } from '../../../core/units/decibel'
import { colour, faded, type ColourName } from '../../look/colours'
import { write, type Style } from '../../look/writing'
import type { Ballistics, Shown } from './ballistics'

/** A meter's place and size in pixels: its bars, and whether figures stand below them. */
export interface MeterPlace {
  x: number
  y: number
  width: number
  /** Of one of the two bars. */
  bar: number
  scale: boolean
}

/** The range of a meter in dB below full scale. */
const RANGE_DB = 60
/** Width of the clip light, and its distance from the bars, in pixels. */
const LIGHT = { width: 6, gap: 2 }

const FIGURES: Style = { face: 'figures', size: 9, dye: 'soft' }
/** Levels with a mark, and those of them with a figure where there is room, in dB. */
const MARKS = [-48, -36, -24, -18, -12, -6]
const NAMED = [-48, -24, -12, 0]

const part = (level: number) => clamp(1 + gainToDb(level) / RANGE_DB, 0, 1)

/** The pixels at which the parts of a meter end; equal ones need not be drawn again. */
export const meterPixels = (meter: Ballistics, width: number): number[] => [
  ...[meter.left, meter.right].flatMap(({ rms, peak, hold }) =>
    [rms, peak, hold].map((level) => Math.round(part(level) * width)),
  ),
  meter.clipped ? 1 : 0,
]

function drawBar(
  ctx: CanvasRenderingContext2D,
  { rms, peak, hold }: Shown,
  x: number,
  y: number,
  width: number,
  height: number,
  dye: ColourName,
): void {
  ctx.fillStyle = colour('fold')
  ctx.fillRect(x, y, width, height)
  ctx.fillStyle = faded(dye, 0.45)
  ctx.fillRect(x, y, Math.round(part(peak) * width), height)
  ctx.fillStyle = colour(dye)
  ctx.fillRect(x, y, Math.round(part(rms) * width), height)
  const at = Math.round(part(hold) * width)
  if (at > 1) {
    ctx.fillStyle = colour(hold > 1 ? 'fault' : 'ink')
    ctx.fillRect(x + at - 2, y, 2, height)
  }
}

/** Draws a meter: for each side RMS full, the peak pale, its highest place as a line; marks, and the clip light at its end. */
export function drawMeter(
  ctx: CanvasRenderingContext2D,
  meter: Ballistics,
  place: MeterPlace,
  dye: ColourName,
): void {
  const { x, y, bar, scale } = place
  const width = place.width - LIGHT.width - LIGHT.gap
  drawBar(ctx, meter.left, x, y, width, bar, dye)
  drawBar(ctx, meter.right, x, y + bar + 1, width, bar, dye)
  const height = 2 * bar + 1
  ctx.fillStyle = faded('ink', 0.35)
  for (const db of MARKS) ctx.fillRect(Math.round(x + (1 + db / RANGE_DB) * width), y, 1, height)
  ctx.fillStyle = colour(meter.clipped ? 'fault' : 'fold')
  ctx.fillRect(x + width + LIGHT.gap, y, LIGHT.width, height)
  if (!scale) return
  for (const db of NAMED)
    write(
      ctx,
      db === 0 ? '0' : String(-db),
      x + (1 + db / RANGE_DB) * width + 3,
      y + height + 6,
      FIGURES,
      'right',
    )
}
