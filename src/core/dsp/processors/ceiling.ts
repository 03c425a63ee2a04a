import { dbToGain, gainToDb } from '../../units/decibel'
import { exp2Quick, log2Quick } from '../../units/exact'
import { MOST_TAPS, POINT_TAPS } from '../kernels/points'
import { processingKernel } from '../kernels/processing'
import { besselI0 } from '../kaiser'
import { METER_TAPS, pointTaps, raiseToTops, sinc } from '../peak-tops'
import { perFrame } from './decay'
import { DelayLine } from './delay-line'
import {
  BLOCK_FRAMES,
  COEFFICIENT_FRAMES,
  QUANTUM_FRAMES,
  wholeQuanta,
  type Memory,
  type Processor,
  type ProcessorKind,
  type ProcessorSetup,
} from './processor'
import { StateNumbers, type Stateful } from './stateful'

/** Samples looked at to each side of a point between two. */
const HALF_WIDTH = MOST_TAPS / 2
/** Samples that are looked at besides those of a block: those around its intervals, and around the point before them. */
const AROUND = 2 * HALF_WIDTH + 2
/** Shape of the window (J. F. Kaiser, 1974): flat within 0.03 dB to 0.487 of the sample rate. */
const BETA = 5
/**
 * Where meters begin to differ, near half the rate, so much more of the size counts: white and clipped sound, in which much lies there,
 * then stays under the ceiling by any of them.
 */
const NEAR_NYQUIST = 0.4
/** What lies there: from 0.465 of the rate on. */
const HIGH_TAPS = 64
const HIGH_WIDTH = 0.035
/** A gain of 2 in dB. */
const DB_PER_OCTAVE = 6.020599913279624
/** Less reduction than this, in dB, is none. */
const LEAST_DB = 1e-8

const TAPS = pointTaps(2 * HALF_WIDTH, BETA)

/** Taps of the high pass that tells what lies near half the rate, around the sample in the middle. */
const HIGH: readonly Float64Array[] = [
  Float64Array.from({ length: HIGH_TAPS }, (_, t) => {
    const distance = t - HIGH_TAPS / 2
    const inside = 1 - (distance / (HIGH_TAPS / 2)) ** 2
    if (inside <= 0) return 0
    const window = besselI0(BETA * Math.sqrt(inside)) / besselI0(BETA)
    return (distance % 2 ? -1 : 1) * 2 * HIGH_WIDTH * sinc(2 * HIGH_WIDTH * distance) * window
  }),
]

const sizeOf = (taps: Float64Array) => taps.reduce((sum, t) => sum + Math.abs(t), 0)
/** Between samples the signal cannot pass the largest of them by more than the sum of the taps' sizes. */
const MOST = Math.max(1, ...TAPS.map(sizeOf), ...METER_TAPS.map(sizeOf)) + NEAR_NYQUIST * sizeOf(HIGH[0]!)

/** More frames than any look-ahead has. */
const NEVER = 1e9

const lookAheadFrames = ({ values, sampleRate }: ProcessorSetup) =>
  Math.max(1, Math.round((values.lookAheadMs!.still / 1000) * sampleRate))

const latencyFrames = (setup: ProcessorSetup) => wholeQuanta(lookAheadFrames(setup) + HALF_WIDTH + 1)

/** Time constants of the release until 1e-7 of the gain of any reduction is left. */
const SETTLED = 20

function memoryOf(setup: ProcessorSetup): Memory {
  const release = (setup.values.releaseMs!.range().max / 1000) * setup.sampleRate
  const frames = latencyFrames(setup) + lookAheadFrames(setup) + Math.ceil(SETTLED * release)
  return { tailFrames: frames, settleFrames: frames, ringFrames: 0 }
}

/**
 * A look-ahead limiter of true peaks. Both sides get one gain. The peak of a frame is that of the signal from the sample
 * before it to the one after it, at 8 points a sample and with a parabola through the three around each maximum. From the
 * reduction that the peaks ask for, in dB: the largest over the look-ahead, released exponentially; its gain is averaged over
 * the look-ahead again, so that it has come down when the peak is there.
 */
export const ceilingKind: ProcessorKind = {
  channels: ({ channels }) => channels,
  latencyFrames,
  memory: memoryOf,
  create: (setup, slackFrames) => new Ceiling(setup, slackFrames),
  steadyCurve: ({ values }, frame) => {
    const ceiling = values.ceilingDbtp!.at(frame)
    return { of: (db) => Math.min(db, ceiling), makeupDb: 0 }
  },
}

class Ceiling implements Processor {
  readonly channels: 1 | 2
  readonly latencyFrames: number
  readonly lines: readonly DelayLine[]
  readonly state: readonly Stateful[]
  private readonly lookAhead: number
  /** The sound of each channel as it came in; 1 less the gain that each frame asks for; 1 less the released gain. */
  private readonly sounds: readonly DelayLine[]
  private readonly asked: DelayLine
  private readonly released: DelayLine
  private readonly kept = new StateNumbers({
    /** In dB, ≥ 0. */
    reduction: 0,
    /** How many frames ago one last asked for less gain. */
    askedLast: NEVER,
    /** How many frames ago the last was released whose gain was less than 1. */
    releasedLast: NEVER,
    /** By how many dB the last block was turned down, at most. */
    applied: 0,
  })
  private readonly points = processingKernel().points
  private readonly table = this.points.keep(TAPS)
  private readonly highTable = this.points.keep(HIGH)
  private readonly meterTable = this.points.keep(METER_TAPS)
  private readonly tops = new Float64Array(BLOCK_FRAMES + 1 + HALF_WIDTH)
  private readonly near = new Float64Array(BLOCK_FRAMES + 1)
  private readonly window = this.points.window
  private readonly peaks = new Float64Array(BLOCK_FRAMES + 1)
  private readonly ceilings = new Float64Array(BLOCK_FRAMES)
  private readonly gains: Float64Array
  /** Places in `gains` of what may become the least of a look-ahead, in order of time and of size. */
  private readonly queue: Int32Array

  constructor(
    private setup: ProcessorSetup,
    slackFrames?: number,
  ) {
    this.channels = setup.channels
    this.latencyFrames = latencyFrames(setup)
    this.lookAhead = lookAheadFrames(setup)
    const window = this.latencyFrames + BLOCK_FRAMES + AROUND
    this.sounds = Array.from({ length: this.channels }, () => new DelayLine(window, true, slackFrames))
    this.asked = new DelayLine(window + this.lookAhead, true, slackFrames)
    this.released = new DelayLine(window + this.lookAhead, true, slackFrames)
    this.lines = [...this.sounds, this.asked, this.released]
    this.state = [this.kept, ...this.lines]
    this.gains = new Float64Array(BLOCK_FRAMES + this.lookAhead + 1)
    this.queue = new Int32Array(BLOCK_FRAMES + this.lookAhead + 1)
  }

  update(setup: ProcessorSetup): void {
    this.setup = setup
  }

  process(sound: readonly [Float64Array, Float64Array], from: number, count: number): void {
    for (let c = 0; c < this.channels; c++) this.sounds[c]!.append(sound[c]!, count)
    const first = from + this.latencyFrames - HALF_WIDTH - 1
    const lowest = this.lowestCeiling(first, count)
    const quiet = this.isQuiet(lowest, count)
    // Nothing is asked, and nothing that was is still averaged: the sound is only late.
    const { values } = this.kept
    if (quiet && values.askedLast > this.lookAhead && values.releasedLast > this.latencyFrames) {
      this.asked.restFor(count)
      this.released.restFor(count)
      values.askedLast += count
      values.releasedLast += count
      this.kept.values.applied = 0
      this.delay(sound, count)
      return
    }
    this.ask(lowest, quiet, count)
    this.release(first - this.lookAhead, count)
    this.average(count)
    this.delay(sound, count)
    const { gains } = this
    let least = 1
    for (let i = 0; i < count; i++) if (gains[i]! < least) least = gains[i]!
    this.kept.values.applied = least < 1 ? -gainToDb(least) : 0
    for (let c = 0; c < this.channels; c++) {
      const out = sound[c]!
      for (let i = 0; i < count; i++) out[i] = out[i]! * gains[i]!
    }
  }

  /** Puts the sound of as long ago as the latency where it came in. */
  private delay(sound: readonly [Float64Array, Float64Array], count: number): void {
    for (let c = 0; c < this.channels; c++) this.sounds[c]!.copy(this.latencyFrames + count, count, sound[c]!)
  }

  /** Writes the ceilings of frames, linear, and returns the least. */
  private lowestCeiling(first: number, count: number): number {
    const { ceilings } = this
    const { ceilingDbtp } = this.setup.values
    const same = ceilingDbtp!.constant(first, count)
    if (same !== null) {
      const ceiling = dbToGain(same)
      ceilings.fill(ceiling, 0, count)
      return ceiling
    }
    ceilingDbtp!.fill(first, count, ceilings)
    let lowest = Infinity
    for (let i = 0; i < count; i++) {
      ceilings[i] = dbToGain(ceilings[i]!)
      if (ceilings[i]! < lowest) lowest = ceilings[i]!
    }
    return lowest
  }

  /** Whether the sound is so soft that no point between its samples can pass a ceiling. */
  private isQuiet(lowest: number, count: number): boolean {
    const length = count + AROUND
    return this.sounds.every((line) => {
      line.copy(length, length, this.window)
      return this.points.loudest(0, length) * MOST <= lowest
    })
  }

  /** Notes the gain that frames ask for, for which all that matters has come in; none of them asks where it is quiet. */
  private ask(lowest: number, quiet: boolean, count: number): void {
    const { peaks, window, ceilings } = this
    const { values } = this.kept
    peaks.fill(0, 0, count + 1)
    const length = count + AROUND
    if (!quiet)
      for (const line of this.sounds) {
        line.copy(length, length, window)
        for (let at = 0; at <= count; at += QUANTUM_FRAMES) {
          const many = Math.min(QUANTUM_FRAMES, count + 1 - at)
          if (this.points.loudest(at, at + many + AROUND - 1) * MOST > lowest) this.measure(at, many)
        }
      }
    // A frame has the peak of the interval before it and of the one after it.
    for (let i = 0; i < count; i++) {
      const peak = Math.max(peaks[i]!, peaks[i + 1]!)
      const ceiling = ceilings[i]!
      window[i] = peak > ceiling ? 1 - ceiling / peak : 0
      values.askedLast = peak > ceiling ? 0 : values.askedLast + 1
    }
    this.asked.append(window, count)
  }

  /** Raises `peaks` to the largest size of the signal in intervals between samples; both ends of each belong to it. */
  private measure(at: number, count: number): void {
    const { points, table, highTable, peaks, near } = this
    // What lies near half the rate, at the samples around each interval.
    const places = HALF_WIDTH - HIGH_TAPS / 2
    points.fill(highTable, at - 1 + places, at + count + 2 + places, 0, 0)
    const high = points.sizes[0]!
    for (let k = at; k < at + count; k++) {
      const i = k + places
      near[k] = NEAR_NYQUIST * Math.max(high[i - 1]!, high[i]!, high[i + 1]!, high[i + 2]!)
    }
    this.tops.fill(0, at, at + count)
    raiseToTops(points, table, HALF_WIDTH, at, count, this.tops)
    for (let k = at; k < at + count; k++) peaks[k] = Math.max(peaks[k]!, this.tops[k]! + near[k]!)
    // As our own meter sees it, whose taps are fewer.
    const shift = HALF_WIDTH - POINT_TAPS / 2
    this.tops.fill(0, at + shift, at + shift + count)
    raiseToTops(points, this.meterTable, POINT_TAPS / 2, at + shift, count, this.tops)
    for (let k = at; k < at + count; k++) peaks[k] = Math.max(peaks[k]!, this.tops[k + shift]!)
  }

  /** The most that is asked over the look-ahead of each frame, released. */
  private release(first: number, count: number): void {
    const { asked, gains, queue, lookAhead, setup, window } = this
    const { releaseMs } = setup.values
    const { sampleRate } = setup
    const length = count + lookAhead
    asked.copy(length, length, gains)
    const still = releaseMs!.constant(first, count)
    let fall = still === null ? 0 : perFrame(still, sampleRate)
    const { values } = this.kept
    let { reduction } = values
    let [head, tail] = [0, 0]
    // Logarithm and exponential are worked out again only where what they are of has changed.
    let [mostKnown, asks] = [0, 0]
    let [known, lost] = [0, 0]
    for (let i = 0; i < length; i++) {
      while (tail > head && gains[queue[tail - 1]!]! <= gains[i]!) tail--
      queue[tail++] = i
      const k = i - lookAhead
      if (k < 0) continue
      while (queue[head]! < k) head++
      const most = gains[queue[head]!]!
      if (still === null && k % COEFFICIENT_FRAMES === 0)
        fall = perFrame(releaseMs!.at(first + k), sampleRate)
      reduction -= reduction * fall
      if (reduction < LEAST_DB) reduction = 0
      if (most !== mostKnown) {
        mostKnown = most
        asks = most > 0 ? -log2Quick(1 - most) * DB_PER_OCTAVE : 0
      }
      if (asks > reduction) reduction = asks
      if (reduction !== known) {
        known = reduction
        lost = reduction === 0 ? 0 : 1 - exp2Quick(-reduction / DB_PER_OCTAVE)
      }
      window[k] = lost
      values.releasedLast = reduction === 0 ? values.releasedLast + 1 : 0
    }
    values.reduction = reduction
    this.released.append(window, count)
  }

  /** Writes the gain of each frame that comes out: the mean of the released gains over the look-ahead up to it. */
  private average(count: number): void {
    const { gains, lookAhead, latencyFrames, released, peaks } = this
    // The newest released gain belongs to a frame so many after the newest that comes out.
    const ahead = latencyFrames - HALF_WIDTH - 1 - lookAhead
    const length = count + lookAhead
    released.copy(length + ahead, length, gains)
    const window = lookAhead + 1
    let sum = 0
    for (let i = 0; i < count; i++) {
      // Summed anew at every quantum, so that it does not depend on where summing began.
      if (i % QUANTUM_FRAMES === 0) {
        sum = 0
        for (let j = i; j < i + window; j++) sum += gains[j]!
      } else sum += gains[i + window - 1]! - gains[i - 1]!
      peaks[i] = 1 - Math.max(0, sum) / window
    }
    gains.set(peaks.subarray(0, count))
  }

  reductionDb(band: number): number {
    return band === 0 ? this.kept.values.applied : 0
  }
}
