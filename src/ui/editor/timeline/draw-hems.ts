import type { Region } from '../../../core/model/session'
import { showDb } from '../../../core/units/typed'
import { colour } from '../../look/colours'
import { HEM_HEIGHT, type Box } from './geometry'

/** What is to be written on a region's hem: its name, and its clip gain as it is shown. */
export interface Hem {
  region: Region
  gainDb: number
  /** The region's box, and where what is seen of its hem ends. */
  box: Box
  end: number
  /** Opacity, below 1 where the track is not heard. */
  opacity: number
}

const NAME_FONT = '12px "Atkinson Hyperlegible Next Variable", sans-serif'
const GAIN_FONT = '11.5px "Atkinson Hyperlegible Mono Variable", monospace'
/** The width of a character of the mono face at this size. */
const GAIN_CHARACTER = 7.27

/** Writes on the hems of regions. All names come first and then all gains: going from face to face is slow. */
export function drawHems(ctx: CanvasRenderingContext2D, hems: readonly Hem[]): void {
  ctx.save()
  ctx.textBaseline = 'middle'
  ctx.font = NAME_FONT
  ctx.textAlign = 'left'
  ctx.fillStyle = colour('ink')
  const gains: { hem: Hem; gain: string; right: number }[] = []
  for (const hem of hems) {
    const { region, gainDb, box, end } = hem
    const left = Math.max(box.x, 0) + 8
    const right = Math.min(box.x + box.width, end) - 8
    if (right - left < 18) continue
    const gain = showDb(gainDb)
    const gainWidth = gain.length * GAIN_CHARACTER
    // Where there is no room for both, a gain of 0 dB is left out first, then the name is shortened.
    const tight = widthOf(ctx, region.name) + (region.locked || region.muted ? 50 : 0) + gainWidth + 10 > right - left
    const shown = right - left > gainWidth + 6 && !(tight && gainDb === 0)
    if (shown) gains.push({ hem, gain, right })
    const room = right - left - (shown ? gainWidth + 10 : 0)
    const name = `${region.locked ? 'locked: ' : ''}${region.muted ? 'muted: ' : ''}${region.name}`
    ctx.globalAlpha = hem.opacity
    if (room > 18) ctx.fillText(fitted(ctx, name, room), left, middleOf(box))
  }
  ctx.font = GAIN_FONT
  ctx.textAlign = 'right'
  for (const { hem: { gainDb, box, opacity }, gain, right } of gains) {
    ctx.globalAlpha = opacity
    if (gainDb !== 0) {
      // A chip tells of a gain that is set.
      const width = gain.length * GAIN_CHARACTER
      ctx.fillStyle = colour('linen')
      ctx.beginPath()
      ctx.roundRect(right - width - 4, box.y + box.height - HEM_HEIGHT + 2, width + 8, HEM_HEIGHT - 4, 4)
      ctx.fill()
    }
    ctx.fillStyle = gainDb === 0 ? colour('soft') : colour('ink')
    ctx.fillText(gain, right, middleOf(box))
  }
  ctx.restore()
}

const middleOf = (box: Box) => box.y + box.height - HEM_HEIGHT / 2 + 0.5

const widths = new Map<string, number>()

/** The width of a text in the hem's face; measured once. */
function widthOf(ctx: CanvasRenderingContext2D, text: string): number {
  let width = widths.get(text)
  if (width === undefined) {
    width = ctx.measureText(text).width
    if (widths.size > 5000) widths.clear()
    // Until the fonts are here, widths are of another face.
    if (document.fonts.status === 'loaded') widths.set(text, width)
  }
  return width
}

/** The text, shortened with an ellipsis so that it fits. */
function fitted(ctx: CanvasRenderingContext2D, text: string, room: number): string {
  if (widthOf(ctx, text) <= room) return text
  let [low, high] = [0, text.length]
  while (low < high) {
    const middle = (low + high + 1) >>> 1
    if (widthOf(ctx, `${text.slice(0, middle)}…`) <= room) low = middle
    else high = middle - 1
  }
  return low === 0 ? '' : `${text.slice(0, low)}…`
}
