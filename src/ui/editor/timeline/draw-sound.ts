import type { Source } from '../../../core/model/session'
import { regionGain, sourceAt, type RegionPlan } from '../../../core/render'
import type { Columns, Pictures } from '../../../engine/pictures'
import { colour, faded, type ColourName } from '../../look/colours'
import type { Box } from './geometry'

/** A canvas on the screen or one kept in memory. */
export type Context = CanvasRenderingContext2D | OffscreenCanvasRenderingContext2D

/** What to draw of a region: its plan (all gains), its sound, where, and which part of the canvas is seen. */
export interface SoundPicture {
  plan: RegionPlan
  source: Source
  /** The whole region's box; it may reach far beyond the canvas. */
  box: Box
  /** Visible pixels of the canvas, from 0. */
  width: number
  framesPerPixel: number
  dye: ColourName
}

const scratch: Columns = { min: new Float32Array(0), max: new Float32Array(0) }
let gains = new Float64Array(0)
const single = new Float64Array(1)

function reserve(count: number): void {
  if (scratch.min.length >= count) return
  scratch.min = new Float32Array(count * 2)
  scratch.max = new Float32Array(count * 2)
  gains = new Float64Array(count * 2)
}

/** The region's gain at a session frame, the very one that is heard. */
export function gainAt(plan: RegionPlan, frame: number): number {
  const inside = Math.min(plan.end - 1, Math.max(plan.start, Math.floor(frame)))
  return regionGain(plan, inside, 1, single) ?? single[0]!
}

/** Whether any frame of a stretch has another gain than 1. */
const isShaped = (plan: RegionPlan) => plan.gain !== 1 || plan.thread !== null || plan.fadeIn !== null || plan.fadeOut !== null || plan.crossIn !== null || plan.crossOut !== null

/** Draws the sound of a region as it leaves its gain stages, with the untouched outline behind it where gain changes it. */
export function drawSound(ctx: Context, pictures: Pictures, picture: SoundPicture): void {
  const { plan, source, box, framesPerPixel, width } = picture
  const first = Math.max(0, Math.floor(box.x))
  const last = Math.min(width, Math.ceil(box.x + box.width))
  if (last <= first) return
  const count = last - first
  reserve(count)
  // Columns are cut so that they move with the sound and not with the screen.
  const startFrame = (first - box.x) * framesPerPixel
  const height = box.height / source.channels
  for (let i = 0; i < count; i++) gains[i] = gainAt(plan, plan.start + startFrame + (i + 0.5) * framesPerPixel)
  for (let c = 0; c < source.channels; c++) {
    const middle = box.y + height * (c + 0.5)
    const half = height / 2 - 1
    if (framesPerPixel < 1) {
      drawSamples(ctx, pictures, picture, c, middle, half)
      continue
    }
    const from = plan.direction === 1 ? plan.sourceStart + startFrame : plan.sourceStart + 1 - startFrame - count * framesPerPixel
    if (!pictures.columns(source.sha256, c, from, framesPerPixel, count, scratch)) continue
    if (plan.direction === -1) {
      scratch.min.subarray(0, count).reverse()
      scratch.max.subarray(0, count).reverse()
    }
    if (plan.fadeIn?.kind === 'tape' || plan.fadeOut?.kind === 'tape') readTaped(pictures, picture, c, startFrame, count)
    if (isShaped(plan)) drawOutline(ctx, first, count, middle, half, picture.dye)
    drawBody(ctx, first, count, middle, half, picture.dye)
  }
}

const one: Columns = { min: new Float32Array(1), max: new Float32Array(1) }

/** Columns inside tape fades, read where the tape is. */
function readTaped(pictures: Pictures, { plan, source, framesPerPixel }: SoundPicture, channel: number, startFrame: number, count: number): void {
  const { fadeIn, fadeOut, start, end } = plan
  for (let i = 0; i < count; i++) {
    const frame = start + startFrame + i * framesPerPixel
    if (!((fadeIn?.kind === 'tape' && frame < start + fadeIn.length) || (fadeOut?.kind === 'tape' && frame >= end - fadeOut.length))) continue
    const inside = (f: number) => Math.max(start, Math.min(end - 1, f))
    const [a, b] = [sourceAt(plan, inside(frame)), sourceAt(plan, inside(frame + framesPerPixel))]
    if (!pictures.columns(source.sha256, channel, Math.min(a, b), Math.max(1, Math.abs(b - a)), 1, one)) return
    scratch.min[i] = one.min[0]!
    scratch.max[i] = one.max[0]!
  }
}

function drawBody(ctx: Context, first: number, count: number, middle: number, half: number, dye: ColourName): void {
  ctx.beginPath()
  // The last column reaches to its far side, so that neighbouring pictures touch.
  for (let i = 0; i <= count; i++) ctx.lineTo(first + i, middle - Math.min(1, Math.max(-1, scratch.max[Math.min(i, count - 1)]! * gains[Math.min(i, count - 1)]!)) * half - 0.5)
  for (let i = count; i >= 0; i--) ctx.lineTo(first + i, middle - Math.min(1, Math.max(-1, scratch.min[Math.min(i, count - 1)]! * gains[Math.min(i, count - 1)]!)) * half + 0.5)
  ctx.closePath()
  ctx.fillStyle = faded(dye, 0.86)
  ctx.fill()
  // What passes full scale is marked at the rim.
  ctx.fillStyle = colour('madder')
  for (let i = 0; i < count; i++) {
    const over = Math.max(scratch.max[i]! * gains[i]!, -scratch.min[i]! * gains[i]!) > 1
    if (!over) continue
    ctx.fillRect(first + i - 0.5, middle - half - 1, 2, 3)
    ctx.fillRect(first + i - 0.5, middle + half - 2, 2, 3)
  }
}

/** The untouched outline, in the columns where the gain changes the sound. */
function drawOutline(ctx: Context, first: number, count: number, middle: number, half: number, dye: ColourName): void {
  for (let i = 0; i < count;) {
    if (gains[i] === 1) {
      i++
      continue
    }
    const from = i
    while (i < count && gains[i] !== 1) i++
    ctx.beginPath()
    for (let k = from; k <= i; k++) ctx.lineTo(first + k, middle - scratch.max[Math.min(k, i - 1)]! * half - 0.5)
    for (let k = i; k >= from; k--) ctx.lineTo(first + k, middle - scratch.min[Math.min(k, i - 1)]! * half + 0.5)
    ctx.closePath()
    ctx.fillStyle = faded(dye, 0.24)
    ctx.fill()
  }
}

/** Single samples: points joined by lines. */
function drawSamples(ctx: Context, pictures: Pictures, picture: SoundPicture, channel: number, middle: number, half: number): void {
  const { plan, source, box, framesPerPixel, width, dye } = picture
  const from = Math.max(0, Math.floor(-box.x * framesPerPixel) - 1)
  const to = Math.min(plan.end - plan.start, Math.ceil((width - box.x) * framesPerPixel) + 2)
  if (to <= from) return
  const samples = new Float32Array(to - from)
  const start = plan.direction === 1 ? plan.sourceStart + from : plan.sourceStart - to + 1
  if (!pictures.samples(source.sha256, channel, start, samples)) return
  if (plan.direction === -1) samples.reverse()
  const x = (i: number) => box.x + (from + i) / framesPerPixel
  const y = (i: number, gain: number) => middle - Math.min(1.02, Math.max(-1.02, samples[i]! * gain)) * half
  const trace = (gainOf: (i: number) => number) => {
    ctx.beginPath()
    for (let i = 0; i < samples.length; i++) if (!Number.isNaN(samples[i]!)) ctx.lineTo(x(i), y(i, gainOf(i)))
    ctx.stroke()
  }
  if (isShaped(plan)) {
    ctx.strokeStyle = faded(dye, 0.4)
    ctx.lineWidth = 0.75
    trace(() => 1)
  }
  const gainOf = (i: number) => gainAt(plan, plan.start + from + i)
  ctx.strokeStyle = colour(dye)
  ctx.lineWidth = 1.5
  trace(gainOf)
  if (framesPerPixel > 1 / 5) return
  ctx.fillStyle = colour(dye)
  for (let i = 0; i < samples.length; i++) {
    if (Number.isNaN(samples[i]!)) continue
    ctx.beginPath()
    ctx.arc(x(i), y(i, gainOf(i)), 2.6, 0, 2 * Math.PI)
    ctx.fill()
  }
}
