import { reductionOfLevel } from './level-curves'
import { head } from '../kernels/head'
import { copyOut, processingKernel, copyIn } from '../kernels/processing'
import { memoryOf } from './decay'
import type { DelayLine } from './delay-line'
import { LookAhead, lookAheadLatency } from './look-ahead'
import { LowCutFilter } from './filters/low-cut-filter'
import { Reduction, reductionMemory, type Detector, type ReductionValues } from './reduction'
import {
  BLOCK_FRAMES,
  type Processor,
  type ProcessorKind,
  type ProcessorSetup,
  type Sides,
} from './processor'
import type { Stateful } from './stateful'

const detectorOf = ({ values }: ProcessorSetup): Detector => (values.detector!.still === 1 ? 'rms' : 'peak')
const readersOf = ({ values }: ProcessorSetup): ReductionValues => ({
  threshold: values.thresholdDb!,
  ratio: values.ratio!,
  knee: values.kneeDb!,
  attack: values.attackMs!,
  release: values.releaseMs!,
  most: values.mostDb!,
})

const memoryFrames = (setup: ProcessorSetup, to: number): number =>
  lookAheadLatency(setup) +
  reductionMemory(readersOf(setup), detectorOf(setup), setup.sampleRate, to) +
  LowCutFilter.memoryFrames(setup.values.detectorCutHz!, setup.sampleRate, to)

/** Turns down what is louder than a threshold (see `Reduction`). */
export const compressorKind: ProcessorKind = {
  channels: ({ channels }) => channels,
  latencyFrames: lookAheadLatency,
  memory: (setup) => memoryOf((to) => memoryFrames(setup, to)),
  create: (setup, slackFrames) => new Compressor(setup, slackFrames),
  steadyCurve: ({ values }, frame) => {
    const at = (key: string) => values[key]!.at(frame)
    const of = {
      thresholdDb: at('thresholdDb'),
      ratio: at('ratio'),
      kneeDb: at('kneeDb'),
      maxReductionDb: at('mostDb'),
    }
    const makeupDb = at('makeupDb')
    return { of: (db) => db - reductionOfLevel(db, of) + makeupDb, makeupDb }
  },
}

class Compressor implements Processor {
  readonly channels: 1 | 2
  readonly latencyFrames: number
  readonly lines: readonly DelayLine[]
  readonly state: readonly Stateful[]
  private readonly ahead: LookAhead
  private readonly reduction: Reduction
  private readonly cut: LowCutFilter
  /** Channels that the detector hears: both of a key. */
  private readonly heardChannels: 1 | 2
  /** The sound, while what the detector hears is in its place. */
  private readonly whole = [new Float64Array(BLOCK_FRAMES), new Float64Array(BLOCK_FRAMES)] as const
  private readonly kernel = processingKernel()

  constructor(
    private setup: ProcessorSetup,
    slackFrames?: number,
  ) {
    const { channels, sampleRate } = setup
    this.channels = channels
    this.heardChannels = setup.keyed ? 2 : channels
    this.ahead = new LookAhead(setup, slackFrames)
    this.latencyFrames = this.ahead.latencyFrames
    this.reduction = new Reduction(
      readersOf(setup),
      this.heardChannels,
      detectorOf(setup),
      sampleRate,
      this.ahead.lateFrames,
      slackFrames,
    )
    this.cut = new LowCutFilter(setup.values.detectorCutHz!, sampleRate)
    this.lines = [...this.reduction.lines, ...this.ahead.lines]
    this.state = [...this.reduction.state, ...this.cut.state, ...this.ahead.lines]
  }

  update(setup: ProcessorSetup): void {
    this.setup = setup
    this.reduction.update(readersOf(setup))
    this.cut.update(setup.values.detectorCutHz!)
  }

  process(sound: Sides, from: number, count: number, key?: Sides): void {
    const { kernel, setup, channels, ahead } = this
    copyIn(kernel, sound, channels, count)
    ahead.copyIn(count)
    this.hear(from, count, key)
    this.reduction.makeGains(from, count, setup.values.makeupDb!, setup.values.mix!)
    ahead.putOut(count)
    kernel.dynamics.apply(channels, count)
    copyOut(kernel, sound, channels, count)
  }

  /** Notes what came in, or the key, as the detector hears it. */
  private hear(from: number, count: number, key?: Sides): void {
    const { kernel, channels, heardChannels, cut } = this
    if (!cut.acts && !key) return this.reduction.hear(count)
    for (let c = 0; c < channels; c++) this.whole[c]!.set(head(kernel.sound[c]!, count))
    if (key) for (const side of [0, 1] as const) kernel.sound[side].set(head(key[side], count))
    // It hears what comes out that much later.
    if (cut.acts) cut.process(heardChannels, from + this.latencyFrames, count)
    this.reduction.hear(count)
    for (let c = 0; c < channels; c++) kernel.sound[c]!.set(head(this.whole[c]!, count))
  }

  reductionDb(band: number): number {
    return band === 0 ? this.reduction.db : 0
  }
}
