import { clamp } from '../../../core/units/clamp'
import { colour, faded, type ColourName } from '../../look/colours'
import { write, type Style } from '../../look/writing'

export const FIGURES: Style = { face: 'figures', size: 10, dye: 'soft' }

/** The range of frequencies of pictures, in Hz. */
export const LOWEST_HZ = 20
export const HIGHEST_HZ = 20_000
const OCTAVES = Math.log2(HIGHEST_HZ / LOWEST_HZ)

export const hzToX = (hz: number, width: number): number => (Math.log2(hz / LOWEST_HZ) / OCTAVES) * width
export const xToHz = (x: number, width: number): number =>
  LOWEST_HZ * 2 ** ((clamp(x, 0, width) / width) * OCTAVES)

const NAMED_HZ: readonly (readonly [hz: number, name: string])[] = [
  [50, '50'],
  [100, '100'],
  [200, '200'],
  [500, '500'],
  [1000, '1k'],
  [2000, '2k'],
  [5000, '5k'],
  [10_000, '10k'],
]

/** Lines of frequencies with their names at the bottom. */
export function drawFrequencies(ctx: CanvasRenderingContext2D, width: number, height: number): void {
  ctx.fillStyle = faded('seam', 0.6)
  for (const [hz] of NAMED_HZ) ctx.fillRect(Math.round(hzToX(hz, width)), 0, 1, height)
  // Where there is little room only the decades are named.
  for (const [hz, name] of NAMED_HZ)
    if (width > 320 || Number.isInteger(Math.log10(hz)))
      write(ctx, name, hzToX(hz, width) + 3, height - 7, FIGURES)
}

/** Lines across at some values with their names at the left. */
export function drawLevels(
  ctx: CanvasRenderingContext2D,
  levels: readonly number[],
  toY: (db: number) => number,
  width: number,
  name: (db: number) => string = signed,
): void {
  for (const db of levels) {
    ctx.fillStyle = faded('seam', db === 0 ? 1 : 0.6)
    ctx.fillRect(0, Math.round(toY(db)), width, 1)
  }
  for (const db of levels) write(ctx, name(db), 3, toY(db) - 6, FIGURES)
}

export const signed = (db: number): string => (db > 0 ? `+${db}` : db < 0 ? `−${-db}` : '0')

/** A line through points; `fill` is down to which height the place below it is washed. */
export function drawLine(
  ctx: CanvasRenderingContext2D,
  points: readonly (readonly [x: number, y: number])[],
  {
    dye,
    width = 1.5,
    opacity = 1,
    fill,
  }: { dye: ColourName; width?: number; opacity?: number; fill?: number },
): void {
  if (points.length < 2) return
  ctx.beginPath()
  points.forEach(([x, y], i) => (i ? ctx.lineTo(x, y) : ctx.moveTo(x, y)))
  if (fill !== undefined) {
    ctx.lineTo(points.at(-1)![0], fill)
    ctx.lineTo(points[0]![0], fill)
    ctx.closePath()
    ctx.fillStyle = faded(dye, opacity)
    ctx.fill()
    return
  }
  ctx.strokeStyle = opacity === 1 ? colour(dye) : faded(dye, opacity)
  ctx.lineWidth = width
  ctx.lineJoin = 'round'
  ctx.stroke()
}
