import { head } from '../kernels/head'
import { processingKernel } from '../kernels/processing'
import { DRIVES_AROUND, FRAMES_BEFORE, SATURATION_DELAY } from '../kernels/saturation'
import { filterFrames, ringingMemory } from './decay'
import { DelayLine } from './delay-line'
import { fillFactors } from './gain-values'
import { cutCoefficient, MovingCut } from './filters/moving-cut'
import {
  BLOCK_FRAMES,
  QUANTUM_FRAMES,
  type Processor,
  type ProcessorKind,
  type ProcessorSetup,
  type Sides,
} from './processor'
import type { Stateful } from './stateful'

const LATENCY = QUANTUM_FRAMES
/** What a curve that is not the same on both sides adds is taken out below this. */
const DC_HZ = 5

/** The number of the curve among `BENDS`, and whether it adds DC. */
const curveOf = ({ values }: ProcessorSetup) => values.shape!.still
const addsDc = (setup: ProcessorSetup) => curveOf(setup) === 2

/**
 * Bends the waveform at eight times the rate (see `Saturation.bend`), a quantum late. The dry sound is only late: with a mix of 0 its bits
 * are those that came in.
 */
export const saturatorKind: ProcessorKind = {
  channels: ({ channels }) => channels,
  latencyFrames: () => LATENCY,
  memory: (setup) =>
    ringingMemory(
      (to) => LATENCY + FRAMES_BEFORE + (addsDc(setup) ? filterFrames(DC_HZ, setup.sampleRate, to) : 0),
    ),
  create: (setup, slackFrames) => new Saturator(setup, slackFrames),
}

class Saturator implements Processor {
  readonly channels: 1 | 2
  readonly latencyFrames = LATENCY
  readonly lines: readonly DelayLine[]
  readonly state: readonly Stateful[]
  private readonly kernel = processingKernel().saturation
  private readonly factors = new Float64Array(BLOCK_FRAMES + DRIVES_AROUND)
  private readonly mixes = new Float64Array(BLOCK_FRAMES)
  private readonly outputs = new Float64Array(BLOCK_FRAMES)
  private readonly dcCuts = [new MovingCut(), new MovingCut()] as const

  constructor(
    private setup: ProcessorSetup,
    slackFrames?: number,
  ) {
    this.channels = setup.channels
    this.lines = Array.from(
      { length: this.channels },
      () => new DelayLine(BLOCK_FRAMES + FRAMES_BEFORE + LATENCY, true, slackFrames),
    )
    this.state = [...this.dcCuts, ...this.lines]
    const coefficient = cutCoefficient(DC_HZ, setup.sampleRate)
    for (const cut of this.dcCuts) cut.run(coefficient, coefficient)
  }

  update(setup: ProcessorSetup): void {
    this.setup = setup
  }

  process(sound: Sides, from: number, count: number): void {
    const { mixes, outputs, channels, lines, setup } = this
    const { values } = setup
    for (let c = 0; c < channels; c++) lines[c]!.append(sound[c]!, count)
    // A mix that is 0 all along needs nothing bent.
    if (values.mix!.everOther(0)) this.bend(from, count)
    values.mix!.fill(from, count, mixes)
    fillFactors(values.outputDb!, from, count, outputs)
    const { wets } = this.kernel
    for (let c = 0; c < channels; c++) {
      const [out, wet] = [sound[c]!, wets[c as 0 | 1]]
      lines[c]!.copy(LATENCY + count, count, out)
      for (let i = 0; i < count; i++) {
        const mix = mixes[i]!
        const mixed = mix === 0 ? out[i]! : (1 - mix) * out[i]! + mix * wet[i]!
        out[i] = mixed * outputs[i]!
      }
    }
  }

  /** Bends the frames that come out, into the kernel's arrays. */
  private bend(from: number, count: number): void {
    const { kernel, factors, lines, setup, channels } = this
    const { input, drives } = kernel
    const length = count + FRAMES_BEFORE
    fillFactors(setup.values.driveDb!, from - DRIVES_AROUND / 2, count + DRIVES_AROUND, factors)
    drives.set(head(factors, count + DRIVES_AROUND))
    for (let c = 0; c < channels; c++) {
      lines[c]!.copy(LATENCY - SATURATION_DELAY + length, length, input[c as 0 | 1])
      kernel.bend(c, count, curveOf(setup))
    }
    if (addsDc(setup)) for (let c = 0; c < channels; c++) this.removeDc(c, count)
  }

  private removeDc(channel: number, count: number): void {
    const wet = this.kernel.wets[channel as 0 | 1]
    const cut = this.dcCuts[channel as 0 | 1]
    for (let i = 0; i < count; i++) {
      if (i % QUANTUM_FRAMES === 0 && Math.abs(cut.state) < 1e-30) cut.state = 0
      wet[i] = wet[i]! - cut.low(wet[i]!)
    }
  }
}
