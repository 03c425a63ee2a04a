import { ln } from '../../units/exact'
import { DB_PER_OCTAVE, type GainComputer, type Moving } from '../kernels/dynamics'
import { processingKernel } from '../kernels/processing'
import { perFrame } from './decay'
import { DelayLine } from './delay-line'
import { scaleByDb } from './gain-values'
import type { ParameterReader } from './parameter-reader'
import { BLOCK_FRAMES, COEFFICIENT_FRAMES } from './processor'
import { StateNumbers, type Stateful } from './stateful'

/** How long a peak holds, and over how long squares are averaged, in seconds. */
const HOLD_SECONDS = 0.005
const MEAN_SECONDS = 0.01
/** A knee narrower than this is as wide, in dB. */
const LEAST_KNEE = 0.001

/** What a reduction is made from: the readers of a gain computer and of its times, dB, ratios and ms. */
export interface ReductionValues {
  readonly threshold: ParameterReader
  readonly ratio: ParameterReader
  readonly knee: ParameterReader
  readonly attack: ParameterReader
  readonly release: ParameterReader
  readonly most: ParameterReader
}

/** Of how much each side of what is heard goes by: the largest sample over 5 ms, or the mean square over 10 ms. */
export type Detector = 'peak' | 'rms'

export const windowFrames = (detector: Detector, sampleRate: number) =>
  Math.max(1, Math.round((detector === 'rms' ? MEAN_SECONDS : HOLD_SECONDS) * sampleRate))

/** Frames until a reduction of so many dB, which falls with a time in seconds, is a part of a gain that small. */
export function reductionFall(db: number, seconds: number, sampleRate: number, to: number): number {
  const dbPerPart = 8.69
  return Math.ceil(Math.max(1, ln(Math.max(1e-9, db) / (to * dbPerPart))) * seconds * sampleRate)
}

/** Frames until what a reduction remembers has fallen to a part, as a gain. */
export function reductionMemory(
  { attack, release, most }: ReductionValues,
  detector: Detector,
  sampleRate: number,
  to: number,
): number {
  const slowest = Math.max(release.range().max, attack.range().max) / 1000
  return windowFrames(detector, sampleRate) + reductionFall(most.range().max, slowest, sampleRate, to)
}

const moving = (): Moving => ({ value: 0, step: 0 })

/**
 * A reduction of level that follows what a gain computer asks for: D. Giannoulis, M. Massberg, J. D. Reiss, JAES 60(6), 2012. The level is the
 * largest sample of all channels over the last 5 ms, or the largest mean square of a channel over the last 10 ms; the knee is
 * quadratic; one time holds where the reduction rises and another where it falls.
 */
export class Reduction {
  private readonly reduction = new StateNumbers({ db: 0 })
  readonly state: readonly Stateful[]
  readonly lines: readonly DelayLine[]
  private readonly window: number
  private readonly kernel = processingKernel().dynamics
  private readonly computer: GainComputer = {
    threshold: moving(),
    slope: moving(),
    half: moving(),
    inverse: moving(),
    most: moving(),
  }
  private readonly attack = moving()
  private readonly release = moving()
  private readonly values = new Float64Array(BLOCK_FRAMES)
  private moves = false
  private readers!: ReductionValues

  /** `late` is by how many frames what is heard is ahead of what the level is of. */
  constructor(
    readers: ReductionValues,
    private readonly channels: 1 | 2,
    private readonly detector: Detector,
    private readonly sampleRate: number,
    private readonly late: number,
    slackFrames?: number,
  ) {
    this.window = windowFrames(detector, sampleRate)
    const reach = this.window + late + BLOCK_FRAMES
    this.lines = Array.from(
      { length: detector === 'rms' ? channels : 1 },
      () => new DelayLine(reach, true, slackFrames),
    )
    this.state = [this.reduction, ...this.lines]
    this.update(readers)
  }

  /** In dB, ≥ 0, at the last frame. */
  get db(): number {
    return this.reduction.values.db
  }

  update(readers: ReductionValues): void {
    this.readers = readers
    this.moves = Object.values(readers as object).some((reader: ParameterReader) => reader.lane !== null)
    if (!this.moves) this.place(0, 0)
  }

  /** Notes what lies in the kernel's sound as heard. */
  hear(count: number): void {
    const { kernel, channels, lines } = this
    if (this.detector === 'rms')
      for (let c = 0; c < lines.length; c++) {
        kernel.hearSquares(c, count)
        lines[c]!.append(kernel.levels, count)
      }
    else {
      kernel.hearPeaks(channels, count)
      lines[0]!.append(kernel.levels, count)
    }
  }

  /** Writes the gains of session frames from `from` on into the kernel's levels. */
  makeGains(from: number, count: number, makeup: ParameterReader | null, mix: ParameterReader | null): void {
    this.measureLevels(count)
    const { kernel } = this
    const perOctave = this.detector === 'rms' ? DB_PER_OCTAVE / 2 : DB_PER_OCTAVE
    const makeupDb = !makeup || makeup.lane ? 0 : makeup.still
    if (!this.moves)
      this.reduction.values.db = kernel.toStillGains(
        count,
        perOctave,
        this.computer,
        this.db,
        this.attack,
        this.release,
        makeupDb,
      )
    else {
      for (let at = 0; at < count; at += COEFFICIENT_FRAMES) {
        const to = Math.min(count, at + COEFFICIENT_FRAMES)
        this.place(from + at, COEFFICIENT_FRAMES)
        kernel.askReductions(at, to, perOctave, this.computer)
        this.reduction.values.db = kernel.follow(at, to, this.db, this.attack, this.release)
      }
      kernel.toGains(0, count, makeupDb)
    }
    const { levels } = kernel
    const { values } = this
    if (makeup?.lane) scaleByDb(levels, makeup, from, count, values)
    if (!mix?.everOther(1)) return
    mix.fill(from, count, values)
    for (let i = 0; i < count; i++) levels[i] = 1 - values[i]! + values[i]! * levels[i]!
  }

  private measureLevels(count: number): void {
    const { kernel, window, late, detector } = this
    const length = count + window - 1
    if (detector === 'rms') kernel.levels.fill(0, 0, count)
    for (const line of this.lines) {
      line.copy(late + length, length, kernel.heard)
      if (detector === 'rms') kernel.windowMean(window, count)
      else kernel.windowMaximum(window, count)
    }
  }

  /** Sets what asks for a reduction, and how fast it is followed, at a frame; it gets to that of `ahead` frames later. */
  private place(frame: number, ahead: number): void {
    const { computer, readers, sampleRate } = this
    const set = (into: Moving, reader: ParameterReader, of: (value: number) => number) => {
      into.value = of(reader.at(frame))
      into.step = ahead ? (of(reader.at(frame + ahead)) - into.value) / ahead : 0
    }
    const half = (knee: number) => Math.max(LEAST_KNEE, knee) / 2
    set(computer.threshold, readers.threshold, (db) => db)
    set(computer.slope, readers.ratio, (ratio) => 1 - 1 / ratio)
    set(computer.half, readers.knee, half)
    set(computer.inverse, readers.knee, (knee) => 1 / (4 * half(knee)))
    set(computer.most, readers.most, (db) => db)
    set(this.attack, readers.attack, (ms) => perFrame(ms, sampleRate))
    set(this.release, readers.release, (ms) => perFrame(ms, sampleRate))
  }
}
