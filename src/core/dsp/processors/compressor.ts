import { head } from '../kernels/head'
import { dbToGain } from '../../units/decibel'
import { exp2Quick, log2 } from '../../units/exact'
import { DB_PER_OCTAVE, type GainComputer, type Moving } from '../kernels/dynamics'
import { giveBack, processingKernel, takeIn } from '../kernels/processing'
import { DelayLine, LINE_SCALARS, restoreLine, saveLine } from './delay-line'
import { DetectorCut } from './detector-cut'
import type { ParameterReader } from './parameter-reader'
import {
  BLOCK_FRAMES,
  COEFFICIENT_FRAMES,
  wholeQuanta,
  type Memory,
  type Processor,
  type ProcessorKind,
  type ProcessorSetup,
} from './processor'

const LN2 = 0.6931471805599453
const LOG2_OF_E = 1.4426950408889634

/** How long a peak holds, and over how long squares are averaged, in seconds. */
const HOLD_SECONDS = 0.005
const MEAN_SECONDS = 0.01
/** A knee narrower than this is as wide, in dB. */
const LEAST_KNEE = 0.001

const isRms = ({ values }: ProcessorSetup) => values.detector!.still === 1
const windowFrames = (setup: ProcessorSetup) =>
  Math.max(1, Math.round((isRms(setup) ? MEAN_SECONDS : HOLD_SECONDS) * setup.sampleRate))
const lookAheadFrames = ({ values, sampleRate }: ProcessorSetup) =>
  Math.round((values.lookAheadMs!.still / 1000) * sampleRate)
const latencyFrames = (setup: ProcessorSetup) => wholeQuanta(lookAheadFrames(setup))

/** How much of the way is gone with each frame, of a time in ms in which 1 - 1/e of it is. */
export const perFrame = (ms: number, sampleRate: number) =>
  1 - exp2Quick((-1000 * LOG2_OF_E) / (ms * sampleRate))

function memoryOf(setup: ProcessorSetup, to: number): number {
  const { values, sampleRate } = setup
  const slowest = Math.max(values.releaseMs!.range().max, values.attackMs!.range().max) / 1000
  // A reduction of at most 80 dB falls until what is left of it, as a gain, is that small.
  const falls = log2(values.mostDb!.range().max / (to * 8.69)) * LN2
  return (
    windowFrames(setup) +
    latencyFrames(setup) +
    Math.ceil(Math.max(1, falls) * slowest * sampleRate) +
    DetectorCut.memoryFrames(values.detectorCutHz!, sampleRate, to)
  )
}

/**
 * Turns down what is louder than a threshold: D. Giannoulis, M. Massberg, J. D. Reiss, JAES 60(6), 2012. The level is the largest sample of all
 * channels over the last 5 ms, or the largest mean square of a channel over the last 10 ms; the reduction that a gain computer with a
 * quadratic knee asks for is followed with one time where it rises and another where it falls.
 */
export const compressorKind: ProcessorKind = {
  channels: ({ channels }) => channels,
  latencyFrames,
  memory: (setup): Memory => ({
    tailFrames: memoryOf(setup, 1e-6),
    settleFrames: memoryOf(setup, 1e-7),
  }),
  create: (setup, slackFrames) => new Compressor(setup, slackFrames),
}

const moving = (): Moving => ({ value: 0, step: 0 })

class Compressor implements Processor {
  readonly channels: 1 | 2
  readonly latencyFrames: number
  readonly lines: readonly DelayLine[]
  readonly scalars: number
  private readonly lookAhead: number
  private readonly window: number
  private readonly rms: boolean
  /** What was heard: the largest of both channels, or the squares of each. */
  private readonly heard: readonly DelayLine[]
  /** The sound as it came in, where it is put out later. */
  private readonly sounds: readonly DelayLine[]
  private readonly cut: DetectorCut
  /** Reduction in dB, ≥ 0. */
  private reduction = 0
  /** The sound, while what the detector hears is in its place. */
  private readonly whole = [new Float64Array(BLOCK_FRAMES), new Float64Array(BLOCK_FRAMES)] as const
  private readonly values = new Float64Array(BLOCK_FRAMES)
  private readonly processing = processingKernel()
  private readonly kernel = this.processing.dynamics
  private readonly computer: GainComputer = {
    threshold: moving(),
    slope: moving(),
    half: moving(),
    inverse: moving(),
    most: moving(),
  }
  private readonly attack = moving()
  private readonly release = moving()
  /** Whether any of what asks for a reduction moves. */
  private moves = false

  constructor(
    private setup: ProcessorSetup,
    slackFrames?: number,
  ) {
    this.channels = setup.channels
    this.lookAhead = lookAheadFrames(setup)
    this.latencyFrames = latencyFrames(setup)
    this.window = windowFrames(setup)
    this.rms = isRms(setup)
    const reach = this.window + this.latencyFrames + BLOCK_FRAMES
    this.heard = Array.from(
      { length: this.rms ? this.channels : 1 },
      () => new DelayLine(reach, true, slackFrames),
    )
    this.sounds = this.latencyFrames
      ? Array.from(
          { length: this.channels },
          () => new DelayLine(this.latencyFrames + BLOCK_FRAMES, true, slackFrames),
        )
      : []
    this.lines = [...this.heard, ...this.sounds]
    this.cut = new DetectorCut()
    this.scalars = 1 + DetectorCut.scalars + this.lines.length * LINE_SCALARS
    this.update(setup)
  }

  update(setup: ProcessorSetup): void {
    this.setup = setup
    const { values } = setup
    this.moves = ['thresholdDb', 'ratio', 'kneeDb', 'attackMs', 'releaseMs', 'mostDb'].some(
      (key) => values[key]!.lane !== null,
    )
    if (!this.moves) this.place(0, 0)
  }

  process(sound: readonly [Float64Array, Float64Array], from: number, count: number): void {
    takeIn(this.processing, sound, this.channels, count)
    this.hear(from, count)
    this.measureLevels(count)
    const { kernel, rms } = this
    const perOctave = rms ? DB_PER_OCTAVE / 2 : DB_PER_OCTAVE
    if (!this.moves) {
      kernel.askReductions(0, count, perOctave, this.computer)
      this.reduction = kernel.follow(0, count, this.reduction, this.attack, this.release)
    } else
      for (let at = 0; at < count; at += COEFFICIENT_FRAMES) {
        const to = Math.min(count, at + COEFFICIENT_FRAMES)
        this.place(from + at, COEFFICIENT_FRAMES)
        kernel.askReductions(at, to, perOctave, this.computer)
        this.reduction = kernel.follow(at, to, this.reduction, this.attack, this.release)
      }
    this.makeGains(from, count)
    for (let c = 0; c < this.sounds.length; c++)
      this.sounds[c]!.copy(this.latencyFrames + count, count, this.processing.sound[c]!)
    kernel.apply(this.channels, count)
    giveBack(this.processing, sound, this.channels, count)
  }

  /** Notes what came in, as the detector hears it. */
  private hear(from: number, count: number): void {
    const { processing, kernel, channels, setup } = this
    const { sound } = processing
    for (let c = 0; c < this.sounds.length; c++) this.sounds[c]!.append(sound[c]!, count)
    const cut = setup.values.detectorCutHz!
    const cuts = cut.everOther(0)
    if (cuts) {
      for (let c = 0; c < channels; c++) this.whole[c]!.set(head(sound[c]!, count))
      // It hears what comes out that much later.
      this.cut.process(channels, cut, from + this.latencyFrames, count, setup.sampleRate)
    }
    if (this.rms)
      for (let c = 0; c < this.heard.length; c++) {
        kernel.hearSquares(c, count)
        this.heard[c]!.append(kernel.levels, count)
      }
    else {
      kernel.hearPeaks(channels, count)
      this.heard[0]!.append(kernel.levels, count)
    }
    if (cuts) for (let c = 0; c < channels; c++) sound[c]!.set(head(this.whole[c]!, count))
  }

  /** The level of what comes out as far ahead as is looked. */
  private measureLevels(count: number): void {
    const { kernel, window, rms } = this
    const late = this.latencyFrames - this.lookAhead
    const length = count + window - 1
    if (rms) kernel.levels.fill(0, 0, count)
    for (const line of this.heard) {
      line.copy(late + length, length, kernel.heard)
      if (rms) kernel.windowMean(window, count)
      else kernel.windowMaximum(window, count)
    }
  }

  /** Sets what asks for a reduction, and how fast it is followed, at a frame; it gets to that of `ahead` frames later. */
  private place(frame: number, ahead: number): void {
    const { computer, setup } = this
    const { values, sampleRate } = setup
    const set = (moving: Moving, reader: ParameterReader, of: (value: number) => number) => {
      moving.value = of(reader.at(frame))
      moving.step = ahead ? (of(reader.at(frame + ahead)) - moving.value) / ahead : 0
    }
    const half = (knee: number) => Math.max(LEAST_KNEE, knee) / 2
    set(computer.threshold, values.thresholdDb!, (db) => db)
    set(computer.slope, values.ratio!, (ratio) => 1 - 1 / ratio)
    set(computer.half, values.kneeDb!, half)
    set(computer.inverse, values.kneeDb!, (knee) => 1 / (4 * half(knee)))
    set(computer.most, values.mostDb!, (db) => db)
    set(this.attack, values.attackMs!, (ms) => perFrame(ms, sampleRate))
    set(this.release, values.releaseMs!, (ms) => perFrame(ms, sampleRate))
  }

  /** Turns the reductions into the gain of each frame, with make-up and mix. */
  private makeGains(from: number, count: number): void {
    const { kernel, values } = this
    const { makeupDb, mix } = this.setup.values
    const { levels } = kernel
    kernel.toGains(0, count, makeupDb!.lane ? 0 : makeupDb!.still)
    if (makeupDb!.lane) {
      makeupDb!.fill(from, count, values)
      for (let i = 0; i < count; i++) levels[i] = levels[i]! * dbToGain(values[i]!)
    }
    if (!mix!.everOther(1)) return
    mix!.fill(from, count, values)
    for (let i = 0; i < count; i++) levels[i] = 1 - values[i]! + values[i]! * levels[i]!
  }

  reset(): void {
    this.reduction = 0
    this.cut.reset()
    for (const line of this.lines) line.clear()
  }

  save(into: Float64Array, at: number): void {
    into[at] = this.reduction
    this.cut.save(into, at + 1)
    this.lines.forEach((line, i) => saveLine(line, into, at + 1 + DetectorCut.scalars + i * LINE_SCALARS))
  }

  restore(from: Float64Array, at: number): void {
    this.reduction = from[at]!
    this.cut.restore(from, at + 1)
    this.lines.forEach((line, i) => restoreLine(line, from, at + 1 + DetectorCut.scalars + i * LINE_SCALARS))
  }
}
