import { whenColoursChange } from './colours'

type Context = CanvasRenderingContext2D | OffscreenCanvasRenderingContext2D

/** Stamps that are kept at most, of each kind. */
const MOST_STAMPS = 500

/**
 * A small drawing that is made once and copied: anti-aliased outlines are slow to fill, and there may be
 * hundreds of them. `draw` gets a canvas of `width` × `height` CSS pixels. The returned function puts the
 * stamp's top left corner at a place (CSS pixels), on whole device pixels.
 */
export function stamp(
  width: number,
  height: number,
  draw: (ctx: Context) => void,
): (ctx: Context, x: number, y: number) => void {
  const made = new Map<number, OffscreenCanvas>()
  whenColoursChange(() => made.clear())
  return (ctx, x, y) => {
    const ratio = window.devicePixelRatio || 1
    let canvas = made.get(ratio)
    if (!canvas) {
      canvas = new OffscreenCanvas(Math.ceil(width * ratio), Math.ceil(height * ratio))
      const own = canvas.getContext('2d', { willReadFrequently: true })!
      own.scale(ratio, ratio)
      draw(own)
      made.set(ratio, canvas)
    }
    ctx.drawImage(
      canvas,
      Math.round(x * ratio) / ratio,
      Math.round(y * ratio) / ratio,
      canvas.width / ratio,
      canvas.height / ratio,
    )
  }
}

/** The same for drawings in several sizes or colours: one stamp per key. */
export function stamps<Key extends string | number>(
  made: (key: Key) => ReturnType<typeof stamp>,
): (key: Key) => ReturnType<typeof stamp> {
  const all = new Map<Key, ReturnType<typeof stamp>>()
  return (key) => {
    let one = all.get(key)
    if (!one) {
      if (all.size >= MOST_STAMPS) all.clear()
      all.set(key, (one = made(key)))
    }
    return one
  }
}
