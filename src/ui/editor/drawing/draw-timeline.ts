import { rowIds } from '../../../core/model/strips'
import { drawGrid } from './draw-grid'
import { together } from '../../../core/model/groups'
import { isAudible, regionEnd } from '../../../core/model/queries'
import type { Region, Session } from '../../../core/model/session'
import { crossfadeSides, type Correlations } from '../../../core/render'
import type { Seam } from '../../../core/suggest/seams'
import type { Pictures } from '../../../engine/storage'
import type { FrameRange } from '../../../engine/playback'
import type { View } from '../../../store/view'
import { colour, faded } from '../../look/colours'
import { drawHems, type Hem } from './draw-hems'
import { drawClick, drawMarks } from './draw-region'
import {
  frameToX,
  regionBox,
  ROW_PAD,
  rowHeight,
  rowTop,
  soundBox,
  visibleRegions,
  visibleRows,
} from './geometry'
import type { RowTiles } from './row-tiles'
import { nextRow } from './next-row'
import { drawSoundScale } from './draw-sound-scale'
import type { SoundScale } from './sound-scale'
import type { Trial } from './gain-trial'

/** Everything that the picture of the timeline depends on. */
export interface TimelinePicture {
  session: Session
  rows: readonly (readonly Region[])[]
  view: View
  selection: ReadonlySet<string>
  /** The same as a list. */
  selected: readonly string[]
  leavesGroups: boolean
  range: FrameRange | null
  pickedTrack: string | null
  timeScale: 'bars' | 'seconds'
  correlations: Correlations
  /** The seams that click, by their tracks. */
  clicks: ReadonlyMap<string, readonly Seam[]>
  trial: Trial | null
  /** How large sounds are drawn: all, and those of tracks that have a factor of their own. */
  scale: SoundScale
  factors: Readonly<Record<string, number>>
}

const NONE: ReadonlyMap<string, string> = new Map()

/** The pictures of so many rows above and below those in sight are kept and, in spare moments, painted. */
const AHEAD = 4

/** How large the sound of a track is drawn. */
const scaleOf = (
  { scale, factors }: Pick<TimelinePicture, 'scale' | 'factors'>,
  trackId: string,
): SoundScale => (factors[trackId] === undefined ? scale : { ...scale, factor: factors[trackId] })

/** The sounds of rows, as they were looked up last. */
const sounds = new WeakMap<readonly Region[], { sources: Session['sources']; hashes: Set<string> }>()

/** Changes when something has arrived of a sound in a row; arrivals for other rows are not its concern. */
function arrivalsIn(pictures: Pictures, { sources }: Session, regions: readonly Region[]): number {
  let known = sounds.get(regions)
  if (known?.sources !== sources) {
    known = { sources, hashes: new Set(regions.map((r) => sources[r.sourceId]!.sha256)) }
    sounds.set(regions, known)
  }
  let sum = 0
  for (const sha256 of known.hashes) sum += pictures.arrivalsOf(sha256)
  return sum
}

/** What the picture of one row is made of. */
const rowState = (
  { session, rows, view, correlations, trial, scale, factors }: TimelinePicture,
  row: number,
  pictures: Pictures,
) => ({
  regions: rows[row]!,
  gainThreads: session.gainThreads,
  crossfades: session.crossfades,
  correlations,
  framesPerPixel: view.framesPerPixel,
  height: rowHeight(view, row),
  scale: scaleOf({ scale, factors }, rowIds(session)[row]!),
  ratio: window.devicePixelRatio || 1,
  version: arrivalsIn(pictures, session, rows[row]!),
  trial,
})

const sidesOf = ({ session, correlations }: TimelinePicture) =>
  Object.keys(session.crossfades).length ? crossfadeSides(session, correlations) : null

/**
 * Paints a piece of a row that is out of sight, near it; tells whether there was one to paint. With `all`,
 * rows that changed since they were seen are painted anew, too.
 */
export function drawAhead(
  tiles: RowTiles,
  pictures: Pictures,
  picture: TimelinePicture,
  down: boolean,
  all: boolean,
): boolean {
  const { session, rows, view } = picture
  const sides = sidesOf(picture)
  return (
    nextRow(visibleRows(view, rows.length), rows.length, down, AHEAD, (row) =>
      tiles.paintAhead(
        pictures,
        session,
        rowIds(session)[row]!,
        sides,
        view,
        rowState(picture, row, pictures),
        all,
      ),
    ) !== null
  )
}

/** Draws the visible part of the timeline. */
export function drawTimeline(
  ctx: CanvasRenderingContext2D,
  tiles: RowTiles,
  pictures: Pictures,
  picture: TimelinePicture,
): void {
  const { session, rows, view, selection } = picture
  const { first, last } = visibleRows(view, rows.length)
  for (let row = first; row < last; row++) {
    const y = rowTop(view, row)
    const height = rowHeight(view, row)
    if (rowIds(session)[row] === picture.pickedTrack) {
      ctx.fillStyle = faded('white', 0.6)
      ctx.fillRect(0, y, view.width, height)
    }
    ctx.fillStyle = colour('fold')
    ctx.fillRect(0, y + height - 1, view.width, 1)
    // Opened lanes lie on cloth.
    const lanes = view.below?.[row] ?? 0
    if (lanes > 0) {
      ctx.fillStyle = faded('cloth', 0.7)
      ctx.fillRect(0, y + height, view.width, lanes)
    }
  }
  drawGrid(ctx, session, view, picture.timeScale)
  if (picture.range) {
    const [a, b] = [frameToX(view, picture.range.from), frameToX(view, picture.range.to)]
    ctx.fillStyle = faded('oak', 0.12)
    ctx.fillRect(a, 0, b - a, view.height)
  }
  const sides = sidesOf(picture)
  const hems: Hem[] = []
  const along = picture.leavesGroups ? NONE : together(session, picture.selected).follows
  for (let row = first; row < last; row++) {
    const trackId = rowIds(session)[row]!
    const regions = rows[row]!
    const opacity = isAudible(session, trackId) ? 1 : 0.45
    ctx.globalAlpha = opacity
    tiles.draw(
      ctx,
      pictures,
      session,
      trackId,
      sides,
      { left: view.left, y: rowTop(view, row), width: view.width },
      rowState(picture, row, pictures),
    )
    const seen = visibleRegions(regions, view)
    for (let r = seen.first; r < seen.last; r++) {
      const region = regions[r]!
      const threaded =
        region.gainThreadId !== null && session.gainThreads[region.gainThreadId]!.knots.length > 0
      const gainDb = region.clipGainDb + (picture.trial?.regionIds.has(region.id) ? picture.trial.byDb : 0)
      // Where the next region lies over this one's end, the hem is that one's.
      const next = regions[r + 1]
      const covered = next ? Math.max(0, regionEnd(region) - next.start) / view.framesPerPixel : 0
      const box = regionBox(view, region, row)
      const end = Math.min(view.width, box.x + box.width - covered)
      const missing = pictures.isMissing(session.sources[region.sourceId]!.sha256)
      hems.push({ region, gainDb, box, end, opacity, missing })
      drawMarks(ctx, box, view.width, selection.has(region.id) || (along.has(region.id) && 'along'), threaded)
    }
    ctx.globalAlpha = 1
    // Over the frames of selected regions.
    for (const { frame } of picture.clicks.get(trackId) ?? []) {
      const x = frameToX(view, frame)
      if (x > -6 && x < view.width + 6) drawClick(ctx, x, rowTop(view, row) + ROW_PAD)
    }
  }
  drawHems(ctx, hems)
  for (let row = first; row < last; row++) {
    const trackId = rowIds(session)[row]!
    const top = rowTop(view, row) + ROW_PAD
    const box = soundBox({ x: 0, y: top, width: view.width, height: rowHeight(view, row) - 2 * ROW_PAD })
    if (session.tracks[trackId])
      drawSoundScale(
        ctx,
        box,
        session.tracks[trackId].channels,
        scaleOf(picture, trackId),
        trackId === picture.pickedTrack,
      )
  }
  tiles.keep(new Set(rowIds(session).slice(Math.max(0, first - AHEAD), last + AHEAD)))
}
