import { clamp } from '../../../core/units/clamp'
import { regionEnd } from '../../../core/model/queries'
import type { Region } from '../../../core/model/session'
import { ROW_HEIGHT, type View } from '../../../store/view'

/** Heights in pixels: of the hem below the sound, and between a row's edge and its regions. */
export const HEM_HEIGHT = 16
export const ROW_PAD = 3
export const RULER_HEIGHT = 40

/**
 * What a head in the rail has room for: "full" has a line each for name, switches and values, and the fader with its
 * meter; "flat" is without fader; "line" is one line with name, mute and solo.
 */
export type HeadKind = 'full' | 'flat' | 'line'

export const headKind = (height: number): HeadKind => (height >= 68 ? 'full' : height >= 52 ? 'flat' : 'line')

/** Widest zoom: pixels per single frame. */
const MAX_PIXELS_PER_FRAME = 32

/** A rectangle in pixels. */
export interface Box {
  x: number
  y: number
  width: number
  height: number
}

/** Horizontal place of a session frame, in pixels from the left edge of the timeline. */
export const frameToX = (view: View, frame: number) => (frame - view.left) / view.framesPerPixel

/** Session frame (a real number) at a horizontal place. */
export const xToFrame = (view: View, x: number) => view.left + x * view.framesPerPixel

/** What is shown of a session in which there is nothing yet: half a minute at 48 kHz. */
const EMPTY_LENGTH = 30 * 48000

/** Frames per pixel at which the whole session fits with a little room behind it. */
export const wholeFramesPerPixel = (length: number, width: number) =>
  ((length || EMPTY_LENGTH) * 1.04) / Math.max(width, 1)

/** Whether a view shows a session of that length from its start to its end. */
export const showsWhole = (view: View, length: number) =>
  view.left === 0 && view.width * view.framesPerPixel >= length

type Rows = Pick<View, 'top' | 'heights' | 'below'>

/** Height of a row in pixels, without the lanes that are opened below it. */
export const rowHeight = ({ heights }: Pick<View, 'heights'>, row: number) =>
  heights?.[row] ?? ROW_HEIGHT.first

const NO_HEIGHTS: readonly number[] = []
const sums = new WeakMap<readonly number[], WeakMap<readonly number[], number[]>>()

/** The upper edges of rows with heights of their own and opened lanes, from the top of all, and the lower end of the last. */
function edgesOf(heights: readonly number[] = NO_HEIGHTS, below: readonly number[] = NO_HEIGHTS): number[] {
  let byBelow = sums.get(heights)
  if (!byBelow) sums.set(heights, (byBelow = new WeakMap()))
  let edges = byBelow.get(below)
  if (!edges) {
    edges = [0]
    for (let row = 0; row < Math.max(heights.length, below.length); row++)
      edges.push(edges[row]! + rowHeight({ heights }, row) + (below[row] ?? 0))
    byBelow.set(below, edges)
  }
  return edges
}

/**
 * The upper edge of a row on the timeline, in pixels from the top of the screen's part; that of a row past
 * the last is its lower end.
 */
export function rowTop({ top, heights, below }: Rows, row: number): number {
  const edges = edgesOf(heights, below)
  const known = Math.min(row, edges.length - 1)
  return edges[known]! + (row - known) * ROW_HEIGHT.first - top
}

/**
 * A view inside its limits: not before the start, not further out than one and a half times the session, not
 * lost behind its end.
 */
export function boundedView(view: View, length: number, rows: number): View {
  const widest = Math.max(wholeFramesPerPixel(length, view.width) * 1.5, 1)
  const framesPerPixel = Math.min(widest, Math.max(1 / MAX_PIXELS_PER_FRAME, view.framesPerPixel))
  const last = Math.max(0, length - view.width * framesPerPixel * 0.25)
  const lowest = Math.max(0, rowTop({ ...view, top: 0 }, rows) + ROW_HEIGHT.first / 2 - view.height)
  return {
    ...view,
    framesPerPixel,
    left: Math.min(last, Math.max(0, view.left)),
    top: clamp(view.top, 0, lowest),
  }
}

/** The view zoomed by a factor (below 1 comes closer), with what is at `x` pixels staying there. */
export function zoomedAbout(view: View, x: number, factor: number, length: number, rows: number): View {
  const framesPerPixel = boundedView(
    { ...view, framesPerPixel: view.framesPerPixel * factor },
    length,
    rows,
  ).framesPerPixel
  return boundedView({ ...view, framesPerPixel, left: xToFrame(view, x) - x * framesPerPixel }, length, rows)
}

/** What of a view is seen from left to right, in pixels from its `left`. */
export const seenAcross = ({ x0 = 0, width }: Pick<View, 'x0' | 'width'>) => ({ from: x0, to: x0 + width })

/**
 * Sheets begin and end at multiples of this, in pixels, and reach at least so far beyond the screen where it
 * goes when they are chosen.
 */
export const SHEET_STEP = 1536
/** How far from its origin things are laid out on a sheet, in pixels. */
const SHEET_REACH = 16000
/**
 * What reaches further than this from the origin of a sheet ends there, in pixels: farther than any sheet
 * reaches, so that what scrolls by stays as it is.
 */
export const FAR = 30_000

/**
 * The pixels from `from` to `to`, widened to whole steps and by one more where those of before are left (at
 * first on both sides); those of before while they hold what is seen.
 */
function widened(
  from: number,
  to: number,
  step: number,
  phase: number,
  last: { from: number; to: number } | null,
): { from: number; to: number } {
  if (last && last.from <= from && last.to >= to) return last
  const [before, after] = [!last || from < last.from ? 1 : 0, !last || to > last.to ? 1 : 0]
  return {
    from: (Math.floor((from - phase) / step) - before) * step + phase,
    to: (Math.ceil((to - phase) / step) + after) * step + phase,
  }
}

/**
 * A view wider than the screen, and as high as all rows, that stays the same while the screen moves within
 * it. What is laid out on such a sheet is only pushed along when the timeline scrolls. When the screen leaves
 * it the next sheet has the same origin, so that what is on both stays where it is and only what comes into
 * it is laid out. `last` is the sheet of before. Sheets of several phases (pixels below a step) are left at
 * different times, so that no picture has all of them to lay out.
 */
export function sheetFor(view: View, last: View | null, phase = 0, step = SHEET_STEP): View {
  const kept =
    last &&
    last.framesPerPixel === view.framesPerPixel &&
    last.below === view.below &&
    last.heights === view.heights &&
    Math.abs(frameToX(last, view.left)) < SHEET_REACH
      ? last
      : null
  const left = kept?.left ?? view.left
  const x = frameToX({ ...view, left }, view.left)
  const across = widened(
    x,
    x + view.width,
    step,
    phase,
    kept && kept.width < view.width + 4 * step ? seenAcross(kept) : null,
  )
  if (kept && across.from === kept.x0 && across.to - across.from === kept.width) return kept
  return { ...view, left, top: 0, x0: across.from, width: across.to - across.from, height: 0 }
}

/** A view with what is close to it on both sides: so much of the next sheet is laid out before it is seen. */
export const nearby = (view: View, step = SHEET_STEP): View => ({
  ...view,
  left: view.left - (step / 2) * view.framesPerPixel,
  width: view.width + step,
})

/** Rows that are seen, or less than so many pixels beyond: first and one past the last. */
export function visibleRows(
  view: Rows & Pick<View, 'height'>,
  rows: number,
  beyond = 0,
): { first: number; last: number } {
  return {
    first: Math.min(rows, Math.max(0, rowAt(view, -beyond))),
    last: clamp(rowAt(view, view.height + beyond - 1) + 1, 0, rows),
  }
}

/**
 * The row at a vertical place (pixels from the top of the timeline below the ruler), with its opened lanes;
 * it may lie beyond the last.
 */
export function rowAt(view: Rows, y: number): number {
  const edges = edgesOf(view.heights, view.below)
  const place = y + view.top
  const rows = edges.length - 1
  if (place < 0) return Math.floor(place / ROW_HEIGHT.first)
  if (place >= edges[rows]!) return rows + Math.floor((place - edges[rows]!) / ROW_HEIGHT.first)
  let [low, high] = [0, rows]
  while (high - low > 1) {
    const middle = (low + high) >>> 1
    if (edges[middle]! <= place) low = middle
    else high = middle
  }
  return low
}

/** Whether a place lies on the opened lanes of a row rather than on its regions. */
export function overLanes(view: Rows, y: number): boolean {
  const row = rowAt(view, y)
  return y - rowTop(view, row) >= rowHeight(view, row)
}

/** Regions of a sorted list that touch the visible frames, as indices: first and one past the last. */
export function visibleRegions(regions: readonly Region[], view: View): { first: number; last: number } {
  const { from, to } = seenAcross(view)
  const [begin, end] = [xToFrame(view, from), xToFrame(view, to)]
  let low = 0
  let high = regions.length
  while (low < high) {
    const middle = (low + high) >>> 1
    if (regionEnd(regions[middle]!) <= begin) low = middle + 1
    else high = middle
  }
  let last = low
  while (last < regions.length && regions[last]!.start < end) last++
  return { first: low, last }
}

/** Where a region lies on the timeline. */
export function regionBox(view: View, region: Region, row: number): Box {
  const x = frameToX(view, region.start)
  return {
    x,
    y: rowTop(view, row) + ROW_PAD,
    width: region.length / view.framesPerPixel,
    height: rowHeight(view, row) - 2 * ROW_PAD,
  }
}

/** Regions that are less high have no hem: their sound takes all of them. */
const LEAST_WITH_HEM = 38

/** Height of the hem of a region that is so high, in pixels. */
export const hemHeight = (regionHeight: number) => (regionHeight < LEAST_WITH_HEM ? 0 : HEM_HEIGHT)

/** The part of a region's box that shows sound, above the hem. */
export const soundBox = (box: Box): Box => ({ ...box, height: box.height - hemHeight(box.height) })

/** Regions that a swept rectangle touches, by their ids. `rows` gives each row's sorted regions. */
export function regionsIn(view: View, rows: readonly (readonly Region[])[], swept: Box): string[] {
  const from = xToFrame(view, swept.x)
  const to = xToFrame(view, swept.x + swept.width)
  const first = Math.max(0, rowAt(view, swept.y))
  const last = Math.min(rows.length - 1, rowAt(view, swept.y + swept.height))
  const ids: string[] = []
  for (let row = first; row <= last; row++) {
    if (rowTop(view, row) + rowHeight(view, row) <= swept.y) continue
    for (const region of rows[row]!) if (region.start < to && regionEnd(region) > from) ids.push(region.id)
  }
  return ids
}

/** The region of a sorted list at a frame, the later one where two overlap. */
export function regionAt(regions: readonly Region[], frame: number): Region | null {
  for (let i = regions.length - 1; i >= 0; i--)
    if (regions[i]!.start <= frame && regionEnd(regions[i]!) > frame) return regions[i]!
  return null
}

/** Seconds between marks, from the finest on. */
export const SECOND_STEPS = [
  0.0001, 0.0002, 0.0005, 0.001, 0.002, 0.005, 0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1, 2, 5, 10, 15, 30, 60, 120,
  300, 600,
]

/**
 * Distance between ruler marks: the smallest of 1, 2, 5, 10… (or of beats and bars) that leaves `least`
 * pixels between marks.
 */
export function markStep(unitPixels: number, least: number, steps: readonly number[]): number {
  for (const step of steps) if (step * unitPixels >= least) return step
  let step = steps[steps.length - 1]!
  while (step * unitPixels < least) step *= 2
  return step
}
