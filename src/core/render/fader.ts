import { balanceStereo, fillPan, panMono } from '../dsp/pan'
import type { ThreadReader } from '../curve/thread'
import { scaledTop } from '../units/taper'
import type { AppliedParameter, FaderPlan } from './render-plan'
import { PLAIN_BLOCK } from './render-block'

/** A gain that stays, or one for every frame. */
export type Level = number | Float64Array

/** Volume, pan and what comes after them, of any strip; up to `PLAIN_BLOCK` frames at a time. */
export class Fader {
  private readonly volumes = new Float64Array(PLAIN_BLOCK)
  private readonly pans = [new Float64Array(PLAIN_BLOCK), new Float64Array(PLAIN_BLOCK)] as const
  private readonly second = [new Float64Array(PLAIN_BLOCK), new Float64Array(PLAIN_BLOCK)] as const
  private readonly lane = new Float64Array(PLAIN_BLOCK)

  private volumeOf({ volumeLane, volume }: FaderPlan, input: number, from: number, count: number): Level {
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
   * What of a strip goes to the left and to the right after trim, volume and pan. For strips whose sides have no pans of
   * their own. The arrays are valid until the next call.
   */
  levels(strip: FaderPlan, input: number, from: number, count: number): [left: Level, right: Level] {
    const volume = this.volumeOf(strip, input, from, count)
    const [panLeft, panRight] = this.pans
    const { law } = strip
    const still = strip.panLane ? strip.panLane.constant(from, count) : strip.pan
    if (still !== null) {
      const pan = law ? panMono(law, still) : balanceStereo(still)
      if (typeof volume === 'number') return [volume * pan.left, volume * pan.right]
      for (let i = 0; i < count; i++) {
        panLeft[i] = volume[i]! * pan.left
        panRight[i] = volume[i]! * pan.right
      }
      return [panLeft, panRight]
    }
    strip.panLane!.fill(from, count, this.lane)
    fillPan(law, this.lane, count, panLeft, panRight)
    for (let i = 0; i < count; i++) {
      const level = typeof volume === 'number' ? volume : volume[i]!
      panLeft[i] = level * panLeft[i]!
      panRight[i] = level * panRight[i]!
    }
    return [panLeft, panRight]
  }

  /**
   * Places a strip's sound, one array a channel, between left and right: `input` (a factor) times volume times pan, and what
   * acts after the pan. `before` leaves the volume out, for what is taken before the fader.
   */
  place(
    strip: FaderPlan,
    input: number,
    sound: readonly Float64Array[],
    from: number,
    count: number,
    out: readonly [Float64Array, Float64Array],
    before = false,
  ): void {
    const volume = before ? input : this.volumeOf(strip, input, from, count)
    this.placeAt(strip, volume, sound, from, count, out)
    this.applyAfterPan(strip.afterPan, out, from, count)
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
    for (let c = 0; c < strip.channels; c++) placeStill(out[c]!, sound[c]!, volume, 1, count)
  }

  private placeAt(
    strip: FaderPlan,
    volume: Level,
    sound: readonly Float64Array[],
    from: number,
    count: number,
    out: readonly [Float64Array, Float64Array],
  ): void {
    const [left, right] = out
    const [first, last] = [sound[0]!, sound[strip.channels - 1]!]
    if (strip.channels === 2 && strip.panMode === 'pair')
      this.placePair(strip, volume, sound, from, count, out)
    else if (strip.panLane) {
      const [panLeft, panRight] = this.pans
      strip.panLane.fill(from, count, this.lane)
      fillPan(strip.law, this.lane, count, panLeft, panRight)
      placeMoving(left, first, volume, panLeft, count)
      placeMoving(right, last, volume, panRight, count)
    } else {
      const pan = strip.law ? panMono(strip.law, strip.pan) : balanceStereo(strip.pan)
      placeStill(left, first, volume, pan.left, count)
      placeStill(right, last, volume, pan.right, count)
    }
  }

  /** Pair mode: each channel placed by equal power with a pan of its own; without lanes, hard left and hard right. */
  private placePair(
    strip: FaderPlan,
    volume: Level,
    sound: readonly Float64Array[],
    from: number,
    count: number,
    out: readonly [Float64Array, Float64Array],
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

  private applyAfterPan(
    parameters: readonly AppliedParameter[],
    channels: readonly Float64Array[],
    from: number,
    count: number,
  ): void {
    for (const { apply, value, lane } of parameters) {
      const same = lane ? lane.constant(from, count) : value
      if (lane && same === null) lane.fill(from, count, this.lane)
      apply(channels, same ?? this.lane, count)
    }
  }
}

/** A sound after a volume, and a pan that stays. */
function placeStill(out: Float64Array, sound: Float64Array, volume: Level, pan: number, count: number): void {
  if (typeof volume === 'number') {
    const gain = volume * pan
    for (let i = 0; i < count; i++) out[i] = sound[i]! * gain
  } else for (let i = 0; i < count; i++) out[i] = sound[i]! * (volume[i]! * pan)
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
