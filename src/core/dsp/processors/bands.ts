import { reductionOfLevel } from './level-curves'
import { head } from '../kernels/head'
import { copyOut, processingKernel, copyIn } from '../kernels/processing'
import { CrossoverWay, type Step } from './filters/crossover'
import { ringingMemory } from './decay'
import type { DelayLine } from './delay-line'
import { ParameterReader } from './parameter-reader'
import { BLOCK_FRAMES, type Processor, type ProcessorKind, type ProcessorSetup } from './processor'
import type { Stateful } from './stateful'
import { Reduction, reductionMemory, type ReductionValues } from './reduction'

/** A band that is compressed by itself: its way through the crossovers, and what is asked of it. */
interface BandPlan {
  steps: readonly Step[]
  /** null for a band that is only passed on. */
  values: ReductionValues | null
  makeup: ParameterReader | null
  /** A switch with which it passes as it is. */
  bypassed: ParameterReader | null
  /** Whether it is heard. */
  heard: boolean
}

const still = (value: number) => new ParameterReader(value)

/** The low part passes; the part above a frequency is compressed. */
function deEsserBands({ values }: ProcessorSetup): BandPlan[] {
  const hz = values.frequencyHz!
  return [
    { steps: [{ part: 'low', hz }], values: null, makeup: null, bypassed: null, heard: true },
    {
      steps: [{ part: 'high', hz }],
      values: {
        threshold: values.thresholdDb!,
        ratio: values.ratio!,
        knee: still(0),
        attack: values.attackMs!,
        release: values.releaseMs!,
        most: values.mostDb!,
      },
      makeup: null,
      bypassed: null,
      heard: true,
    },
  ]
}

/** Four parts, each compressed; each passes the all-passes of the crossovers that it does not meet. */
function fourBands({ values }: ProcessorSetup): BandPlan[] {
  const [one, two, three] = [values.crossover1Hz!, values.crossover2Hz!, values.crossover3Hz!]
  const ways: [string, readonly Step[]][] = [
    [
      'low',
      [
        { part: 'low', hz: one },
        { part: 'all', hz: two },
        { part: 'all', hz: three },
      ],
    ],
    [
      'lowMid',
      [
        { part: 'high', hz: one },
        { part: 'low', hz: two },
        { part: 'all', hz: three },
      ],
    ],
    [
      'highMid',
      [
        { part: 'high', hz: one },
        { part: 'high', hz: two },
        { part: 'low', hz: three },
      ],
    ],
    [
      'high',
      [
        { part: 'high', hz: one },
        { part: 'high', hz: two },
        { part: 'high', hz: three },
      ],
    ],
  ]
  // 0 is none, then the bands in their order.
  const alone = values.alone!.still
  return ways.map(([name, steps], n) => ({
    steps,
    values: {
      threshold: values[`${name}.thresholdDb`]!,
      ratio: values[`${name}.ratio`]!,
      knee: values[`${name}.kneeDb`]!,
      attack: values[`${name}.attackMs`]!,
      release: values[`${name}.releaseMs`]!,
      most: still(80),
    },
    makeup: values[`${name}.makeupDb`]!,
    bypassed: values[`${name}.bypassed`]!,
    heard: alone === 0 || alone === n + 1,
  }))
}

function memoryFrames(bands: readonly BandPlan[], sampleRate: number, to: number): number {
  let frames = 0
  for (const { steps, values } of bands)
    frames = Math.max(
      frames,
      CrossoverWay.memoryFrames(steps, sampleRate, to) +
        (values ? reductionMemory(values, 'peak', sampleRate, to) : 0),
    )
  return frames
}

const bandsKind = (bandsOf: (setup: ProcessorSetup) => BandPlan[]): ProcessorKind => ({
  channels: ({ channels }) => channels,
  latencyFrames: () => 0,
  memory(setup) {
    const [bands, { sampleRate }] = [bandsOf(setup), setup]
    // Its crossovers sound on; what turns bands down only follows them.
    return ringingMemory(
      (to) => memoryFrames(bands, sampleRate, to),
      (to) => Math.max(...bands.map(({ steps }) => CrossoverWay.memoryFrames(steps, sampleRate, to))),
    )
  },
  create: (setup, slackFrames) => new Bands(setup, bandsOf, slackFrames),
})

/** Turns down what is loud above a frequency, and leaves what lies below it. */
export const deEsserKind: ProcessorKind = {
  ...bandsKind(deEsserBands),
  steadyCurve: ({ values }, frame) => {
    const at = (key: string) => values[key]!.at(frame)
    const of = { thresholdDb: at('thresholdDb'), ratio: at('ratio'), kneeDb: 0, maxReductionDb: at('mostDb') }
    return { of: (db) => db - reductionOfLevel(db, of), makeupDb: 0 }
  },
}

/** A compressor for each of four ranges. */
export const fourBandsKind = bandsKind(fourBands)

interface Band {
  plan: BandPlan
  way: CrossoverWay
  reduction: Reduction | null
}

/** Ranges of frequencies that are compressed by themselves and added again. */
class Bands implements Processor {
  readonly channels: 1 | 2
  readonly latencyFrames = 0
  readonly lines: readonly DelayLine[]
  readonly state: readonly Stateful[]
  private readonly bands: readonly Band[]
  private readonly input = [new Float64Array(BLOCK_FRAMES), new Float64Array(BLOCK_FRAMES)] as const
  private readonly sum = [new Float64Array(BLOCK_FRAMES), new Float64Array(BLOCK_FRAMES)] as const
  private readonly switched = new Float64Array(BLOCK_FRAMES)
  private readonly kernel = processingKernel()
  /** Those of the bands that are compressed. */
  private readonly reductions: readonly Reduction[]

  constructor(
    setup: ProcessorSetup,
    private readonly bandsOf: (setup: ProcessorSetup) => BandPlan[],
    slackFrames?: number,
  ) {
    this.channels = setup.channels
    this.bands = bandsOf(setup).map((plan) => ({
      plan,
      way: new CrossoverWay(plan.steps, setup.sampleRate),
      reduction: plan.values
        ? new Reduction(plan.values, setup.channels, 'peak', setup.sampleRate, 0, slackFrames)
        : null,
    }))
    this.reductions = this.bands.flatMap(({ reduction }) => reduction ?? [])
    this.lines = this.reductions.flatMap(({ lines }) => lines)
    this.state = this.bands.flatMap(({ way, reduction }) => [...way.state, ...(reduction?.state ?? [])])
  }

  update(setup: ProcessorSetup): void {
    this.bandsOf(setup).forEach((plan, n) => {
      const band = this.bands[n]!
      band.plan = plan
      band.way.update(plan.steps)
      if (plan.values) band.reduction?.update(plan.values)
    })
  }

  process(sound: readonly [Float64Array, Float64Array], from: number, count: number): void {
    const { kernel, channels, input, sum } = this
    copyIn(kernel, sound, channels, count)
    if (channels === 1) kernel.sound[1].fill(0, 0, count)
    for (let c = 0; c < 2; c++) {
      input[c]!.set(head(kernel.sound[c]!, count))
      sum[c]!.fill(0, 0, count)
    }
    for (let b = 0; b < this.bands.length; b++) {
      const { plan, way, reduction } = this.bands[b]!
      if (b > 0) for (let c = 0; c < 2; c++) kernel.sound[c]!.set(head(input[c]!, count))
      way.process(from, count)
      if (reduction) {
        reduction.hear(count)
        reduction.makeGains(from, count, plan.makeup, null)
        this.passBy(plan, from, count)
        kernel.dynamics.apply(channels, count)
      }
      if (!plan.heard) continue
      for (let c = 0; c < channels; c++) {
        const [part, whole] = [kernel.sound[c]!, sum[c]!]
        for (let i = 0; i < count; i++) whole[i] = whole[i]! + part[i]!
      }
    }
    for (let c = 0; c < channels; c++) kernel.sound[c]!.set(head(sum[c]!, count))
    copyOut(kernel, sound, channels, count)
  }

  /** Leaves a band as it is where it is switched so. */
  private passBy({ bypassed }: BandPlan, from: number, count: number): void {
    if (!bypassed?.everOther(0)) return
    const { levels } = this.kernel.dynamics
    bypassed.fill(from, count, this.switched)
    for (let i = 0; i < count; i++) levels[i] = levels[i]! + (1 - levels[i]!) * this.switched[i]!
  }

  reductionDb(band: number): number {
    return this.reductions[band]?.db ?? 0
  }
}
