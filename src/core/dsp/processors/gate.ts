import { exp2Quick, log2Quick } from '../../units/exact'
import { DB_PER_OCTAVE } from '../kernels/dynamics'
import { giveBack, processingKernel, takeIn } from '../kernels/processing'
import { memoryOf, perFrame } from './decay'
import { DelayLine, LINE_SCALARS, restoreLine, saveLine } from './delay-line'
import {
  BLOCK_FRAMES,
  COEFFICIENT_FRAMES,
  wholeQuanta,
  type Processor,
  type ProcessorKind,
  type ProcessorSetup,
} from './processor'
import { reductionFall, windowFrames } from './reduction'

/** Levels below this are as loud as it. */
const LEAST = 1e-20

const lookAheadFrames = ({ values, sampleRate }: ProcessorSetup) =>
  Math.round((values.lookAheadMs!.still / 1000) * sampleRate)
const latencyFrames = (setup: ProcessorSetup) => wholeQuanta(lookAheadFrames(setup))

function memoryFrames(setup: ProcessorSetup, to: number): number {
  const { values, sampleRate } = setup
  const slowest = Math.max(values.releaseMs!.range().max, values.attackMs!.range().max) / 1000
  return (
    windowFrames('peak', sampleRate) +
    latencyFrames(setup) +
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
  latencyFrames,
  memory: (setup) => memoryOf((to) => memoryFrames(setup, to)),
  create: (setup, slackFrames) => new Gate(setup, slackFrames),
}

class Gate implements Processor {
  readonly channels: 1 | 2
  readonly latencyFrames: number
  readonly lines: readonly DelayLine[]
  readonly scalars: number
  private readonly lookAhead: number
  private readonly window: number
  private readonly heard: DelayLine
  private readonly sounds: readonly DelayLine[]
  /** Reduction in dB, ≥ 0. */
  private reduction = 0
  /** Frames for which it stays open yet. */
  private open = 0
  private readonly kernel = processingKernel()

  constructor(
    private setup: ProcessorSetup,
    slackFrames?: number,
  ) {
    this.channels = setup.channels
    this.lookAhead = lookAheadFrames(setup)
    this.latencyFrames = latencyFrames(setup)
    this.window = windowFrames('peak', setup.sampleRate)
    this.heard = new DelayLine(this.window + this.latencyFrames + BLOCK_FRAMES, true, slackFrames)
    this.sounds = this.latencyFrames
      ? Array.from(
          { length: this.channels },
          () => new DelayLine(this.latencyFrames + BLOCK_FRAMES, true, slackFrames),
        )
      : []
    this.lines = [this.heard, ...this.sounds]
    this.scalars = 2 + this.lines.length * LINE_SCALARS
  }

  update(setup: ProcessorSetup): void {
    this.setup = setup
  }

  process(sound: readonly [Float64Array, Float64Array], from: number, count: number): void {
    const { kernel, channels, sounds, latencyFrames, window } = this
    const { dynamics } = kernel
    takeIn(kernel, sound, channels, count)
    for (let c = 0; c < sounds.length; c++) sounds[c]!.append(kernel.sound[c]!, count)
    dynamics.hearPeaks(channels, count)
    this.heard.append(dynamics.levels, count)
    const length = count + window - 1
    this.heard.copy(latencyFrames - this.lookAhead + length, length, dynamics.heard)
    dynamics.windowMaximum(window, count)
    this.makeGains(dynamics.levels, from, count)
    for (let c = 0; c < sounds.length; c++) sounds[c]!.copy(latencyFrames + count, count, kernel.sound[c]!)
    dynamics.apply(channels, count)
    giveBack(kernel, sound, channels, count)
  }

  /** Levels become gains. */
  private makeGains(levels: Float64Array, from: number, count: number): void {
    const { values, sampleRate } = this.setup
    let { reduction, open } = this
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
        const level = log2Quick(Math.max(levels[i]!, LEAST)) * DB_PER_OCTAVE
        // Counted after the last frame at which it is kept open.
        if (level >= threshold || (open > 0 && level >= closing)) open = hold + 1
        else if (open > 0) open--
        const asked = open > 0 ? 0 : Math.min(range, Math.max(0, threshold - level) * slope)
        reduction += (asked < reduction ? attack : release) * (asked - reduction)
        if (reduction < 1e-12) reduction = 0
        levels[i] = reduction === 0 ? 1 : exp2Quick(-reduction / DB_PER_OCTAVE)
      }
    }
    this.reduction = reduction
    this.open = open
  }

  reset(): void {
    this.reduction = 0
    this.open = 0
    for (const line of this.lines) line.clear()
  }

  save(into: Float64Array, at: number): void {
    into[at] = this.reduction
    into[at + 1] = this.open
    for (let i = 0; i < this.lines.length; i++) saveLine(this.lines[i]!, into, at + 2 + i * LINE_SCALARS)
  }

  restore(from: Float64Array, at: number): void {
    this.reduction = from[at]!
    this.open = from[at + 1]!
    for (let i = 0; i < this.lines.length; i++) restoreLine(this.lines[i]!, from, at + 2 + i * LINE_SCALARS)
  }
}
