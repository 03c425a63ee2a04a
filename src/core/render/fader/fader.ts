import { fillLevels, newLevelRun } from '../../dsp/levels'
import { balanceStereo, fillPan, panMono } from '../../dsp/pan'
import type { ThreadReader } from '../../curve/thread'
import type { Sides } from '../../dsp/processors/processor'
import { scaledTop } from '../../units/taper'
import { FaderRuns, hasRuns } from './fader-runs'
import type { FaderPlan } from '../plan/render-plan'
import { PLAIN_BLOCK } from '../render-block'

/** A gain that stays, or one for every frame. */
export type Level = number | Float64Array

/** Volume, pan and what comes after them, of any strip; up to `PLAIN_BLOCK` frames at a time. */
export class Fader {
  private readonly volumes = new Float64Array(PLAIN_BLOCK)
  private readonly pans = [new Float64Array(PLAIN_BLOCK), new Float64Array(PLAIN_BLOCK)] as const
  /** Room for pans of another channel, or of frames by themselves. */
  private readonly second = [new Float64Array(PLAIN_BLOCK), new Float64Array(PLAIN_BLOCK)] as const
  private readonly lane = new Float64Array(PLAIN_BLOCK)
  private readonly runs = new FaderRuns()
  private readonly run = newLevelRun()

  /** Trim and volume of a strip; `before` leaves the volume out. */
  private volumeOf(
    { volumeLane, volume }: FaderPlan,
    input: number,
    from: number,
    count: number,
    before = false,
  ): Level {
    if (before) return input
    return volumeLane ? this.laneGain(volumeLane, from, count, input) : input * volume
  }

  /** The gains of a lane of heights, times a factor. */
  private laneGain(lane: ThreadReader, from: number, count: number, factor: number): Level {
    const same = lane.constant(from, count)
    if (same !== null) return same * same * same * scaledTop(factor)
    lane.fillGains(from, count, factor, this.volumes)
    return this.volumes
  }

  /**
   * What of a strip goes to the left and to the right after trim, volume and pan; `before` leaves the volume out. For strips whose
   * sides have no pans of their own. The arrays are valid until the next call.
   */
  levels(
    strip: FaderPlan,
    input: number,
    from: number,
    count: number,
    before = false,
  ): [left: Level, right: Level] {
    const [left, right] = this.pans
    const still = strip.panLane ? strip.panLane.constant(from, count) : strip.pan
    if (still === null) {
      this.fillLevels(strip, input, from, count, before)
      return [left, right]
    }
    const volume = this.volumeOf(strip, input, from, count, before)
    const pan = strip.law ? panMono(strip.law, still) : balanceStereo(still)
    if (typeof volume === 'number') return [volume * pan.left, volume * pan.right]
    for (let i = 0; i < count; i++) {
      left[i] = volume[i]! * pan.left
      right[i] = volume[i]! * pan.right
    }
    return [left, right]
  }

  /** The levels of a strip whose pan moves: run by run, and frame by frame where there is none. */
  private fillLevels(strip: FaderPlan, input: number, from: number, count: number, before: boolean): void {
    const [left, right] = this.pans
    const end = from + count
    const inRuns = hasRuns(strip)
    for (let frame = from; frame < end;) {
      const last = inRuns ? this.runs.at(strip, input, frame, end, this.run, !before) : frame
      if (last > frame) {
        fillLevels(this.run, last - frame, left, right, frame - from)
        frame = last
      } else {
        const until = inRuns ? this.runs.exactUntil(strip, frame, end) : end
        this.fillExact(strip, input, frame, until - frame, frame - from, before)
        frame = until
      }
    }
  }

  private fillExact(
    strip: FaderPlan,
    input: number,
    from: number,
    count: number,
    at: number,
    before: boolean,
  ): void {
    const volume = this.volumeOf(strip, input, from, count, before)
    const [left, right] = this.pans
    const [panLeft, panRight] = this.second
    strip.panLane!.fill(from, count, this.lane)
    fillPan(strip.law, this.lane, count, panLeft, panRight)
    for (let i = 0; i < count; i++) {
      const level = typeof volume === 'number' ? volume : volume[i]!
      left[at + i] = level * panLeft[i]!
      right[at + i] = level * panRight[i]!
    }
  }

  /**
   * Places a strip's sound, one array a channel, between left and right: `input` (a factor) times volume times pan. `before` leaves the volume out, for what is taken before the fader.
   */
  place(
    strip: FaderPlan,
    input: number,
    sound: readonly Float64Array[],
    from: number,
    count: number,
    out: Sides,
    before = false,
  ): void {
    if (strip.channels === 2 && strip.panMode === 'pair')
      this.placePair(strip, this.volumeOf(strip, input, from, count, before), sound, from, count, out)
    else {
      const [left, right] = this.levels(strip, input, from, count, before)
      scale(out[0], sound[0]!, left, count)
      scale(out[1], sound[strip.channels - 1]!, right, count)
    }
  }

  /** A strip's sound after its volume alone: every channel as it is. */
  turn(
    strip: FaderPlan,
    input: number,
    sound: readonly Float64Array[],
    from: number,
    count: number,
    out: readonly Float64Array[],
  ): void {
    const volume = this.volumeOf(strip, input, from, count)
    for (let c = 0; c < strip.channels; c++) scale(out[c]!, sound[c]!, volume, count)
  }

  /** Pair mode: each channel placed by equal power with a pan of its own; without lanes, hard left and hard right. */
  private placePair(
    strip: FaderPlan,
    volume: Level,
    sound: readonly Float64Array[],
    from: number,
    count: number,
    out: Sides,
  ): void {
    const lanes = [strip.panLeftLane, strip.panRightLane]
    const [panLeft, panRight] = this.pans
    for (let c = 0; c < 2; c++) {
      const lane = lanes[c]
      if (lane) lane.fill(from, count, this.lane)
      else this.lane.fill(c === 0 ? -1 : 1, 0, count)
      fillPan('equal-power', this.lane, count, panLeft, panRight)
      const into = c === 0 ? out : this.second
      placeMoving(into[0], sound[c]!, volume, panLeft, count)
      placeMoving(into[1], sound[c]!, volume, panRight, count)
    }
    add(out[0], this.second[0], count)
    add(out[1], this.second[1], count)
  }
}

/** A sound times a level. */
function scale(out: Float64Array, sound: Float64Array, level: Level, count: number): void {
  if (typeof level === 'number') for (let i = 0; i < count; i++) out[i] = sound[i]! * level
  else for (let i = 0; i < count; i++) out[i] = sound[i]! * level[i]!
}

/** A sound after a volume, and a pan of its own for every frame. */
function placeMoving(
  out: Float64Array,
  sound: Float64Array,
  volume: Level,
  pans: Float64Array,
  count: number,
): void {
  if (typeof volume === 'number') for (let i = 0; i < count; i++) out[i] = sound[i]! * (volume * pans[i]!)
  else for (let i = 0; i < count; i++) out[i] = sound[i]! * (volume[i]! * pans[i]!)
}

/** Adds samples to a sum. */
export function add(sum: Float64Array, samples: Float64Array, count: number): void {
  for (let i = 0; i < count; i++) sum[i] = sum[i]! + samples[i]!
}

/** Writes the largest absolute sample and the sum of the squares into `measured`. */
export function measure(
  samples: Float64Array,
  count: number,
  measured: { peak: number; energy: number },
): void {
  let [low, high, energy] = [0, 0, 0]
  for (let i = 0; i < count; i++) {
    const x = samples[i]!
    energy += x * x
    if (x > high) high = x
    else if (x < low) low = x
  }
  measured.peak = Math.max(high, -low)
  measured.energy = energy
}
