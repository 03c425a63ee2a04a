import { head } from '../kernels/head'
import { giveBack, processingKernel, takeIn } from '../kernels/processing'
import { memoryOf } from './decay'
import { DelayLine, LINE_SCALARS, restoreLine, saveLine } from './delay-line'
import { LowCutFilter } from './low-cut-filter'
import { Reduction, reductionMemory, type Detector, type ReductionValues } from './reduction'
import {
  BLOCK_FRAMES,
  wholeQuanta,
  type Processor,
  type ProcessorKind,
  type ProcessorSetup,
} from './processor'

const detectorOf = ({ values }: ProcessorSetup): Detector => (values.detector!.still === 1 ? 'rms' : 'peak')
const lookAheadFrames = ({ values, sampleRate }: ProcessorSetup) =>
  Math.round((values.lookAheadMs!.still / 1000) * sampleRate)
const latencyFrames = (setup: ProcessorSetup) => wholeQuanta(lookAheadFrames(setup))

const readersOf = ({ values }: ProcessorSetup): ReductionValues => ({
  threshold: values.thresholdDb!,
  ratio: values.ratio!,
  knee: values.kneeDb!,
  attack: values.attackMs!,
  release: values.releaseMs!,
  most: values.mostDb!,
})

const memoryFrames = (setup: ProcessorSetup, to: number): number =>
  latencyFrames(setup) +
  reductionMemory(readersOf(setup), detectorOf(setup), setup.sampleRate, to) +
  LowCutFilter.memoryFrames(setup.values.detectorCutHz!, setup.sampleRate, to)

/** Turns down what is louder than a threshold (see `Reduction`). */
export const compressorKind: ProcessorKind = {
  channels: ({ channels }) => channels,
  latencyFrames,
  memory: (setup) => memoryOf((to) => memoryFrames(setup, to)),
  create: (setup, slackFrames) => new Compressor(setup, slackFrames),
}

class Compressor implements Processor {
  readonly channels: 1 | 2
  readonly latencyFrames: number
  readonly lines: readonly DelayLine[]
  readonly scalars: number
  private readonly reduction: Reduction
  /** The sound as it came in, where it is put out later. */
  private readonly sounds: readonly DelayLine[]
  private readonly cut = new LowCutFilter()
  /** The sound, while what the detector hears is in its place. */
  private readonly whole = [new Float64Array(BLOCK_FRAMES), new Float64Array(BLOCK_FRAMES)] as const
  private readonly processing = processingKernel()

  constructor(
    private setup: ProcessorSetup,
    slackFrames?: number,
  ) {
    this.channels = setup.channels
    this.latencyFrames = latencyFrames(setup)
    const late = this.latencyFrames - lookAheadFrames(setup)
    const detector = detectorOf(setup)
    this.reduction = new Reduction(
      readersOf(setup),
      this.channels,
      detector,
      setup.sampleRate,
      late,
      slackFrames,
    )
    this.sounds = this.latencyFrames
      ? Array.from(
          { length: this.channels },
          () => new DelayLine(this.latencyFrames + BLOCK_FRAMES, true, slackFrames),
        )
      : []
    this.lines = [...this.reduction.lines, ...this.sounds]
    this.scalars = this.reduction.scalars + LowCutFilter.scalars + this.sounds.length * LINE_SCALARS
  }

  update(setup: ProcessorSetup): void {
    this.setup = setup
    this.reduction.update(readersOf(setup))
  }

  process(sound: readonly [Float64Array, Float64Array], from: number, count: number): void {
    const { processing, setup, channels, sounds, latencyFrames } = this
    takeIn(processing, sound, channels, count)
    for (let c = 0; c < sounds.length; c++) sounds[c]!.append(processing.sound[c]!, count)
    this.hear(from, count)
    this.reduction.makeGains(from, count, setup.values.makeupDb!, setup.values.mix!)
    for (let c = 0; c < sounds.length; c++)
      sounds[c]!.copy(latencyFrames + count, count, processing.sound[c]!)
    processing.dynamics.apply(channels, count)
    giveBack(processing, sound, channels, count)
  }

  /** Notes what came in, as the detector hears it. */
  private hear(from: number, count: number): void {
    const { processing, channels, setup } = this
    const { sound } = processing
    const cut = setup.values.detectorCutHz!
    if (!cut.everOther(0)) return this.reduction.hear(count)
    for (let c = 0; c < channels; c++) this.whole[c]!.set(head(sound[c]!, count))
    // It hears what comes out that much later.
    this.cut.process(channels, cut, from + this.latencyFrames, count, setup.sampleRate)
    this.reduction.hear(count)
    for (let c = 0; c < channels; c++) sound[c]!.set(head(this.whole[c]!, count))
  }

  reset(): void {
    this.reduction.reset()
    this.cut.reset()
    for (const line of this.sounds) line.clear()
  }

  save(into: Float64Array, at: number): void {
    this.reduction.save(into, at)
    this.cut.save(into, at + this.reduction.scalars)
    at += this.reduction.scalars + LowCutFilter.scalars
    for (let c = 0; c < this.sounds.length; c++) saveLine(this.sounds[c]!, into, at + c * LINE_SCALARS)
  }

  restore(from: Float64Array, at: number): void {
    this.reduction.restore(from, at)
    this.cut.restore(from, at + this.reduction.scalars)
    at += this.reduction.scalars + LowCutFilter.scalars
    for (let c = 0; c < this.sounds.length; c++) restoreLine(this.sounds[c]!, from, at + c * LINE_SCALARS)
  }
}
