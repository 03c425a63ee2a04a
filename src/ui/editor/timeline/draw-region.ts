import { fadeGain } from '../../../core/curve/fade'
import { showDb } from '../../../core/units/typed'
import type { Fade, Region, Source } from '../../../core/model/session'
import type { RegionPlan } from '../../../core/render'
import type { Pictures } from '../../../engine/pictures'
import { colour, faded, type ColourName } from '../../look/colours'
import { drawSound } from './draw-sound'
import { HEM_HEIGHT, soundBox, type Box } from './geometry'

/** A region as it is to be drawn. */
export interface RegionPicture {
  region: Region
  plan: RegionPlan
  source: Source
  box: Box
  width: number
  framesPerPixel: number
  dye: ColourName
  selected: boolean
  audible: boolean
}

/** Draws one region: its wash, its sound, its fades, its stitched edges and its hem. */
export function drawRegion(ctx: CanvasRenderingContext2D, pictures: Pictures, picture: RegionPicture): void {
  const { box, width, dye, region } = picture
  const x0 = Math.max(-8, box.x)
  const x1 = Math.min(width + 8, box.x + box.width)
  ctx.save()
  ctx.beginPath()
  ctx.rect(x0, box.y, Math.max(1, x1 - x0), box.height)
  ctx.clip()
  ctx.globalAlpha = picture.audible ? 1 : 0.45
  ctx.fillStyle = faded(dye, 0.15)
  ctx.fillRect(x0, box.y, x1 - x0, box.height)
  const sound = soundBox(box)
  drawSound(ctx, pictures, { ...picture, box: sound })
  if (region.fadeIn) drawFade(ctx, picture, sound, region.fadeIn, 'in')
  if (region.fadeOut) drawFade(ctx, picture, sound, region.fadeOut, 'out')
  drawHem(ctx, picture, x0, Math.min(width, x1))
  drawStitches(ctx, box, dye)
  ctx.restore()
  if (picture.selected) {
    ctx.strokeStyle = colour('ink')
    ctx.lineWidth = 1.5
    ctx.strokeRect(x0 + 0.75, box.y + 0.75, Math.max(1, x1 - x0 - 1.5), box.height - 1.5)
  }
}

/** The curve of a fade, with the linen showing where the sound is cut away. */
export function drawFade(ctx: CanvasRenderingContext2D, picture: Pick<RegionPicture, 'framesPerPixel'>, box: Box, fade: Fade, edge: 'in' | 'out'): void {
  const length = fade.length / picture.framesPerPixel
  const outer = edge === 'in' ? box.x : box.x + box.width
  const inner = edge === 'in' ? outer + length : outer - length
  const steps = Math.max(2, Math.min(64, Math.ceil(length / 3)))
  const point = (k: number): [number, number] => [outer + ((inner - outer) * k) / steps, box.y + box.height - fadeGain(fade, k / steps) * box.height]
  ctx.beginPath()
  ctx.moveTo(outer, box.y)
  for (let k = 0; k <= steps; k++) ctx.lineTo(...point(k))
  ctx.lineTo(inner, box.y)
  ctx.closePath()
  ctx.fillStyle = faded('linen', 0.74)
  ctx.fill()
  ctx.beginPath()
  for (let k = 0; k <= steps; k++) ctx.lineTo(...point(k))
  ctx.strokeStyle = colour('walnut')
  ctx.lineWidth = 1.5
  ctx.stroke()
}

function drawStitches(ctx: CanvasRenderingContext2D, box: Box, dye: ColourName): void {
  ctx.strokeStyle = colour(dye)
  ctx.lineWidth = 2
  ctx.setLineDash([4, 3])
  ctx.beginPath()
  for (const x of [box.x + 1, box.x + box.width - 1]) {
    ctx.moveTo(x, box.y)
    ctx.lineTo(x, box.y + box.height)
  }
  ctx.stroke()
  ctx.setLineDash([])
}

function drawHem(ctx: CanvasRenderingContext2D, { region, box, dye }: RegionPicture, x0: number, x1: number): void {
  const y = box.y + box.height - HEM_HEIGHT
  ctx.fillStyle = faded(dye, 0.1)
  ctx.fillRect(x0, y, x1 - x0, HEM_HEIGHT)
  const left = Math.max(box.x, 0) + 8
  const right = Math.min(box.x + box.width, x1) - 8
  const gain = showDb(region.clipGainDb)
  ctx.font = '11.5px "Atkinson Hyperlegible Mono Variable", monospace'
  ctx.textBaseline = 'middle'
  const gainWidth = ctx.measureText(gain).width
  const shown = right - left > gainWidth + 6
  if (shown) {
    ctx.textAlign = 'right'
    ctx.fillStyle = region.clipGainDb === 0 ? colour('soft') : colour('ink')
    ctx.fillText(gain, right, y + HEM_HEIGHT / 2 + 0.5)
  }
  ctx.textAlign = 'left'
  ctx.font = '12px "Atkinson Hyperlegible Next Variable", sans-serif'
  ctx.fillStyle = colour('ink')
  const room = right - left - (shown ? gainWidth + 10 : 0)
  if (room > 18) ctx.fillText(fitted(ctx, region.name, room), left, y + HEM_HEIGHT / 2 + 0.5)
}

/** The text, shortened with an ellipsis so that it fits. */
function fitted(ctx: CanvasRenderingContext2D, text: string, room: number): string {
  if (ctx.measureText(text).width <= room) return text
  let [low, high] = [0, text.length]
  while (low < high) {
    const middle = (low + high + 1) >>> 1
    if (ctx.measureText(`${text.slice(0, middle)}…`).width <= room) low = middle
    else high = middle - 1
  }
  return low === 0 ? '' : `${text.slice(0, low)}…`
}
