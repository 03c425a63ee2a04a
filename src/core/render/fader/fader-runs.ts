import { CELL_FRAMES } from '../../curve/cubics'
import { newSegment, type ThreadReader, type ThreadSegment } from '../../curve/thread'
import { CELL_ERROR_DIVISOR, type LevelRun } from '../../dsp/levels'
import { balanceStereo, panMono } from '../../dsp/pan'
import { scaledTop } from '../../units/taper'
import { cubicAt, newCubic } from './cubic'
import type { FaderPlan } from '../plan/render-plan'

/** Whether runs know the law by which a strip is placed; others are worked out frame by frame. */
export const hasRuns = ({ law }: FaderPlan): boolean => law === null || law === 'equal-power'

/** By how much levels that run through a cell may be off what volume and pan say, in parts of the gain at the fader's top. */
const LEVEL_ERROR = 1e-8

/** The largest fourth derivative with which a cubic is off by no more than that, and its fourth root. */
const MOST_BEND = LEVEL_ERROR * CELL_ERROR_DIVISOR
const MOST_OF_LINES = Math.sqrt(Math.sqrt(MOST_BEND))

const HALF_PI = Math.PI / 2

/**
 * Cuts the volume and pan of strips into runs of frames in which both are one formula. Where frames are in runs does not depend
 * on what is asked for: any cut gives the same levels, to the bit.
 */
export class FaderRuns {
  private readonly volume = newSegment()
  private readonly pan = newSegment()
  private readonly before = newSegment()
  private readonly cubics = [newCubic(), newCubic()] as const
  private readonly speeds = [newSpeed(), newSpeed()] as const
  /** Whether the run that was set up last is curved. */
  curved = false
  /** Where the formulas of that run end. */
  private until = Infinity

  /**
   * Sets up the levels of a strip that `hasRuns` from a frame on; returns the frame after the run, at most `end`, or the frame itself
   * where they are no single formula. `input` is the factor before the fader; `volume` false leaves the fader out.
   */
  at(strip: FaderPlan, input: number, frame: number, end: number, run: LevelRun, volume = true): number {
    const volumeLane = volume ? strip.volumeLane : null
    this.until = Infinity
    this.curved = false
    run.cell = -1
    run.level = volume ? input * strip.volume : input
    run.volumeLane = null
    if (volumeLane) {
      volumeLane.segment(frame, this.volume)
      if (this.volume.exact) return frame
      this.until = this.volume.end
      run.volumeLane = cubicAt(this.volume, frame, this.cubics[0])
      this.curved = this.volume.cubic
      run.level = scaledTop(input)
    }
    run.pan = 'still'
    run.panLane = null
    let { pan } = strip
    if (strip.panLane) {
      strip.panLane.segment(frame, this.pan)
      if (this.pan.exact) return frame
      if (this.pan.end < this.until) this.until = this.pan.end
      if (this.pan.cubic || this.pan.c1 !== 0) {
        run.panLane = cubicAt(this.pan, frame, this.cubics[1])
        run.pan = strip.law === null ? 'balance' : 'equal-power'
        this.curved ||= this.pan.cubic
        this.setCells(strip.panLane, volumeLane, frame, run)
        return Math.min(end, this.until)
      }
      pan = this.pan.c0
    }
    const still = strip.law === null ? balanceStereo(pan) : panMono(strip.law, pan)
    run.left = still.left
    run.right = still.right
    return Math.min(end, this.until)
  }

  /** Says whether a run is in cells, all of which have to lie in it as a whole; `until` is where that, or its opposite, ends. */
  private setCells(
    panLane: ThreadReader,
    volumeLane: ThreadReader | null,
    frame: number,
    run: LevelRun,
  ): void {
    const cell = placeInCell(frame)
    if (cell > 0 && !(this.reaches(panLane, cell, frame) && this.reaches(volumeLane, cell, frame))) {
      this.until = Math.min(this.until, frame - cell + CELL_FRAMES)
      return
    }
    const lastCell = this.until - placeInCell(this.until)
    if (frame >= lastCell || !this.isCalm(volumeLane !== null)) return
    run.cell = cell
    this.until = lastCell
  }

  /** Whether one formula of a lane reaches from the beginning of the cell to a frame in it. */
  private reaches(lane: ThreadReader | null, cell: number, frame: number): boolean {
    if (!lane) return true
    const { before } = this
    lane.segment(frame - cell, before)
    return !before.exact && before.end > frame
  }

  /** Whether volume and pan move so little that levels may run through the cells of where they are now. */
  private isCalm(moves: boolean): boolean {
    const { volume, pan } = this
    if (!pan.cubic && !(moves && volume.cubic)) {
      const h = moves ? Math.abs(volume.c1) : 0
      return (3 * h + HALF_PI * Math.abs(pan.c1)) * CELL_FRAMES <= MOST_OF_LINES
    }
    const [h, p] = this.speeds
    if (moves) setSpeed(volume, h)
    else h.fill(0)
    setSpeed(pan, p)
    return fourthDerivative(h, p) <= MOST_BEND
  }

  /** How far levels have to be written frame by frame from a frame on: until a run may begin. */
  exactUntil(strip: FaderPlan, frame: number, end: number): number {
    let until = end
    for (const lane of [strip.volumeLane, strip.panLane]) {
      if (!lane) continue
      const segment = this.before
      lane.segment(frame, segment)
      if (segment.exact && segment.end > frame) until = Math.min(until, segment.end)
    }
    return until
  }
}

/** The last bits of whole numbers of any size and sign; 0 of Infinity. */
const placeInCell = (frame: number) => frame & (CELL_FRAMES - 1)

/** The largest sizes of the first three derivatives of a value, per cell. */
type Speed = Float64Array

const newSpeed = (): Speed => new Float64Array(3)

/** The largest derivatives anywhere in a segment. */
function setSpeed({ origin, end, c1, c2, c3, cubic }: ThreadSegment, into: Speed): void {
  if (!cubic) {
    into[0] = Math.abs(c1) * CELL_FRAMES
    into[1] = into[2] = 0
    return
  }
  const length = end - origin
  const turn = Math.min(length, Math.max(0, c3 === 0 ? 0 : -c2 / (3 * c3)))
  const atTurn = Math.abs(c1 + turn * (2 * c2 + turn * 3 * c3))
  const atEnd = Math.abs(c1 + length * (2 * c2 + length * 3 * c3))
  into[0] = Math.max(Math.abs(c1), atTurn, atEnd) * CELL_FRAMES
  into[1] = Math.max(Math.abs(2 * c2), Math.abs(2 * c2 + 6 * c3 * length)) * CELL_FRAMES ** 2
  into[2] = Math.abs(6 * c3) * CELL_FRAMES ** 3
}

/**
 * A bound of the fourth derivative of h³·cos(πp/2), per cell, for a height h in 0…1 and a pan p that move no faster than this; it holds for
 * cos(π(p + 1)/4) as well. By the rules of product and chain; of two lines it is less than (3h′ + πp′/2)⁴.
 */
function fourthDerivative(height: Speed, pan: Speed): number {
  const [h1, h2, h3] = [height[0]!, height[1]!, height[2]!]
  const [p1, p2, p3] = [HALF_PI * pan[0]!, HALF_PI * pan[1]!, HALF_PI * pan[2]!]
  const g1 = 3 * h1
  const g2 = 6 * h1 * h1 + 3 * h2
  const g3 = 6 * h1 * h1 * h1 + 18 * h1 * h2 + 3 * h3
  const g4 = 36 * h1 * h1 * h2 + 18 * h2 * h2 + 24 * h1 * h3
  const c2 = p1 * p1 + p2
  const c3 = p1 * p1 * p1 + 3 * p1 * p2 + p3
  const c4 = p1 * p1 * p1 * p1 + 6 * p1 * p1 * p2 + 3 * p2 * p2 + 4 * p1 * p3
  return g4 + 4 * g3 * p1 + 6 * g2 * c2 + 4 * g1 * c3 + c4
}
