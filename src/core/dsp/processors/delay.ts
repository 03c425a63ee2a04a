import { MOST_DELAY_SECONDS } from '../../model/inserts/delay-time'
import { log2 } from '../../units/exact'
import { beatToSeconds, secondsToBeat } from '../../units/tempo'
import { head } from '../kernels/head'
import { copyOut, processingKernel, copyIn } from '../kernels/processing'
import { filterFrames, ringingMemory } from './decay'
import { DelayLine } from './delay-line'
import { cutCoefficient, HIGH_CUT_FADES, highCutFade, MovingCut } from './filters/moving-cut'
import type { ParameterReader } from './parameter-reader'
import {
  COEFFICIENT_FRAMES,
  QUANTUM_FRAMES,
  type Processor,
  type ProcessorKind,
  type ProcessorSetup,
  type Sides,
} from './processor'
import { StateNumbers, type Stateful } from './stateful'

/** The longest time, in seconds: a rule refuses longer note values. */
const MOST_SECONDS = MOST_DELAY_SECONDS
/** Seconds in which the sound goes over from one time to another. */
const CROSSING_SECONDS = 0.05
const crossingFrames = (sampleRate: number) =>
  Math.max(1, Math.round((sampleRate * CROSSING_SECONDS) / COEFFICIENT_FRAMES)) * COEFFICIENT_FRAMES

/** The time between repeats at a session frame, in frames. */
function timeAt({ values, tempo, sampleRate }: ProcessorSetup, frame: number): number {
  const beats = values.noteValue!.still
  let seconds = values.timeMs!.at(frame) / 1000
  if (beats > 0) {
    const now = frame / sampleRate
    seconds = beatToSeconds(tempo, secondsToBeat(tempo, now) + beats) - now
  }
  return Math.max(1, Math.round(Math.min(MOST_SECONDS, seconds) * sampleRate))
}

/** The longest time that a setup has anywhere, in frames. */
function longestFrames({ values, tempo, sampleRate }: ProcessorSetup): number {
  const beats = values.noteValue!.still
  const seconds =
    beats > 0 ? Math.max(...tempo.map(({ bpm }) => (beats * 60) / bpm)) : values.timeMs!.range().max / 1000
  return Math.max(1, Math.ceil(Math.min(MOST_SECONDS, seconds) * sampleRate))
}

/** Frames until repeats have fallen to a part of the first. */
function fallFrames(setup: ProcessorSetup, to: number): number {
  const feedback = setup.values.feedback!.range().max
  const repeats = feedback > 0 ? Math.ceil(log2(to) / log2(feedback)) : 0
  // Each repeat passes the filters, whose own memory is short beside it; a low cut rings longest.
  const lowest = setup.values.lowCutHz!.range()
  const hz = lowest.max > 0 ? Math.max(1, lowest.min) : 0
  const ringing = hz > 0 ? filterFrames(hz, setup.sampleRate, to) : 0
  const high = setup.values.highCutHz!.range().min
  const dulling = filterFrames(high, setup.sampleRate, to)
  return (1 + repeats) * longestFrames(setup) + ringing + dulling + 2 * crossingFrames(setup.sampleRate)
}

const channelsOf = ({ channels, values }: ProcessorSetup): 1 | 2 =>
  values.pingPong!.still > 0 ? 2 : channels

/**
 * Repeats. The wet sound begins one time after the dry one; each repeat is `feedback` times the one before, and passes a low
 * and a high cut of first order (bilinear) every time, the first one too. From side to side, the first repeat is left and the
 * second right, of what comes in on both sides. A new time crosses over between two taps within 50 ms, at places that do not
 * depend on where rendering began.
 */
export const delayKind: ProcessorKind = {
  channels: channelsOf,
  latencyFrames: () => 0,
  memory: (setup) => ({
    ...ringingMemory(
      (to) => fallFrames(setup, to),
      (to) => (setup.values.mix!.everOther(0) ? fallFrames(setup, to) : 0),
    ),
    heldSamples: longestFrames(setup) * channelsOf(setup),
  }),
  create: (setup, slackFrames) => new Delay(setup, slackFrames),
}

class Delay implements Processor {
  readonly channels: 1 | 2
  readonly latencyFrames = 0
  readonly lines: readonly DelayLine[]
  readonly state: readonly Stateful[]
  /** The times between which the sound crosses over, in frames; 0 before anything came in. */
  private readonly times = new StateNumbers({ before: 0, now: 0 })
  private readonly lowCuts: readonly MovingCut[]
  private readonly highCuts: readonly MovingCut[]
  private readonly crossing: number
  /** Its arrays are shared by all delays: where each had its own, they were not to be found in the processor's nearest memory. */
  private readonly kernel = processingKernel()
  private readonly known = new Map<number, number>()

  constructor(
    private setup: ProcessorSetup,
    slackFrames?: number,
  ) {
    this.channels = channelsOf(setup)
    this.crossing = crossingFrames(setup.sampleRate)
    const each = <T>(make: () => T): T[] => Array.from({ length: this.channels }, make)
    this.lines = each(() => new DelayLine(longestFrames(setup), false, slackFrames))
    this.lowCuts = each(() => new MovingCut())
    this.highCuts = each(() => new MovingCut())
    this.state = [this.times, ...this.lines, ...this.lowCuts, ...this.highCuts]
  }

  update(setup: ProcessorSetup): void {
    this.setup = setup
    for (const line of this.lines) line.widen(longestFrames(setup))
  }

  process(sound: Sides, from: number, count: number): void {
    const { setup } = this
    const { values, sampleRate } = setup
    const [left, right] = sound
    if (setup.channels === 1 && this.channels === 2) right.set(head(left, count))
    const { feedbacks, mixes } = this.kernel.repeats
    values.feedback!.fill(from, count, feedbacks)
    values.mix!.fill(from, count, mixes)
    if (this.times.values.now === 0) {
      const slot = from - this.into(from)
      this.times.values.now = timeAt(setup, slot)
      this.times.values.before = timeAt(setup, slot - this.crossing)
    }
    const cutsLow = values.lowCutHz!.everOther(0)
    const cutsHigh = values.highCutHz!.everOther(HIGH_CUT_FADES.to)
    const pingPong = values.pingPong!.still > 0
    const still = !cutsLow && (!cutsHigh || !values.highCutHz!.lane) && !pingPong && this.isStill(from)
    if (still) {
      const hz = values.highCutHz!.still
      const fade = highCutFade(hz)
      return this.processStill(sound, count, cutsHigh ? this.coefficientOf(hz, sampleRate) : 0, fade)
    }
    for (let at = 0; at < count; at += COEFFICIENT_FRAMES) {
      const frame = from + at
      if (frame % QUANTUM_FRAMES === 0) this.flush()
      const into = this.into(frame)
      if (into === 0) {
        this.times.values.before = this.times.values.now
        this.times.values.now = timeAt(setup, frame)
      }
      let fade = 1
      if (cutsLow) this.runCuts(this.lowCuts, values.lowCutHz!, frame, sampleRate)
      if (cutsHigh) {
        this.runCuts(this.highCuts, values.highCutHz!, frame, sampleRate)
        const hz = values.highCutHz!.at(frame)
        fade = highCutFade(hz)
      }
      const last = Math.min(count, at + COEFFICIENT_FRAMES)
      // What is read in one go must have been written before: at low rates a time may be shorter.
      const most = Math.min(COEFFICIENT_FRAMES, this.times.values.before, this.times.values.now)
      for (let i = at; i < last; i += most) {
        const end = Math.min(last, i + most)
        for (let c = 0; c < this.channels; c++) this.read(c, i, end, into + i - at, cutsLow, cutsHigh, fade)
        if (pingPong) this.writeSides(left, right, i, end)
        else for (let c = 0; c < this.channels; c++) this.write(c, sound[c]!, i, end)
      }
    }
  }

  /** How far a session frame, which may lie before 0, is into its crossing. */
  private into(frame: number): number {
    return ((frame % this.crossing) + this.crossing) % this.crossing
  }

  /** Whether one time holds over some frames. */
  private isStill(from: number): boolean {
    const { setup } = this
    const { now, before } = this.times.values
    if (now !== before) return false
    return (
      setup.values.noteValue!.still === 0 && setup.values.timeMs!.lane === null && timeAt(setup, from) === now
    )
  }

  /** All of it where nothing but feedback and mix moves, in few loops; the same as frame by frame, to the bit. */
  private processStill(sound: Sides, count: number, cut: number, fade: number): void {
    const { lines, highCuts, channels, kernel } = this
    const { now } = this.times.values
    const { repeats } = kernel
    copyIn(kernel, sound, channels, count)
    for (let c = 0; c < channels; c++) repeats.states[c] = highCuts[c]!.state
    // What is read in one go must have been written before.
    for (let from = 0; from < count;) {
      const many = Math.min(count - from, now)
      for (let c = 0; c < channels; c++) lines[c]!.copy(now, many, repeats.wets[c as 0 | 1])
      if (cut > 0) repeats.cutHigh(from, many, cut, fade)
      repeats.mix(channels, from, many)
      for (let c = 0; c < channels; c++) lines[c]!.append(repeats.written[c as 0 | 1], many)
      from += many
    }
    for (let c = 0; c < channels; c++) highCuts[c]!.state = repeats.states[c]!
    copyOut(kernel, sound, channels, count)
  }

  /** Reads what comes out of a line for some frames, no more than its time, filtered, into `wets`. */
  private read(
    channel: number,
    from: number,
    to: number,
    into: number,
    cutsLow: boolean,
    cutsHigh: boolean,
    fade: number,
  ): void {
    const line = this.lines[channel]!
    const { crossing } = this
    const { now, before } = this.times.values
    const { repeats } = this.kernel
    const wet = repeats.wets[channel as 0 | 1]
    // What is read from the line before it is mixed.
    const written = repeats.written[0]
    line.copy(now, to - from, written)
    for (let i = from; i < to; i++) wet[i] = written[i - from]!
    if (before !== now) {
      line.copy(before, to - from, written)
      for (let i = from; i < to; i++) {
        const weight = (into + i - from) / crossing
        wet[i] = wet[i]! * weight + written[i - from]! * (1 - weight)
      }
    }
    if (cutsLow) {
      const cut = this.lowCuts[channel]!
      for (let i = from; i < to; i++) wet[i] = wet[i]! - cut.low(wet[i]!)
    }
    if (cutsHigh) {
      const cut = this.highCuts[channel]!
      for (let i = from; i < to; i++) {
        const low = cut.low(wet[i]!)
        wet[i] = fade === 1 ? low : low * fade + wet[i]! * (1 - fade)
      }
    }
  }

  /** Writes frames of a channel into its own line, and mixes what came out of it. */
  private write(channel: number, side: Float64Array, from: number, to: number): void {
    const { feedbacks, mixes, wets, written: both } = this.kernel.repeats
    const line = this.lines[channel]!
    const [wet, written] = [wets[channel as 0 | 1], both[0]]
    for (let i = from; i < to; i++) {
      const [x, w, mix] = [side[i]!, wet[i]!, mixes[i]!]
      written[i - from] = x + feedbacks[i]! * w
      side[i] = (1 - mix) * x + mix * w
    }
    line.append(written, to - from)
  }

  /** The same from side to side: what comes in goes to the left, what came out of the left to the right, and back. */
  private writeSides(left: Float64Array, right: Float64Array, from: number, to: number): void {
    const { lines } = this
    const { feedbacks, mixes, wets } = this.kernel.repeats
    for (let i = from; i < to; i++) {
      const [x, y, mix, feedback] = [left[i]!, right[i]!, mixes[i]!, feedbacks[i]!]
      const [wetLeft, wetRight] = [wets[0][i]!, wets[1][i]!]
      lines[0]!.write((x + y) / 2 + feedback * wetRight)
      lines[1]!.write(feedback * wetLeft)
      left[i] = (1 - mix) * x + mix * wetLeft
      right[i] = (1 - mix) * y + mix * wetRight
    }
  }

  /** What has become too small to matter is nothing: such numbers are slow. */
  private flush(): void {
    for (const cut of this.lowCuts) if (Math.abs(cut.state) < 1e-30) cut.state = 0
    for (const cut of this.highCuts) if (Math.abs(cut.state) < 1e-30) cut.state = 0
  }

  private runCuts(cuts: readonly MovingCut[], hz: ParameterReader, frame: number, sampleRate: number): void {
    const now = this.coefficientOf(hz.at(frame), sampleRate)
    const then = hz.lane ? this.coefficientOf(hz.at(frame + COEFFICIENT_FRAMES), sampleRate) : now
    for (const cut of cuts) {
      cut.run(now, then)
      // Without a cut its filter would keep what it holds for ever.
      if (now === 0 && then === 0) cut.state *= 0.5
    }
  }

  /** The coefficient of a cut; those of the last frequencies are known. */
  private coefficientOf(hz: number, sampleRate: number): number {
    const { known } = this
    if (known.get(hz) === undefined) {
      if (known.size > 8) known.clear()
      known.set(hz, cutCoefficient(hz, sampleRate))
    }
    return known.get(hz)!
  }

  goOver(done: number): void {
    for (const line of this.lines) line.goOver(done)
  }
}
