import type { Region, Session } from '../../../core/model/session'
import { planRegion, type Correlations, type RegionPlan, type Sides } from '../../../core/render'
import { dbToGain } from '../../../core/units/decibel'
import type { Columns, Pictures } from '../../../engine/storage'
import { drawCrossfade, drawRegions } from './draw-region'
import { frameToX, regionBox, soundBox, visibleRegions } from './geometry'
import { sameScale, type SoundScale } from './sound-scale'
import { SoundStrip, type Context } from './sound-strip'
import type { Trial } from './gain-trial'

/** Width of a tile in CSS pixels. */
const TILE = 256
/** Rows begin their tiles at so many different places. */
const PHASES = 8
/** Tiles kept for a row besides the visible ones. */
const SPARE = 8

/** Everything that the picture of a row depends on, besides the scroll. */
interface RowState {
  regions: readonly Region[]
  gainThreads: Session['gainThreads']
  crossfades: Session['crossfades']
  correlations: Correlations
  framesPerPixel: number
  /** Of the row, in CSS pixels. */
  height: number
  scale: SoundScale
  ratio: number
  version: number
  trial: Trial | null
}

interface Row extends RowState {
  /** By how many pixels its tiles begin earlier than those of the first row: not all rows need a new one at once. */
  phase: number
  left: number
  width: number
  /** What was read of the sounds of its regions, for the same view with other gains. */
  read: Read
  /** Null until the row was unchanged twice: a row that is being dragged is drawn without caching. */
  tiles: Map<number, OffscreenCanvas> | null
}

type Read = Map<string, Columns[]>

const sameRegions = (a: readonly Region[], b: readonly Region[]) =>
  a === b || (a.length === b.length && a.every((r, i) => r === b[i]))

const same = (a: RowState, b: RowState) =>
  a.trial === b.trial && a.height === b.height && sameScale(a.scale, b.scale) && sameSounds(a, b)

const sameSounds = (a: RowState, b: RowState) =>
  a.framesPerPixel === b.framesPerPixel &&
  a.ratio === b.ratio &&
  a.version === b.version &&
  a.gainThreads === b.gainThreads &&
  a.crossfades === b.crossfades &&
  a.correlations === b.correlations &&
  sameRegions(a.regions, b.regions)

/**
 * Caches the pictures of rows as tiles, so that scrolling only copies them. A row is redrawn when its
 * regions, the zoom or the waveform data changes.
 */
export class RowTiles {
  private readonly rows = new Map<string, Row>()
  /** Rows that were begun, for their phases. */
  private begun = 0
  /** Whether a tile was painted for this picture. */
  private painted = false

  /** Copies the visible part of a track's row onto a canvas that is scrolled to `left` frames. */
  draw(
    ctx: CanvasRenderingContext2D,
    pictures: Pictures,
    session: Session,
    trackId: string,
    sides: ReadonlyMap<string, Sides> | null,
    place: { left: number; y: number; width: number },
    state: RowState,
  ): void {
    const row = this.rows.get(trackId)
    if (!row || !same(row, state)) {
      const read: Read =
        row && row.left === place.left && row.width === place.width && sameSounds(row, state)
          ? row.read
          : new Map<string, Columns[]>()
      const phase = row?.phase ?? this.nextPhase()
      this.rows.set(trackId, { ...state, phase, tiles: null, left: place.left, width: place.width, read })
      paintRow(ctx, pictures, session, trackId, sides, state, place, read)
      return
    }
    row.tiles ??= new Map()
    const scroll = place.left / state.framesPerPixel + row.phase
    const first = Math.floor(scroll / TILE)
    const last = Math.floor((scroll + place.width) / TILE)
    const { tiles } = row
    const tileAt = (index: number): OffscreenCanvas => {
      let tile = tiles.get(index)
      if (!tile) {
        tiles.set(index, (tile = paint(pictures, session, trackId, sides, row, index)))
        this.painted = true
      }
      return tile
    }
    for (let index = first; index <= last; index++) {
      const tile = tileAt(index)
      const x = Math.round((index * TILE - scroll) * state.ratio) / state.ratio
      ctx.drawImage(tile, x, place.y, TILE, row.height)
    }
    // What comes into sight next is painted before, one tile with every picture: all rows at once would take
    // too long for one.
    const towards = Math.sign(place.left - row.left)
    row.left = place.left
    if (towards !== 0 && !this.painted) tileAt(towards > 0 ? last + 1 : Math.max(0, first - 1))
    for (const index of row.tiles.keys())
      if (index < first - SPARE || index > last + SPARE) row.tiles.delete(index)
  }

  /**
   * Paints one tile of what would be seen of a row that is out of sight, and tells whether one was missing. A
   * row that was another when it was seen is begun anew only with `all`.
   */
  paintAhead(
    pictures: Pictures,
    session: Session,
    trackId: string,
    sides: ReadonlyMap<string, Sides> | null,
    place: { left: number; width: number },
    state: RowState,
    all: boolean,
  ): boolean {
    let row = this.rows.get(trackId)
    if (!row || !same(row, state)) {
      if (row && !all) return false
      this.rows.set(
        trackId,
        (row = {
          ...state,
          phase: row?.phase ?? this.nextPhase(),
          tiles: null,
          left: place.left,
          width: place.width,
          read: new Map(),
        }),
      )
    }
    row.tiles ??= new Map()
    const scroll = place.left / state.framesPerPixel + row.phase
    const last = Math.floor((scroll + place.width) / TILE)
    for (let index = Math.floor(scroll / TILE); index <= last; index++) {
      if (row.tiles.has(index)) continue
      row.tiles.set(index, paint(pictures, session, trackId, sides, row, index))
      return true
    }
    return false
  }

  private nextPhase(): number {
    return ((this.begun++ % PHASES) * TILE) / PHASES
  }

  /** Ends a picture: forgets the rows of tracks that are not among the given ones. */
  keep(trackIds: ReadonlySet<string>): void {
    this.painted = false
    for (const id of this.rows.keys()) if (!trackIds.has(id)) this.rows.delete(id)
  }
}

function paint(
  pictures: Pictures,
  session: Session,
  trackId: string,
  sides: ReadonlyMap<string, Sides> | null,
  row: Row,
  index: number,
): OffscreenCanvas {
  const tile = new OffscreenCanvas(Math.round(TILE * row.ratio), Math.round(row.height * row.ratio))
  const ctx = tile.getContext('2d')!
  ctx.setTransform(row.ratio, 0, 0, row.ratio, 0, 0)
  paintRow(ctx, pictures, session, trackId, sides, row, {
    left: (index * TILE - row.phase) * row.framesPerPixel,
    y: 0,
    width: TILE,
  })
  return tile
}

const strip = new SoundStrip()

/** Draws the part of a row that begins at session frame `left`, with its top at `y`. */
function paintRow(
  ctx: Context,
  pictures: Pictures,
  session: Session,
  trackId: string,
  sides: ReadonlyMap<string, Sides> | null,
  row: RowState,
  place: { left: number; y: number; width: number },
  read?: Read,
): void {
  const view = {
    left: place.left,
    framesPerPixel: row.framesPerPixel,
    top: -place.y,
    width: place.width,
    height: row.height,
    heights: [row.height],
  }
  const seen = visibleRegions(row.regions, view)
  const tried = (region: Region, plan: RegionPlan) =>
    row.trial?.regionIds.has(region.id) ? { ...plan, gain: plan.gain * dbToGain(row.trial.byDb) } : plan
  const kept = (id: string) => read?.get(id) ?? (read && read.set(id, []).get(id))
  const shown = row.regions.slice(seen.first, seen.last).map((region) => ({
    region,
    plan: tried(region, planRegion(session, region, sides?.get(region.id))),
    source: session.sources[region.sourceId]!,
    box: regionBox(view, region, 0),
    width: place.width,
    framesPerPixel: row.framesPerPixel,
    scale: row.scale,
    dye: region.colour ?? session.tracks[trackId]!.colour,
    kept: kept(region.id),
  }))
  drawRegions(ctx, strip, pictures, shown, place.y, row.height, row.ratio)
  // The curves of crossfades, over both sounds.
  for (let r = seen.first; r < seen.last; r++) {
    const region = row.regions[r]!
    const side = sides?.get(region.id)?.crossOut
    if (!side) continue
    const box = soundBox(regionBox(view, region, 0))
    drawCrossfade(
      ctx,
      { ...box, x: frameToX(view, side.from), width: side.length / row.framesPerPixel },
      side.fade,
      side.correlation,
    )
  }
}
