import { clamp } from '../../../core/units/clamp'
import { crossfadeGains } from '../../../core/curve/crossfade'
import { fadeGain, fadeProgress } from '../../../core/curve/fade'
import { tapeRate } from '../../../core/curve/tape'
import type { Crossfade, Fade, Region, Source } from '../../../core/model/session'
import type { RegionPlan } from '../../../core/render'
import type { Columns, Pictures } from '../../../engine/storage'
import { colour, faded, type ColourName } from '../../look/colours'
import { stamp } from '../../look/stamp'
import { laySound } from './draw-sound'
import { hemHeight, soundBox, type Box } from './geometry'
import type { SoundScale } from './sound-scale'
import { SoundStrip, type Context } from './sound-strip'

/** A region as it is to be drawn on a canvas of `width` pixels; its box may reach beyond. */
export interface RegionPicture {
  region: Region
  plan: RegionPlan
  source: Source
  box: Box
  width: number
  framesPerPixel: number
  dye: ColourName
  scale: SoundScale
  /** Cached columns of its sound, see SoundPicture. */
  kept?: Columns[]
}

const clipped = (
  ctx: Context,
  { box, width, region }: RegionPicture,
  draw: (x0: number, x1: number) => void,
) => {
  const x0 = Math.max(-8, box.x)
  const x1 = Math.min(width + 8, box.x + box.width)
  ctx.save()
  ctx.beginPath()
  ctx.rect(x0, box.y, Math.max(1, x1 - x0), box.height)
  ctx.clip()
  if (region.muted) ctx.globalAlpha = MUTED
  draw(x0, x1)
  ctx.restore()
}

/** Opacity of what is muted. */
const MUTED = 0.4

/**
 * Draws the parts of regions that scroll with them, in order: wash, sound, fades and stitched edges. `top`
 * and `height` are those of the row.
 */
export function drawRegions(
  ctx: Context,
  onto: SoundStrip,
  pictures: Pictures,
  regions: readonly RegionPicture[],
  top: number,
  height: number,
  ratio: number,
): void {
  let end = -Infinity
  let open: RegionPicture[] = []
  const close = () => {
    onto.copy(ctx)
    for (const picture of open) drawOver(ctx, picture)
    open = []
  }
  for (const picture of regions) {
    const { box, dye, width, region } = picture
    // What overlaps lies over the whole of what is below.
    if (box.x < end) close()
    if (open.length === 0) onto.begin(0, top, width, height, ratio)
    end = Math.max(end, box.x + box.width)
    if (picture.framesPerPixel < 1) {
      clipped(ctx, picture, (x0, x1) => {
        ctx.fillStyle = faded(dye, 0.15)
        ctx.fillRect(x0, box.y, x1 - x0, box.height)
        laySound(ctx, onto, pictures, { ...picture, box: soundBox(box) }, top, ratio)
      })
    } else {
      const x0 = Math.max(-8, box.x)
      ctx.fillStyle = faded(dye, region.muted ? 0.15 * MUTED : 0.15)
      ctx.fillRect(x0, box.y, Math.min(width + 8, box.x + box.width) - x0, box.height)
      laySound(
        ctx,
        onto,
        pictures,
        { ...picture, box: soundBox(box), opacity: region.muted ? MUTED : 1 },
        top,
        ratio,
      )
    }
    layStitches(onto, picture, top, ratio)
    open.push(picture)
  }
  close()
}

/** What of a region lies over its sound. */
function drawOver(ctx: Context, picture: RegionPicture): void {
  const { box, dye, region, width } = picture
  const sound = soundBox(box)
  if (region.fadeIn || region.fadeOut) {
    clipped(ctx, picture, () => {
      if (region.fadeIn) drawFade(ctx, picture, sound, region.fadeIn, 'in')
      if (region.fadeOut) drawFade(ctx, picture, sound, region.fadeOut, 'out')
    })
  }
  ctx.globalAlpha = region.muted ? MUTED : 1
  const x0 = Math.max(-8, box.x)
  ctx.fillStyle = faded(dye, 0.1)
  const hem = hemHeight(box.height)
  if (hem > 0) ctx.fillRect(x0, box.y + box.height - hem, Math.min(width + 8, box.x + box.width) - x0, hem)
  ctx.globalAlpha = 1
}

/**
 * Draws the parts of a region that stay visible over its sound: the mark of a gain thread, and the outline
 * when selected.
 */
export function drawMarks(
  ctx: CanvasRenderingContext2D,
  box: Box,
  width: number,
  selected: boolean | 'along',
  threaded: boolean,
): void {
  const x0 = Math.max(-8, box.x)
  const x1 = Math.min(width + 8, box.x + box.width)
  if (threaded && box.width > 14) threadMark(ctx, Math.max(box.x, 0) + 2, box.y + 2)
  if (!selected) return
  ctx.strokeStyle = colour('ink')
  ctx.lineWidth = 1.5
  // What goes along with a selected one, because their tracks are in a group, is dashed.
  if (selected === 'along') ctx.setLineDash([6, 4])
  ctx.strokeRect(x0 + 0.75, box.y + 0.75, Math.max(1, x1 - x0 - 1.5), box.height - 1.5)
  ctx.setLineDash([])
}

/** A small mark that tells of a gain thread: its knot, a square on a corner. */
const threadMark = stamp(10, 10, (ctx) => {
  ctx.translate(5, 5)
  ctx.rotate(Math.PI / 4)
  ctx.fillStyle = colour('weld')
  ctx.fillRect(-3, -3, 6, 6)
})

/** How high a fade is drawn at `u` from its outer end: its gain, or the pace of the tape. */
export const fadeHeight = (fade: Fade, edge: 'in' | 'out', u: number): number =>
  fade.kind === 'gain'
    ? fadeGain(fade, fadeProgress(fade, u * fade.length))
    : tapeRate(fade, edge, edge === 'in' ? u : 1 - u)

/** The curve of a fade, with the linen showing where the sound is cut away. */
export function drawFade(
  ctx: Context,
  picture: Pick<RegionPicture, 'framesPerPixel'>,
  box: Box,
  fade: Fade,
  edge: 'in' | 'out',
): void {
  const length = fade.length / picture.framesPerPixel
  const outer = edge === 'in' ? box.x : box.x + box.width
  const inner = edge === 'in' ? outer + length : outer - length
  const steps = clamp(Math.ceil(length / 3), 2, 64)
  const point = (k: number): [number, number] => [
    outer + ((inner - outer) * k) / steps,
    box.y + box.height - fadeHeight(fade, edge, k / steps) * box.height,
  ]
  // A tape does not cut the sound away, it slows it.
  if (fade.kind === 'gain') {
    ctx.beginPath()
    ctx.moveTo(outer, box.y)
    for (let k = 0; k <= steps; k++) ctx.lineTo(...point(k))
    ctx.lineTo(inner, box.y)
    ctx.closePath()
    ctx.fillStyle = faded('linen', 0.74)
    ctx.fill()
  } else ctx.setLineDash([5, 4])
  ctx.beginPath()
  for (let k = 0; k <= steps; k++) ctx.lineTo(...point(k))
  ctx.strokeStyle = colour('walnut')
  ctx.lineWidth = 1.5
  ctx.stroke()
  ctx.setLineDash([])
}

/** Both curves of a crossfade over its overlap, in a box; `correlation` is ρ for the level law. */
export function drawCrossfade(ctx: Context, box: Box, fade: Crossfade, correlation: number): void {
  const steps = clamp(Math.ceil(box.width / 3), 2, 96)
  for (const side of ['out', 'in'] as const) {
    ctx.beginPath()
    for (let k = 0; k <= steps; k++)
      ctx.lineTo(
        box.x + (box.width * k) / steps,
        box.y + box.height - Math.min(1, crossfadeGains(fade, k / steps, correlation)[side]) * box.height,
      )
    ctx.strokeStyle = colour('white')
    ctx.lineWidth = 3
    ctx.stroke()
    ctx.strokeStyle = colour('walnut')
    ctx.lineWidth = 1.5
    ctx.stroke()
  }
}

/** The stitched edges of a region, laid on the strip over its sound. */
function layStitches(
  onto: SoundStrip,
  { box, dye, region, width }: RegionPicture,
  top: number,
  ratio: number,
): void {
  const pixel = SoundStrip.dye(dye)
  const thick = Math.max(1, Math.round(2 * ratio))
  for (const x of [box.x, box.x + box.width - 2]) {
    const left = Math.round(x * ratio)
    if (left < -thick || x > width) continue
    for (let i = 0; i < thick; i++)
      onto.put(
        left + i,
        (box.y - top) * ratio,
        (box.y - top + box.height) * ratio,
        pixel,
        region.muted ? MUTED : 1,
        Math.round(4 * ratio),
        Math.round(7 * ratio),
      )
  }
}

/** The outline of a click's mark, in pixels from its seam at the upper edge of the regions. */
const CLICK = [
  [-4, 1],
  [-1, 6],
  [-3.5, 6],
  [1, 13],
  [0, 7.5],
  [3, 7.5],
  [0, 1],
] as const

const clickMark = stamp(13, 18, (ctx) => {
  ctx.beginPath()
  for (const [x, y] of CLICK) ctx.lineTo(6 + x, 2 + y)
  ctx.closePath()
  // On a white rim, so that it stands out from edges and frames.
  ctx.strokeStyle = colour('white')
  ctx.lineWidth = 2.4
  ctx.lineJoin = 'round'
  ctx.stroke()
  ctx.fillStyle = colour('fault')
  ctx.fill()
})

/** Draws a small mark at a seam that clicks. */
export const drawClick = (ctx: Context, x: number, y: number): void => clickMark(ctx, x - 6, y - 2)
