import { gateReductionOfLevel } from './level-curves'
import { exp2Quick, log2Quick } from '../../units/exact'
import { DB_PER_OCTAVE } from '../kernels/dynamics'
import { head } from '../kernels/head'
import { copyOut, processingKernel, copyIn } from '../kernels/processing'
import { LookAhead, lookAheadLatency } from './look-ahead'
import { memoryOf, perFrame } from './decay'
import { DelayLine } from './delay-line'
import {
  BLOCK_FRAMES,
  COEFFICIENT_FRAMES,
  type Processor,
  type ProcessorKind,
  type ProcessorSetup,
  type Sides,
} from './processor'
import { StateNumbers, type Stateful } from './stateful'
import { reductionFall, windowFrames } from './reduction'

/** Levels below this are as loud as it. */
const LEAST = 1e-20

function memoryFrames(setup: ProcessorSetup, to: number): number {
  const { values, sampleRate } = setup
  const slowest = Math.max(values.releaseMs!.range().max, values.attackMs!.range().max) / 1000
  return (
    windowFrames('peak', sampleRate) +
    lookAheadLatency(setup) +
    Math.ceil((values.holdMs!.range().max / 1000) * sampleRate) +
    reductionFall(values.rangeDb!.range().max, slowest, sampleRate, to)
  )
}

/**
 * A downward expander. It opens where the level (the largest sample of all channels over the last 5 ms) reaches the threshold, and
 * closes when it has been under the threshold less the hysteresis for as long as it holds. While it is closed a level of L dB is turned down
 * by (threshold - L)·(ratio - 1), at most by its range; it opens with `attackMs` and closes with `releaseMs`.
 */
export const gateKind: ProcessorKind = {
  channels: ({ channels }) => channels,
  latencyFrames: lookAheadLatency,
  memory: (setup) => memoryOf((to) => memoryFrames(setup, to)),
  create: (setup, slackFrames) => new Gate(setup, slackFrames),
  steadyCurve: ({ values }, frame) => {
    const at = (key: string) => values[key]!.at(frame)
    const of = { thresholdDb: at('thresholdDb'), ratio: at('ratio'), rangeDb: at('rangeDb') }
    return { of: (db) => db - gateReductionOfLevel(db, of), makeupDb: 0 }
  },
}

class Gate implements Processor {
  readonly channels: 1 | 2
  readonly latencyFrames: number
  readonly lines: readonly DelayLine[]
  readonly state: readonly Stateful[]
  private readonly ahead: LookAhead
  private readonly window: number
  private readonly heard: DelayLine
  private readonly kept = new StateNumbers({
    /** In dB, ≥ 0. */
    reduction: 0,
    /** Frames for which it stays open yet. */
    open: 0,
  })
  private readonly kernel = processingKernel()
  /** The sound, while a key is heard in its place. */
  private readonly whole = [new Float64Array(BLOCK_FRAMES), new Float64Array(BLOCK_FRAMES)] as const

  constructor(
    private setup: ProcessorSetup,
    slackFrames?: number,
  ) {
    this.channels = setup.channels
    this.ahead = new LookAhead(setup, slackFrames)
    this.latencyFrames = this.ahead.latencyFrames
    this.window = windowFrames('peak', setup.sampleRate)
    this.heard = new DelayLine(this.window + this.ahead.lateFrames + BLOCK_FRAMES, true, slackFrames)
    this.lines = [this.heard, ...this.ahead.lines]
    this.state = [this.kept, ...this.lines]
  }

  update(setup: ProcessorSetup): void {
    this.setup = setup
  }

  process(sound: Sides, from: number, count: number, key?: Sides): void {
    const { kernel, channels, ahead, window } = this
    const { dynamics } = kernel
    copyIn(kernel, sound, channels, count)
    ahead.copyIn(count)
    this.hear(count, key)
    this.heard.append(dynamics.levels, count)
    const length = count + window - 1
    this.heard.copy(ahead.lateFrames + length, length, dynamics.heard)
    dynamics.windowMaximum(window, count)
    this.makeGains(dynamics.levels, from, count)
    ahead.putOut(count)
    dynamics.apply(channels, count)
    copyOut(kernel, sound, channels, count)
  }

  /** Writes the sizes of what came in, or of the key, into the kernel's levels. */
  private hear(count: number, key?: Sides): void {
    const { kernel, channels, whole } = this
    if (!key) return kernel.dynamics.hearPeaks(channels, count)
    for (let c = 0; c < channels; c++) whole[c]!.set(head(kernel.sound[c]!, count))
    for (const side of [0, 1] as const) kernel.sound[side].set(head(key[side], count))
    kernel.dynamics.hearPeaks(2, count)
    for (let c = 0; c < channels; c++) kernel.sound[c]!.set(head(whole[c]!, count))
  }

  /** Levels become gains. */
  private makeGains(levels: Float64Array, from: number, count: number): void {
    const { values, sampleRate } = this.setup
    let { reduction, open } = this.kept.values
    // Logarithm and exponential are worked out again only where the size or the reduction has changed: the
    // largest of a window stays the same for many frames.
    let [size, level] = [0, -Infinity]
    let [known, gain] = [0, 1]
    for (let at = 0; at < count; at += COEFFICIENT_FRAMES) {
      const frame = from + at
      const threshold = values.thresholdDb!.at(frame)
      const closing = threshold - values.hysteresisDb!.at(frame)
      const slope = values.ratio!.at(frame) - 1
      const range = values.rangeDb!.at(frame)
      const hold = Math.round((values.holdMs!.at(frame) / 1000) * sampleRate)
      const attack = perFrame(values.attackMs!.at(frame), sampleRate)
      const release = perFrame(values.releaseMs!.at(frame), sampleRate)
      const to = Math.min(count, at + COEFFICIENT_FRAMES)
      for (let i = at; i < to; i++) {
        const heard = Math.max(levels[i]!, LEAST)
        if (heard !== size) {
          size = heard
          level = log2Quick(heard) * DB_PER_OCTAVE
        }
        // Counted after the last frame at which it is kept open.
        if (level >= threshold || (open > 0 && level >= closing)) open = hold + 1
        else if (open > 0) open--
        const asked = open > 0 ? 0 : Math.min(range, Math.max(0, threshold - level) * slope)
        reduction += (asked < reduction ? attack : release) * (asked - reduction)
        // It would come no nearer than this for seconds.
        if (Math.abs(reduction - asked) < 1e-12) reduction = asked
        if (reduction !== known) {
          known = reduction
          gain = reduction === 0 ? 1 : exp2Quick(-reduction / DB_PER_OCTAVE)
        }
        levels[i] = gain
      }
    }
    this.kept.values.reduction = reduction
    this.kept.values.open = open
  }

  reductionDb(band: number): number {
    return band === 0 ? this.kept.values.reduction : 0
  }
}
