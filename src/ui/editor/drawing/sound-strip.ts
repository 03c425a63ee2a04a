import { rgbOf, type ColourName } from '../../look/colours'

/** A canvas on the screen or one kept in memory. */
export type Context = CanvasRenderingContext2D | OffscreenCanvasRenderingContext2D

/** The dirty part of a strip, in its own pixels. */
interface Part {
  from: number
  to: number
  top: number
  bottom: number
}

const nothing = (): Part => ({ from: Infinity, to: -Infinity, top: Infinity, bottom: -Infinity })

/** A dye with an opacity 0…1 as a pixel. */
const pixelOf = (dye: number, opacity: number): number => ((opacity * 255 + 0.5) << 24) | dye

/** How much of the pixel from `y` to `y + 1` lies between two heights, 0…1. */
const covered = (top: number, bottom: number, y: number): number =>
  Math.max(0, Math.min(bottom, y + 1) - Math.max(top, y))

/** How sound is laid: the opacities (0…1) of a dye at the rim and in the core. */
export interface Ink {
  dye: number
  rim: number
  core: number
}

/** Sets the pixels of a column from the row `from` up to the row `to`. */
function fill(
  pixels: Uint32Array,
  stride: number,
  column: number,
  from: number,
  to: number,
  pixel: number,
): void {
  const end = to * stride + column
  for (let i = from * stride + column; i < end; i += stride) pixels[i] = pixel
}

/**
 * Pixels of a row of an image that is `width` wide: an odd number of 64-byte lines, so that the pixels of a
 * column do not all compete for the same few places in the processor's cache.
 */
const strideFor = (width: number): number => (Math.ceil(width / 16) | 1) * 16

/**
 * Pixels of sounds, collected column by column and copied to a canvas at once: much quicker than filling
 * outlines. Places are in pixels of the screen, from the left top of the strip.
 */
export class SoundStrip {
  /** Used in turn: one whose picture is still to be drawn somewhere would have to be copied before it takes another. */
  private readonly canvases = Array.from({ length: 12 }, () =>
    new OffscreenCanvas(1, 1).getContext('2d', { willReadFrequently: true })!,
  )
  private turn = 0
  private image = new ImageData(1, 1)
  private pixels = new Uint32Array(this.image.data.buffer)
  private part = nothing()
  private x = 0
  private y = 0
  private ratio = 1

  /**
   * Empties the strip and lays it over a part of a canvas (CSS pixels), for a screen with `ratio` pixels per
   * CSS pixel.
   */
  begin(x: number, y: number, width: number, height: number, ratio: number): void {
    this.x = x
    this.y = y
    this.ratio = ratio
    const [w, h] = [Math.max(1, Math.ceil(width * ratio)), Math.max(1, Math.ceil(height * ratio))]
    if (this.image.width >= w && this.image.height >= h) return
    this.image = new ImageData(strideFor(Math.max(w, this.image.width)), Math.max(h, this.image.height))
    this.pixels = new Uint32Array(this.image.data.buffer)
    this.part = nothing()
  }

  /** The dye as a pixel without opacity. */
  static dye(name: ColourName): number {
    const { r, g, b } = rgbOf(name)
    return (b << 16) | (g << 8) | r
  }

  /**
   * Lays a column: its core from `coreTop` to `coreBottom` and its rim around it, from `top` to `bottom`
   * (`top` ≤ `coreTop` ≤ `coreBottom` ≤ `bottom`). Pixels at the ends get the share of it that they are
   * covered by. In one place only one sound may be laid between two copies.
   */
  lay(
    column: number,
    top: number,
    coreTop: number,
    coreBottom: number,
    bottom: number,
    { dye, rim, core }: Ink,
  ): void {
    const {
      pixels,
      image: { width, height },
    } = this
    const low = Math.max(0, Math.floor(top))
    const high = Math.min(height, Math.ceil(bottom))
    if (column < 0 || column >= width || high <= low) return
    this.touch(column, low, high)
    const [y0, y1, y2, y3] = [
      Math.floor(top),
      Math.floor(coreTop),
      Math.floor(coreBottom),
      Math.floor(bottom),
    ]
    const around = pixelOf(dye, rim)
    if (y1 > y0) fill(pixels, width, column, Math.max(low, y0 + 1), Math.min(high, y1), around)
    fill(pixels, width, column, Math.max(low, y1 + 1), Math.min(high, y2), pixelOf(dye, core))
    if (y3 > y2) fill(pixels, width, column, Math.max(low, y2 + 1), Math.min(high, y3), around)
    for (let y = y0, edge = 0; edge < 4; edge++, y = edge === 1 ? y1 : edge === 2 ? y2 : y3) {
      if (y < low || y >= high) continue
      const inside = covered(coreTop, coreBottom, y)
      pixels[y * width + column] = pixelOf(dye, rim * (covered(top, bottom, y) - inside) + core * inside)
    }
  }

  /**
   * Sets a column from `top` to `bottom`, rounded to whole pixels, to a dye, whatever is there; as stitches
   * so long and so far from one to the next.
   */
  put(column: number, top: number, bottom: number, dye: number, opacity = 1, stitch = 1, step = 1): void {
    const { width, height } = this.image
    const low = Math.max(0, Math.round(top))
    const high = Math.min(height, Math.round(bottom))
    if (column < 0 || column >= width || high <= low) return
    this.touch(column, low, high)
    const pixel = pixelOf(dye, opacity)
    for (let from = low; from < high; from += step) {
      const end = Math.min(from + stitch, high) * width + column
      for (let i = from * width + column; i < end; i += width) this.pixels[i] = pixel
    }
  }

  private touch(column: number, low: number, high: number): void {
    const { part } = this
    if (column < part.from) part.from = column
    if (column + 1 > part.to) part.to = column + 1
    if (low < part.top) part.top = low
    if (high > part.bottom) part.bottom = high
  }

  /** Copies what was laid to the canvas and empties the strip. */
  copy(ctx: Context): void {
    const { from, to, top, bottom } = this.part
    if (to <= from) return
    const { ratio, image } = this
    const own = this.canvases[(this.turn = (this.turn + 1) % this.canvases.length)]!
    const { canvas } = own
    if (canvas.width !== image.width || canvas.height !== image.height)
      [canvas.width, canvas.height] = [image.width, image.height]
    own.putImageData(image, 0, 0, from, top, to - from, bottom - top)
    ctx.drawImage(
      canvas,
      from,
      top,
      to - from,
      bottom - top,
      this.x + from / ratio,
      this.y + top / ratio,
      (to - from) / ratio,
      (bottom - top) / ratio,
    )
    for (let y = top; y < bottom; y++) this.pixels.fill(0, y * image.width + from, y * image.width + to)
    this.part = nothing()
  }
}
