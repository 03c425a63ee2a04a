import { regionEnd } from '../../../core/model/queries'
import type { Session } from '../../../core/model/session'
import { barPosition, barToBeat, beatToFrame, secondsToBeat } from '../../../core/units/tempo'

/** What a dragged edge has snapped to. */
export interface Snapped {
  /** Frames to add to the movement so that an edge lies exactly on the target. */
  by: number
  frame: number
  what: string
}

/** Frames that edges snap to besides the grid: edges of other regions, markers, the playhead, the range. */
export function snapTargets(
  session: Session,
  exceptIds: ReadonlySet<string>,
  playhead: number,
  range: { from: number; to: number } | null,
): { frame: number; what: string }[] {
  const targets = [
    { frame: 0, what: 'the start' },
    { frame: Math.round(playhead), what: 'the playhead' },
  ]
  for (const region of Object.values(session.regions)) {
    if (exceptIds.has(region.id)) continue
    targets.push(
      { frame: region.start, what: `the start of ${region.name}` },
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
      : ((gridBeats(session, framesPerPixel) ?? session.tempo[0]!.beatsPerBar) * 60 * session.sampleRate) /
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
  const { bar } = barPosition(tempo, beat)
  const [before, after] = [bar, bar + 1].map((b) => beatToFrame(tempo, sampleRate, barToBeat(tempo, b))) as [
    number,
    number,
  ]
  return frame - before <= after - frame ? before : after
}

/**
 * What edges at the given frames snap to within `reach` frames: the nearest of the targets and of the grid lines,
 * which only the first edge meets; at the same distance a target comes before the grid. null when nothing is
 * near. `targets` are sorted by frame.
 */
export function snap(
  session: Session,
  edges: readonly number[],
  targets: readonly { frame: number; what: string }[],
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

/** Pixels within which the playhead and the ends of a range catch. */
const TIME_REACH = 8

/**
 * A place on the timeline that is pressed or swept to, caught by what is near (see `snap`);
 * `playhead` is null where it is the playhead that moves.
 */
export function caughtFrame(
  session: Session,
  frame: number,
  {
    framesPerPixel,
    scale,
    playhead,
  }: { framesPerPixel: number; scale: 'bars' | 'seconds'; playhead: number | null },
): { frame: number; snapped: Snapped | null } {
  const targets = snapTargets(session, new Set(), playhead ?? 0, null)
  const snapped = snap(session, [frame], targets, TIME_REACH * framesPerPixel, framesPerPixel, scale)
  return { frame: snapped ? snapped.frame : Math.round(frame), snapped }
}
