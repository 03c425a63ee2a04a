import { processingKernel } from '../kernels/processing'
import { ringingMemory } from './decay'
import { LowCutFilter } from './filters/low-cut-filter'
import { BLOCK_FRAMES, type Processor, type ProcessorKind, type ProcessorSetup } from './processor'
import type { Stateful } from './stateful'

const cutOf = ({ values }: ProcessorSetup) => values.monoBelowHz!

/**
 * Mid and side: what both sides share stays, and what they differ by is multiplied by `width` (0 is mono, 2 twice as wide). Below
 * `monoBelowHz` they no longer differ: the side passes a low cut of 12 dB an octave (Butterworth).
 */
export const widthKind: ProcessorKind = {
  channels: () => 2,
  latencyFrames: () => 0,
  memory: (setup) =>
    cutOf(setup).everOther(0)
      ? ringingMemory((to) => LowCutFilter.memoryFrames(cutOf(setup), setup.sampleRate, to))
      : null,
  create: (setup) => new Width(setup),
}

class Width implements Processor {
  readonly channels = 2
  readonly latencyFrames = 0
  readonly lines = []
  readonly state: readonly Stateful[]
  private readonly cut: LowCutFilter
  private readonly mid = new Float64Array(BLOCK_FRAMES)
  private readonly widths = new Float64Array(BLOCK_FRAMES)
  private readonly kernel = processingKernel()

  constructor(private setup: ProcessorSetup) {
    this.cut = new LowCutFilter(cutOf(setup), setup.sampleRate)
    this.state = this.cut.state
  }

  update(setup: ProcessorSetup): void {
    this.setup = setup
    this.cut.update(cutOf(setup))
  }

  process(sound: readonly [Float64Array, Float64Array], from: number, count: number): void {
    const { setup, mid, widths, kernel } = this
    const [left] = sound
    const right = sound[setup.channels - 1]!
    const side = kernel.sound[0]
    for (let i = 0; i < count; i++) {
      const [l, r] = [left[i]!, right[i]!]
      mid[i] = (l + r) / 2
      side[i] = (l - r) / 2
    }
    if (this.cut.acts) this.cut.process(1, from, count)
    setup.values.width!.fill(from, count, widths)
    for (let i = 0; i < count; i++) {
      const [m, s] = [mid[i]!, side[i]! * widths[i]!]
      sound[0][i] = m + s
      sound[1][i] = m - s
    }
  }
}
