import { exp2Quick, LN2, LOG2_OF_E, log2Quick } from '../../units/exact'
import { DelayLine, LINE_SCALARS, restoreLine, saveLine } from './delay-line'
import { ringingMemory } from './decay'
import { fillFactors } from './gain-values'
import { downsample, halfBandTaps, upsample } from './half-band'
import {
  BLOCK_FRAMES,
  QUANTUM_FRAMES,
  type Memory,
  type Processor,
  type ProcessorKind,
  type ProcessorSetup,
} from './processor'

/** Delays of the half-bands from the rate to twice, four and eight times it, in samples of the higher rate. */
const DELAYS = [41, 11, 9] as const
/** 100 dB. */
const BETA = 10.06
const TAPS = DELAYS.map((delay) => halfBandTaps(delay, BETA))
/**
 * Up and down again the sound is late by 2·(41·4 + 11·2 + 9) samples of eight times the rate; with two more these are 49 frames,
 * and they are made a quantum.
 */
const PADDING = 2
const FILTER_FRAMES = 49
const LATENCY = QUANTUM_FRAMES
/** Frames of input that are read before those of a block. */
const BEFORE = 99
/** Samples that are there before the first of a block on the way up, and on the way down. */
const UP = [116, 210, 402] as const
const DOWN = [390, 186, 82] as const
/** How far before a block's frames the first values lie that shape it. */
const VALUES_BEFORE = 26

/** The sum of a curve from 0 on, as far as differences of it matter. */
type Integral = (u: number) => number
type Curve = (u: number) => number

const tanh: Curve = (u) => {
  const e = exp2Quick(-2 * LOG2_OF_E * Math.min(40, Math.abs(u)))
  const t = (1 - e) / (1 + e)
  return u < 0 ? -t : t
}
/** log cosh u + log 2. */
const tanhIntegral: Integral = (u) => {
  const size = Math.abs(u)
  return size > 20 ? size : size + LN2 * log2Quick(1 + exp2Quick(-2 * LOG2_OF_E * size))
}
const OFFSET = 0.3
const OFFSET_OUT = tanh(OFFSET)

const clamp: Curve = (u) => Math.max(-1, Math.min(1, u))
const clampIntegral: Integral = (u) => (Math.abs(u) <= 1 ? (u * u) / 2 : Math.abs(u) - 0.5)

/** Below this step the mean of tanh is taken from its middle. */
const SMALL_STEP = 0.02

function tanhMean(from: number, to: number): number {
  const step = to - from
  if (Math.abs(step) >= SMALL_STEP) return (tanhIntegral(to) - tanhIntegral(from)) / step
  const t = tanh((from + to) / 2)
  return t - (step * step * t * (1 - t * t)) / 12
}

function clampMean(from: number, to: number): number {
  const step = to - from
  return Math.abs(step) > 1e-6 ? (clampIntegral(to) - clampIntegral(from)) / step : clamp((from + to) / 2)
}

/** The mean of a curve between two inputs, in the order of the shapes. */
const MEANS: readonly ((from: number, to: number) => number)[] = [
  tanhMean,
  clampMean,
  (from, to) => tanhMean(from + OFFSET, to + OFFSET) - OFFSET_OUT,
]

/**
 * Bends the waveform at eight times the rate: `soft` tanh(gx), `hard` clamp(gx), `asymmetric` tanh(gx + 0.3) - tanh(0.3), g being the
 * drive. Each sample is the mean of the curve over the step that leads to it (first-order antiderivative anti-aliasing: J. D. Parker et al., DAFx
 * 2016). The dry sound is mixed at that rate, too; the output gain is of both.
 */
export const saturatorKind: ProcessorKind = {
  channels: ({ channels }) => channels,
  latencyFrames: () => LATENCY,
  memory: (): Memory => ringingMemory(() => LATENCY + BEFORE),
  create: (setup, slackFrames) => new Saturator(setup, slackFrames),
}

class Saturator implements Processor {
  readonly channels: 1 | 2
  readonly latencyFrames = LATENCY
  readonly lines: readonly DelayLine[]
  readonly scalars: number
  private readonly input = new Float64Array(BLOCK_FRAMES + BEFORE)
  private readonly rising = [1, 2, 3].map((n) => new Float64Array(BLOCK_FRAMES * 2 ** n + UP[n - 1]!))
  private readonly falling = [3, 2, 1].map((n) => new Float64Array(BLOCK_FRAMES * 2 ** n + DOWN[3 - n]!))
  private readonly drives = new Float64Array(BLOCK_FRAMES + 2 * VALUES_BEFORE)
  private readonly mixes = new Float64Array(BLOCK_FRAMES + 2 * VALUES_BEFORE)
  private readonly outputs = new Float64Array(BLOCK_FRAMES)

  constructor(
    private setup: ProcessorSetup,
    slackFrames?: number,
  ) {
    this.channels = setup.channels
    this.lines = Array.from(
      { length: this.channels },
      () => new DelayLine(BLOCK_FRAMES + BEFORE + LATENCY, true, slackFrames),
    )
    this.scalars = this.channels * LINE_SCALARS
  }

  update(setup: ProcessorSetup): void {
    this.setup = setup
  }

  process(sound: readonly [Float64Array, Float64Array], from: number, count: number): void {
    const { values } = this.setup
    const { drives, mixes, outputs, input } = this
    const many = count + 2 * VALUES_BEFORE
    fillFactors(values.driveDb!, from - VALUES_BEFORE, many, drives)
    values.mix!.fill(from - VALUES_BEFORE, many, mixes)
    fillFactors(values.outputDb!, from, count, outputs)
    for (let c = 0; c < this.channels; c++) {
      const line = this.lines[c]!
      line.append(sound[c]!, count)
      line.copy(LATENCY - FILTER_FRAMES + count + BEFORE, count + BEFORE, input)
      this.bend(count)
      const out = sound[c]!
      downsample(this.falling[2]!, count, TAPS[0]!, DELAYS[0], out)
      for (let i = 0; i < count; i++) out[i] = out[i]! * outputs[i]!
    }
  }

  /** Leads a block of input up, bends it, and leads it down to twice the rate. */
  private bend(count: number): void {
    const { input, rising, falling, drives, mixes } = this
    upsample(input, count + UP[0] / 2, TAPS[0]!, DELAYS[0], rising[0]!)
    upsample(rising[0]!, 2 * count + UP[1] / 2, TAPS[1]!, DELAYS[1], rising[1]!)
    upsample(rising[1]!, 4 * count + UP[2] / 2, TAPS[2]!, DELAYS[2], rising[2]!)
    const mean = MEANS[this.setup.values.shape!.still]!
    const [high, bent] = [rising[2]!, falling[0]!]
    const length = 8 * count + DOWN[0]
    // Sample j of what is bent is two later than sample j + UP - DOWN of what came up.
    const shift = UP[2] - DOWN[0] - PADDING
    let before = high[shift - 1]!
    let index = -1
    let [drive, mix, driven] = [0, 0, 0]
    for (let j = 0; j < length; j++) {
      const x = high[j + shift]!
      // Up is half of the way: what is bent at t belongs to a frame 25 later than t/8.
      const frame = Math.floor((j - DOWN[0]) / 8) + 25 + VALUES_BEFORE
      if (frame !== index) {
        index = frame
        drive = drives[frame]!
        mix = mixes[frame]!
        driven = before * drive
      }
      const now = x * drive
      const wet = mean(driven, now)
      bent[j] = mix === 1 ? wet : (1 - mix) * ((before + x) / 2) + mix * wet
      before = x
      driven = now
    }
    downsample(falling[0]!, 4 * count + DOWN[1], TAPS[2]!, DELAYS[2], falling[1]!)
    downsample(falling[1]!, 2 * count + DOWN[2], TAPS[1]!, DELAYS[1], falling[2]!)
  }

  reset(): void {
    for (const line of this.lines) line.clear()
  }

  save(into: Float64Array, at: number): void {
    this.lines.forEach((line, c) => saveLine(line, into, at + c * LINE_SCALARS))
  }

  restore(from: Float64Array, at: number): void {
    this.lines.forEach((line, c) => restoreLine(line, from, at + c * LINE_SCALARS))
  }
}
