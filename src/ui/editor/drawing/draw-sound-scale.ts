import { clamp } from '../../../core/units/clamp'
import { colour, faded } from '../../look/colours'
import { widthOf, write, type Style } from '../../look/writing'
import type { Box } from './geometry'
import { factorWords, soundMarks, type SoundScale } from './sound-scale'

const FIGURES: Style = { face: 'figures', size: 10, dye: 'soft' }
const FACTOR: Style = { face: 'figures', size: 11, dye: 'ink' }

/** Distance between two levels, and the width of the scale, in pixels. */
const LEAST = 10
const WIDTH = 26

/** Lower sounds have no scale: no two levels would fit. */
const LEAST_HALF = 14

/**
 * Draws at the right edge of a row how large its sound is drawn: the levels in dB in the row that is current, and the
 * factor in every row that does not have it at its plain size. `box` is that of the row's sound.
 */
export function drawSoundScale(
  ctx: CanvasRenderingContext2D,
  box: Box,
  channels: 1 | 2,
  scale: SoundScale,
  isCurrent: boolean,
): void {
  const right = box.x + box.width
  const height = box.height / channels
  const half = height / 2 - 1
  if (isCurrent && half >= LEAST_HALF) {
    ctx.fillStyle = faded('linen', 0.85)
    ctx.fillRect(right - WIDTH, box.y, WIDTH, box.height)
    for (let c = 0; c < channels; c++) {
      const middle = box.y + height * (c + 0.5)
      for (const { db, fromMiddle } of soundMarks(scale, half, LEAST))
        for (const y of [middle - fromMiddle, middle + fromMiddle]) {
          // What would be cut off at the rim stands just inside.
          const inside = clamp(y, box.y + 5, box.y + box.height - 5)
          ctx.fillStyle = colour('seam')
          ctx.fillRect(right - WIDTH, Math.round(y), 4, 1)
          write(ctx, db === 0 ? '0' : `−${-db}`, right - 3, inside, FIGURES, 'right')
        }
    }
  }
  if (scale.factor === 1 && !scale.decibels) return
  const text = [scale.factor === 1 ? null : factorWords(scale.factor), scale.decibels ? 'dB' : null]
    .filter(Boolean)
    .join(' ')
  const width = widthOf(text, FACTOR) + 8
  const x = right - (isCurrent && half >= LEAST_HALF ? WIDTH : 0) - width - 4
  ctx.fillStyle = faded('linen', 0.85)
  ctx.beginPath()
  ctx.roundRect(x, box.y + 2, width, 15, 4)
  ctx.fill()
  write(ctx, text, x + 4, box.y + 10, FACTOR)
}
