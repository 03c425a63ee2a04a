import { gainAtFrame } from '../../../core/curve/knots'
import { regionEnd } from '../../../core/model/queries'
import type { Knot, Region } from '../../../core/model/session'
import type { View } from '../../../store/view-slice'
import { frameToX, type Box } from './geometry'

/** The session frame at which a source frame of a region sounds; a reversed region plays it from its end. */
export const sourceToSession = (region: Region, frame: number) => (region.reversed ? region.start + region.offset + region.length - 1 - frame : region.start + frame - region.offset)

/** The source frame that sounds at a session frame. */
export const sessionToSource = (region: Region, frame: number) => (region.reversed ? region.offset + region.length - 1 - (frame - region.start) : region.offset + frame - region.start)

/** Vertical place of a height 0…1 inside a box, and back. */
export const heightToY = (box: Box, height: number) => box.y + box.height * (1 - height)
export const yToHeight = (box: Box, y: number) => Math.max(0, Math.min(1, 1 - (y - box.y) / box.height))

/** A knot on the screen. */
export interface KnotPlace {
  index: number
  x: number
  y: number
}

/** The knots of a region's thread that lie inside it and on the screen. */
export function knotPlaces(view: View, region: Region, box: Box, knots: readonly Knot[]): KnotPlace[] {
  const places: KnotPlace[] = []
  knots.forEach((knot, index) => {
    const frame = sourceToSession(region, knot.frame)
    const x = frameToX(view, frame)
    if (frame >= region.start && frame <= regionEnd(region) && x >= -10 && x <= view.width + 10) places.push({ index, x, y: heightToY(box, knot.value) })
  })
  return places
}

/** The drawn thread of a region as an SVG path, for its visible part: straight runs between knots, points every 3 pixels on curves. */
export function threadPath(view: View, region: Region, box: Box, knots: readonly Knot[]): string {
  const from = Math.max(box.x, -4)
  const to = Math.min(box.x + box.width, view.width + 4)
  if (to <= from) return ''
  const points: [number, number][] = []
  const at = (x: number, nudge = 0) => heightToY(box, gainAtFrame(knots, sessionToSource(region, region.start + (x - box.x) * view.framesPerPixel) + nudge))
  const xs = [from, to]
  for (const { x } of knotPlaces(view, region, box, knots)) xs.push(x)
  if (knots.some((k) => k.bend !== 0 || k.shape === 's-curve')) for (let x = from; x < to; x += 3) xs.push(x)
  for (const x of xs.filter((v) => v >= from && v <= to).sort((a, b) => a - b)) {
    // Both sides of a step.
    points.push([x, at(x, region.reversed ? 1e-6 : -1e-6)], [x, at(x)])
  }
  return points.map(([x, y], i) => `${i ? 'L' : 'M'}${x.toFixed(1)} ${y.toFixed(1)}`).join('')
}

/** The index of the knot at whose right (in source frames) a frame lies: the stretch under it; null outside all knots. */
export function stretchAt(knots: readonly Knot[], frame: number): number | null {
  const after = knots.findIndex((k) => k.frame > frame)
  return after > 0 ? after - 1 : null
}
