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

/** A pixel with a dye laid over it: its opacity grows, whatever colour was below. */
export function over(pixel: number, dye: number, opacity: number): number {
  const before = (pixel >>> 24) / 255
  return ((Math.round((before + opacity * (1 - before)) * 255) << 24) | dye) >>> 0
}

/**
 * Pixels of sounds, collected column by column and copied to a canvas at once: much quicker than filling outlines. Places are in pixels of
 * the screen, from the left top of the strip.
 */
export class SoundStrip {
  /** Used in turn: one whose picture is still to be drawn somewhere would have to be copied before it takes another. */
  private readonly canvases = Array.from({ length: 12 }, () => new OffscreenCanvas(1, 1))
  private turn = 0
  private image = new ImageData(1, 1)
  private pixels = new Uint32Array(this.image.data.buffer)
  private part = nothing()
  private x = 0
  private y = 0
  private ratio = 1

  /** Empties the strip and lays it over a part of a canvas (CSS pixels), for a screen with `ratio` pixels per CSS pixel. */
  begin(x: number, y: number, width: number, height: number, ratio: number): void {
    this.x = x
    this.y = y
    this.ratio = ratio
    const [w, h] = [Math.max(1, Math.ceil(width * ratio)), Math.max(1, Math.ceil(height * ratio))]
    if (this.image.width >= w && this.image.height >= h) return
    this.image = new ImageData(Math.max(w, this.image.width), Math.max(h, this.image.height))
    this.pixels = new Uint32Array(this.image.data.buffer)
    this.part = nothing()
  }

  /** The dye as a pixel without opacity. */
  static dye(name: ColourName): number {
    const { r, g, b } = rgbOf(name)
    return (b << 16) | (g << 8) | r
  }

  /**
   * Lays a dye with an opacity 0…1 over a column, from `top` to `bottom`. Whole pixels are set to `inside`, which is what the dye gives there; the pixels
   * at the ends get the share of it that they are covered by. In one place only one dye may be laid between two copies.
   */
  lay(column: number, top: number, bottom: number, dye: number, opacity: number, inside: number): void {
    const { width, height } = this.image
    const low = Math.max(0, Math.floor(top))
    const high = Math.min(height, Math.ceil(bottom))
    if (column < 0 || column >= width || high <= low) return
    this.touch(column, low, high)
    const { pixels } = this
    const first = Math.max(low, Math.ceil(top))
    const last = Math.min(high, Math.floor(bottom))
    const end = last * width + column
    for (let i = first * width + column; i < end; i += width) pixels[i] = inside
    if (first > low) pixels[low * width + column] = over(pixels[low * width + column]!, dye, opacity * (Math.min(first, bottom) - top))
    if (last < high && last >= first) pixels[end] = over(pixels[end]!, dye, opacity * (bottom - Math.max(last, top)))
  }

  /** Sets a column from `top` to `bottom`, rounded to whole pixels, to a dye, whatever is there; as stitches so long and so far from one to the next. */
  put(column: number, top: number, bottom: number, dye: number, opacity = 1, stitch = 1, step = 1): void {
    const { width, height } = this.image
    const low = Math.max(0, Math.round(top))
    const high = Math.min(height, Math.round(bottom))
    if (column < 0 || column >= width || high <= low) return
    this.touch(column, low, high)
    const pixel = over(0, dye, opacity)
    for (let from = low; from < high; from += step) for (let y = from; y < Math.min(from + stitch, high); y++) this.pixels[y * width + column] = pixel
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
    const canvas = this.canvases[(this.turn = (this.turn + 1) % this.canvases.length)]!
    if (canvas.width !== image.width || canvas.height !== image.height) [canvas.width, canvas.height] = [image.width, image.height]
    canvas.getContext('2d', { willReadFrequently: true })!.putImageData(image, 0, 0, from, top, to - from, bottom - top)
    ctx.drawImage(canvas, from, top, to - from, bottom - top, this.x + from / ratio, this.y + top / ratio, (to - from) / ratio, (bottom - top) / ratio)
    for (let y = top; y < bottom; y++) this.pixels.fill(0, y * image.width + from, y * image.width + to)
    this.part = nothing()
  }
}
