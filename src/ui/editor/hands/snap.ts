import { regionEnd } from '../../../core/model/queries'
import type { Session } from '../../../core/model/session'
import { gridBars } from '../drawing/draw-grid'
import { barPosition, barToBeat, beatToFrame, secondsToBeat } from '../../../core/units/tempo'

/** What a dragged edge has snapped to. */
export interface Snapped {
  /** Frames to add to the movement so that an edge lies exactly on the target. */
  by: number
  frame: number
  what: string
}

/** A place that edges snap to. */
export interface Target {
  frame: number
  what: string
}

/**
 * Places that edges snap to besides the grid: edges of other regions, seams, markers, the playhead (null where that is
 * what moves), the range.
 */
export function snapTargets(
  session: Session,
  exceptIds: ReadonlySet<string>,
  playhead: number | null,
  range: { from: number; to: number } | null,
): Target[] {
  const targets: Target[] = [{ frame: 0, what: 'the start' }]
  if (playhead !== null) targets.push({ frame: Math.round(playhead), what: 'the playhead' })
  const ends = new Map<string, string>()
  for (const region of Object.values(session.regions))
    if (!exceptIds.has(region.id)) ends.set(`${region.trackId} ${regionEnd(region)}`, region.name)
  for (const region of Object.values(session.regions)) {
    if (exceptIds.has(region.id)) continue
    const before = ends.get(`${region.trackId} ${region.start}`)
    targets.push(
      {
        frame: region.start,
        what:
          before === undefined ? `the start of ${region.name}` : `the seam of ${before} and ${region.name}`,
      },
      { frame: regionEnd(region), what: `the end of ${region.name}` },
    )
  }
  for (const marker of session.markers) targets.push({ frame: marker.frame, what: `marker ${marker.name}` })
  if (range) targets.push({ frame: range.from, what: 'the range' }, { frame: range.to, what: 'the range' })
  return targets.sort((a, b) => a.frame - b.frame)
}

/**
 * The note value of the grid at a zoom, in quarter notes: the finest of 1/16 … 1 beat that leaves 12 pixels,
 * else a bar (null).
 */
export function gridBeats(session: Session, framesPerPixel: number): number | null {
  const beatPixels = ((60 / session.tempo[0]!.bpm) * session.sampleRate) / framesPerPixel
  for (const part of [1 / 16, 1 / 8, 1 / 4, 1 / 2, 1]) if (part * beatPixels >= 12) return part
  return null
}

/** Seconds between two grid lines at a zoom, where the grid follows seconds. */
export function gridSeconds(sampleRate: number, framesPerPixel: number): number {
  for (const step of [0.001, 0.002, 0.005, 0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1, 2, 5, 10, 15, 30, 60])
    if ((step * sampleRate) / framesPerPixel >= 12) return step
  return 60
}

/** Frames from one grid line to the next at a zoom: a step of the arrow keys. */
export const gridFrames = (session: Session, framesPerPixel: number, scale: 'bars' | 'seconds'): number =>
  Math.round(
    scale === 'seconds'
      ? gridSeconds(session.sampleRate, framesPerPixel) * session.sampleRate
      : ((gridBeats(session, framesPerPixel) ??
          session.tempo[0]!.beatsPerBar * gridBars(session, framesPerPixel)) *
          60 *
          session.sampleRate) /
          session.tempo[0]!.bpm,
  )

/** The grid line nearest to a frame, rounded once from its beat or its second. */
export function nearestGrid(
  session: Session,
  frame: number,
  framesPerPixel: number,
  scale: 'bars' | 'seconds' = 'bars',
): number {
  const { tempo, sampleRate } = session
  if (scale === 'seconds') {
    const step = gridSeconds(sampleRate, framesPerPixel)
    return Math.round(Math.round(frame / sampleRate / step) * step * sampleRate)
  }
  const beat = secondsToBeat(tempo, frame / sampleRate)
  const part = gridBeats(session, framesPerPixel)
  if (part !== null) return beatToFrame(tempo, sampleRate, Math.max(0, Math.round(beat / part) * part))
  const bars = gridBars(session, framesPerPixel)
  const { bar: within } = barPosition(tempo, beat)
  const bar = within - ((within - 1) % bars)
  const [before, after] = [bar, bar + bars].map((b) =>
    beatToFrame(tempo, sampleRate, barToBeat(tempo, b)),
  ) as [number, number]
  return frame - before <= after - frame ? before : after
}

/** Frames from a place to the next grid line in a direction: a step of the arrow keys puts things on the grid. */
export function toNextGrid(
  session: Session,
  frame: number,
  direction: 1 | -1,
  framesPerPixel: number,
  scale: 'bars' | 'seconds',
): number {
  const step = Math.max(1, gridFrames(session, framesPerPixel, scale))
  for (let n = 0; ; n++) {
    const line = nearestGrid(session, frame + direction * n * step * 0.5, framesPerPixel, scale)
    // At the start there is nothing before it.
    if ((line - frame) * direction > 0.5 || n > 4) return n > 4 ? direction * step : Math.round(line - frame)
  }
}

/**
 * What edges at the given frames snap to within `reach` frames: the nearest of the targets and of the grid lines,
 * which only the first edge meets; at the same distance a target comes before the grid. null when nothing is
 * near. `targets` are sorted by frame.
 */
export function snap(
  session: Session,
  edges: readonly number[],
  targets: readonly Target[],
  reach: number,
  framesPerPixel: number,
  scale: 'bars' | 'seconds' = 'bars',
): Snapped | null {
  let best: Snapped | null = null
  for (const edge of edges) {
    let low = 0
    let high = targets.length
    while (low < high) {
      const middle = (low + high) >>> 1
      if (targets[middle]!.frame < edge) low = middle + 1
      else high = middle
    }
    for (const target of [targets[low - 1], targets[low]]) {
      if (!target) continue
      const by = target.frame - edge
      if (Math.abs(by) <= reach && (!best || Math.abs(by) < Math.abs(best.by)))
        best = { by, frame: target.frame, what: target.what }
    }
  }
  if (edges.length === 0) return null
  const line = nearestGrid(session, edges[0]!, framesPerPixel, scale)
  const toGrid = Math.abs(line - edges[0]!)
  if (best && Math.abs(best.by) <= toGrid) return best
  return toGrid <= reach ? { by: line - edges[0]!, frame: line, what: 'the grid' } : best
}

/** Pixels within which an edge, a knot, the playhead or the end of a range catches. */
export const TIME_REACH = 8
/** The same for what a short sweep catches on. */
export const NEAR_REACH = 2

/** What catches at a zoom: places, and the grid. */
export interface Catching {
  session: Session
  targets: readonly Target[]
  framesPerPixel: number
  scale: 'bars' | 'seconds'
}

/** A place that is pressed, swept or dragged to, as a whole frame, caught by what is within so many pixels; see `snap`. */
export function caughtFrame(
  { session, targets, framesPerPixel, scale }: Catching,
  frame: number,
  reach = TIME_REACH,
): { frame: number; snapped: Snapped | null } {
  const snapped = snap(session, [frame], targets, reach * framesPerPixel, framesPerPixel, scale)
  return { frame: snapped ? snapped.frame : Math.round(frame), snapped }
}
