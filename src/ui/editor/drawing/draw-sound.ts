import { clamp } from '../../../core/units/clamp'
import type { Source } from '../../../core/model/session'
import { gainAt, sourceAt, type RegionPlan } from '../../../core/render'
import type { Columns, Pictures } from '../../../engine/storage'
import { colour, faded, type ColourName } from '../../look/colours'
import type { Box } from './geometry'
import { PLAIN_SOUND, soundHeight, type SoundScale } from './sound-scale'
import { SoundStrip, type Context, type Ink } from './sound-strip'

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
  /** How large it is drawn. */
  scale?: SoundScale
  /** Below 1 for what is muted. */
  opacity?: number
  /**
   * The columns of each channel, kept while the same part of the same sound is drawn with other gains; filled
   * by the first drawing.
   */
  kept?: Columns[]
}

const scratch: Columns = { min: new Float32Array(0), max: new Float32Array(0) }
let gains = new Float64Array(0)

function reserve(count: number): void {
  if (gains.length >= count) return
  scratch.min = new Float32Array(count * 2)
  scratch.max = new Float32Array(count * 2)
  gains = new Float64Array(count * 2)
}

/** Whether any frame of a stretch has another gain than 1. */
const isShaped = (plan: RegionPlan) =>
  plan.gain !== 1 ||
  plan.sides !== null ||
  plan.thread !== null ||
  plan.fadeIn !== null ||
  plan.fadeOut !== null ||
  plan.crossIn !== null ||
  plan.crossOut !== null

/**
 * Draws the sound of a region as it leaves its gain stages, with the untouched outline behind it where gain
 * changes it.
 */
export function drawSound(ctx: Context, pictures: Pictures, picture: SoundPicture): void {
  const { box, width } = picture
  strip.begin(0, box.y, width, box.height, window.devicePixelRatio || 1)
  laySound(ctx, strip, pictures, picture, box.y, window.devicePixelRatio || 1)
  strip.copy(ctx)
}

const strip = new SoundStrip()

/**
 * Lays the sound of a region on a strip whose left end is that of the canvas and whose top is at `top`, with
 * `ratio` pixels of the screen per CSS pixel. Single samples are drawn on the canvas at once.
 */
export function laySound(
  ctx: Context,
  onto: SoundStrip,
  pictures: Pictures,
  picture: SoundPicture,
  top: number,
  ratio: number,
): void {
  const { plan, source, box, width, opacity = 1 } = picture
  const first = Math.max(0, Math.floor(box.x * ratio))
  const last = Math.min(Math.ceil(width * ratio), Math.ceil((box.x + box.width) * ratio))
  if (last <= first) return
  const count = last - first
  const height = box.height / source.channels
  if (picture.framesPerPixel < 1) {
    for (let c = 0; c < source.channels; c++)
      drawSamples(ctx, pictures, picture, c, box.y + height * (c + 0.5), height / 2 - 1)
    return
  }
  reserve(count)
  const framesPerColumn = picture.framesPerPixel / ratio
  // Columns are cut so that they move with the sound and not with the screen.
  const startFrame = (first - box.x * ratio) * framesPerColumn
  const shaped = isShaped(plan)
  if (plan.thread || plan.fadeIn || plan.fadeOut || plan.crossIn || plan.crossOut)
    for (let i = 0; i < count; i++)
      gains[i] = gainAt(plan, plan.start + startFrame + (i + 0.5) * framesPerColumn)
  else gains.fill(plan.gain, 0, count)
  for (let c = 0; c < source.channels; c++) {
    const columns = picture.kept?.[c] ?? readColumns(pictures, picture, c, startFrame, framesPerColumn, count)
    if (!columns) continue
    if (picture.kept && columns === scratch)
      picture.kept[c] = { min: scratch.min.slice(0, count), max: scratch.max.slice(0, count) }
    const factor = plan.sides?.[c] ?? 1
    if (factor !== 1) for (let i = 0; i < count; i++) gains[i] = gains[i]! * factor
    layColumns(
      onto,
      first,
      count,
      columns,
      (box.y - top + height * (c + 0.5)) * ratio,
      (height / 2 - 1) * ratio,
      picture.dye,
      picture.scale ?? PLAIN_SOUND,
      shaped,
      opacity,
    )
    if (factor !== 1) for (let i = 0; i < count; i++) gains[i] = gains[i]! / factor
  }
}

/**
 * Reads the columns of a channel as they lie in the region, or null when nothing can be shown yet. They stand
 * until the next reading.
 */
function readColumns(
  pictures: Pictures,
  picture: SoundPicture,
  channel: number,
  startFrame: number,
  framesPerColumn: number,
  count: number,
): Columns | null {
  const { plan, source } = picture
  const from =
    plan.direction === 1
      ? plan.sourceStart + startFrame
      : plan.sourceStart + 1 - startFrame - count * framesPerColumn
  if (!pictures.columns(source.sha256, channel, from, framesPerColumn, count, scratch)) return null
  if (plan.direction === -1) {
    scratch.min.subarray(0, count).reverse()
    scratch.max.subarray(0, count).reverse()
  }
  if (plan.fadeIn?.kind === 'tape' || plan.fadeOut?.kind === 'tape')
    readTaped(pictures, picture, channel, startFrame, framesPerColumn, count)
  return scratch
}

const one: Columns = { min: new Float32Array(1), max: new Float32Array(1) }

/** Columns inside tape fades, read where the tape is. */
function readTaped(
  pictures: Pictures,
  { plan, source }: SoundPicture,
  channel: number,
  startFrame: number,
  framesPerColumn: number,
  count: number,
): void {
  const { fadeIn, fadeOut, start, end } = plan
  for (let i = 0; i < count; i++) {
    const frame = start + startFrame + i * framesPerColumn
    if (!(
      (fadeIn?.kind === 'tape' && frame < start + fadeIn.length) ||
      (fadeOut?.kind === 'tape' && frame >= end - fadeOut.length)
    ))
      continue
    const inside = (f: number) => clamp(f, start, end - 1)
    const [a, b] = [sourceAt(plan, inside(frame)), sourceAt(plan, inside(frame + framesPerColumn))]
    if (!pictures.columns(source.sha256, channel, Math.min(a, b), Math.max(1, Math.abs(b - a)), 1, one))
      return
    scratch.min[i] = one.min[0]!
    scratch.max[i] = one.max[0]!
  }
}

/**
 * Lays the columns of a channel: untouched behind, then as they are heard; what passes full scale is marked
 * at the rim.
 */
function layColumns(
  onto: SoundStrip,
  first: number,
  count: number,
  { min, max }: Columns,
  middle: number,
  half: number,
  name: ColourName,
  scale: SoundScale,
  shaped: boolean,
  opacity: number,
): void {
  const dye = SoundStrip.dye(name)
  const heard = 0.86 * opacity
  // What is quieter now shows the outline on both sides, what is louder has it inside.
  const quieter: Ink = { dye, rim: 0.24 * opacity, core: heard }
  const louder: Ink = { dye, rim: heard, core: 1 - (1 - 0.24 * opacity) * (1 - heard) }
  for (let i = 0; i < count; i++) {
    // Where it runs steeply a column reaches to its neighbour, so that the line is whole.
    const before = i > 0 ? i - 1 : 0
    const after = i < count - 1 ? i + 1 : i
    const high = Math.max(max[i]!, (min[before]! + max[i]!) / 2, (min[after]! + max[i]!) / 2)
    const low = Math.min(min[i]!, (max[before]! + min[i]!) / 2, (max[after]! + min[i]!) / 2)
    const gain = gains[i]!
    // With reversed polarity it is upside down.
    const top = middle - soundHeight(scale, gain < 0 ? low * gain : high * gain) * half - 0.5
    const bottom = middle - soundHeight(scale, gain < 0 ? high * gain : low * gain) * half + 0.5
    if (!shaped || gain === 1) {
      onto.lay(first + i, top, top, bottom, bottom, quieter)
      continue
    }
    const outer = middle - soundHeight(scale, high) * half - 0.5
    const under = middle - soundHeight(scale, low) * half + 0.5
    if (Math.abs(gain) < 1)
      onto.lay(first + i, Math.min(outer, top), top, bottom, Math.max(under, bottom), quieter)
    else onto.lay(first + i, top, Math.max(outer, top), Math.min(under, bottom), bottom, louder)
  }
  const fault = SoundStrip.dye('fault')
  for (let i = 0; i < count; i++) {
    if (Math.max(max[i]! * gains[i]!, -min[i]! * gains[i]!) <= 1) continue
    onto.put(first + i, middle - half - 1, middle - half + 2, fault)
    onto.put(first + i, middle + half - 2, middle + half + 1, fault)
  }
}

/** Single samples: points joined by lines. */
function drawSamples(
  ctx: Context,
  pictures: Pictures,
  picture: SoundPicture,
  channel: number,
  middle: number,
  half: number,
): void {
  const { plan, source, box, framesPerPixel, width, dye, scale = PLAIN_SOUND } = picture
  const from = Math.max(0, Math.floor(-box.x * framesPerPixel) - 1)
  const to = Math.min(plan.end - plan.start, Math.ceil((width - box.x) * framesPerPixel) + 2)
  if (to <= from) return
  const samples = new Float32Array(to - from)
  const start = plan.direction === 1 ? plan.sourceStart + from : plan.sourceStart - to + 1
  if (!pictures.samples(source.sha256, channel, start, samples)) return
  if (plan.direction === -1) samples.reverse()
  const x = (i: number) => box.x + (from + i) / framesPerPixel
  const y = (i: number, gain: number) => middle - soundHeight(scale, samples[i]! * gain) * half
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
  const factor = plan.sides?.[channel] ?? 1
  const gainOf = (i: number) => gainAt(plan, plan.start + from + i) * factor
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
