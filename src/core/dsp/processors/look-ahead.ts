import { processingKernel } from '../kernels/processing'
import { DelayLine } from './delay-line'
import { BLOCK_FRAMES, wholeQuanta, type ProcessorSetup } from './processor'

/** Frames by which `lookAheadMs` of a setup looks ahead. */
const lookAheadFrames = ({ values, sampleRate }: ProcessorSetup) =>
  Math.round((values.lookAheadMs!.still / 1000) * sampleRate)

/** The latency of what looks ahead: whole quanta. */
export const lookAheadLatency = (setup: ProcessorSetup): number => wholeQuanta(lookAheadFrames(setup))

/** Puts the kernel's sound out later than it came in, for processors with a `lookAheadMs` that never moves. */
export class LookAhead {
  readonly latencyFrames: number
  /** By how many frames what is heard has to be late so that it is as far ahead of the sound as is looked. */
  readonly lateFrames: number
  /** The sound as it came in; none where it is put out at once. */
  readonly lines: readonly DelayLine[]
  private readonly kernel = processingKernel()

  constructor(setup: ProcessorSetup, slackFrames?: number) {
    this.latencyFrames = lookAheadLatency(setup)
    this.lateFrames = this.latencyFrames - lookAheadFrames(setup)
    this.lines = this.latencyFrames
      ? Array.from(
          { length: setup.channels },
          () => new DelayLine(this.latencyFrames + BLOCK_FRAMES, true, slackFrames),
        )
      : []
  }

  copyIn(count: number): void {
    for (let c = 0; c < this.lines.length; c++) this.lines[c]!.append(this.kernel.sound[c]!, count)
  }

  putOut(count: number): void {
    for (let c = 0; c < this.lines.length; c++)
      this.lines[c]!.copy(this.latencyFrames + count, count, this.kernel.sound[c]!)
  }
}
