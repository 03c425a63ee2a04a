import { isAudible, regionEnd } from '../../../core/model/queries'
import type { Region, Session } from '../../../core/model/session'
import { crossfadeSides, type Correlations } from '../../../core/render'
import { barPosition, barToBeat, beatToFrame, secondsToBeat } from '../../../core/units/tempo'
import type { Pictures } from '../../../engine/pictures'
import type { FrameRange } from '../../../engine/stream'
import type { View } from '../../../store/view-slice'
import { colour, faded } from '../../look/colours'
import { drawHems, type Hem } from './draw-hems'
import { drawMarks } from './draw-region'
import { frameToX, markStep, regionBox, ROW_HEIGHT, rowTop, SECOND_STEPS, visibleRegions, visibleRows } from './geometry'
import type { RowTiles } from './row-tiles'
import type { Trial } from './trial'

/** Everything that the picture of the timeline depends on. */
export interface TimelinePicture {
  session: Session
  rows: readonly (readonly Region[])[]
  view: View
  selection: ReadonlySet<string>
  range: FrameRange | null
  pickedTrack: string | null
  timeScale: 'bars' | 'seconds'
  correlations: Correlations
  trial: Trial | null
}

/** Draws the visible part of the timeline; `version` tells which pictures of sounds have arrived. */
export function drawTimeline(ctx: CanvasRenderingContext2D, tiles: RowTiles, pictures: Pictures, version: number, picture: TimelinePicture): void {
  const { session, rows, view, selection } = picture
  const { first, last } = visibleRows(view, rows.length)
  for (let row = first; row < last; row++) {
    const y = rowTop(view, row)
    if (session.trackIds[row] === picture.pickedTrack) {
      ctx.fillStyle = faded('white', 0.6)
      ctx.fillRect(0, y, view.width, ROW_HEIGHT)
    }
    ctx.fillStyle = colour('fold')
    ctx.fillRect(0, y + ROW_HEIGHT - 1, view.width, 1)
    // Opened lanes lie on cloth.
    const lanes = view.below?.[row] ?? 0
    if (lanes > 0) {
      ctx.fillStyle = faded('cloth', 0.7)
      ctx.fillRect(0, y + ROW_HEIGHT, view.width, lanes)
    }
  }
  if (picture.timeScale === 'seconds') drawSeconds(ctx, session.sampleRate, view)
  else drawGrid(ctx, session, view)
  if (picture.range) {
    const [a, b] = [frameToX(view, picture.range.from), frameToX(view, picture.range.to)]
    ctx.fillStyle = faded('oak', 0.12)
    ctx.fillRect(a, 0, b - a, view.height)
  }
  const sides = Object.keys(session.crossfades).length ? crossfadeSides(session, picture.correlations) : null
  const ratio = window.devicePixelRatio || 1
  const hems: Hem[] = []
  for (let row = first; row < last; row++) {
    const trackId = session.trackIds[row]!
    const regions = rows[row]!
    const opacity = isAudible(session, trackId) ? 1 : 0.45
    ctx.globalAlpha = opacity
    const state = { regions, gainThreads: session.gainThreads, crossfades: session.crossfades, correlations: picture.correlations, framesPerPixel: view.framesPerPixel, ratio, version, trial: picture.trial }
    tiles.draw(ctx, pictures, session, trackId, sides, { left: view.left, y: rowTop(view, row), width: view.width }, state)
    const seen = visibleRegions(regions, view)
    for (let r = seen.first; r < seen.last; r++) {
      const region = regions[r]!
      const threaded = region.gainThreadId !== null && session.gainThreads[region.gainThreadId]!.knots.length > 0
      const gainDb = region.clipGainDb + (picture.trial?.regionIds.has(region.id) ? picture.trial.byDb : 0)
      // Where the next region lies over this one's end, the hem is that one's.
      const next = regions[r + 1]
      const covered = next ? Math.max(0, regionEnd(region) - next.start) / view.framesPerPixel : 0
      const box = regionBox(view, region, row)
      hems.push({ region, gainDb, box, end: Math.min(view.width, box.x + box.width - covered), opacity })
      drawMarks(ctx, box, view.width, selection.has(region.id), threaded)
    }
    ctx.globalAlpha = 1
  }
  drawHems(ctx, hems)
  tiles.keep(new Set(session.trackIds.slice(Math.max(0, first - 2), last + 2)))
}

/** Thin lines at bars, and at beats when they are far enough apart. */
function drawGrid(ctx: CanvasRenderingContext2D, session: Session, view: View): void {
  const { tempo, sampleRate } = session
  const beatPixels = ((60 / tempo[0]!.bpm) * sampleRate) / view.framesPerPixel
  let bar = Math.max(1, barPosition(tempo, Math.max(0, secondsToBeat(tempo, view.left / sampleRate))).bar)
  const skip = beatPixels * 4 < 12 ? 4 : 1
  for (; ; bar += skip) {
    const beat = barToBeat(tempo, bar)
    const x = frameToX(view, beatToFrame(tempo, sampleRate, beat))
    if (x > view.width) return
    ctx.fillStyle = faded('seam', 0.55)
    ctx.fillRect(Math.round(x), 0, 1, view.height)
    if (beatPixels < 24) continue
    ctx.fillStyle = faded('seam', 0.28)
    for (let b = beat + 1; b < barToBeat(tempo, bar + 1) - 1e-9; b++) ctx.fillRect(Math.round(frameToX(view, beatToFrame(tempo, sampleRate, b))), 0, 1, view.height)
  }
}

/** Thin lines at seconds, where the grid follows them. */
function drawSeconds(ctx: CanvasRenderingContext2D, sampleRate: number, view: View): void {
  const step = markStep(sampleRate / view.framesPerPixel, 14, SECOND_STEPS)
  const main = markStep(sampleRate / view.framesPerPixel, 74, SECOND_STEPS)
  for (let n = Math.ceil(view.left / sampleRate / step); ; n++) {
    const x = frameToX(view, n * step * sampleRate)
    if (x > view.width) return
    ctx.fillStyle = faded('seam', Math.abs((n * step) / main - Math.round((n * step) / main)) < 1e-6 ? 0.55 : 0.28)
    ctx.fillRect(Math.round(x), 0, 1, view.height)
  }
}
