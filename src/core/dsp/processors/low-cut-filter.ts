import { SECTION_NUMBERS, SECTION_STATES, SECTION_STEPS } from '../kernels/filter'
import { processingKernel } from '../kernels/processing'
import { filterFrames } from './decay'
import { IDENTITY, lowCut } from './filter-design'
import type { ParameterReader } from './parameter-reader'
import { COEFFICIENT_FRAMES, QUANTUM_FRAMES } from './processor'

const STATES = SECTION_NUMBERS - SECTION_STATES

/** A low cut of 12 dB an octave (Butterworth), which may move; 0 Hz is off. */
export class LowCutFilter {
  static readonly scalars = STATES
  private readonly states = new Float64Array(STATES)
  private readonly kernel = processingKernel()
  private knownHz = 0
  private known = IDENTITY

  /** Frames until what it remembers has fallen to a part of it. */
  static memoryFrames(hz: ParameterReader, sampleRate: number, to: number): number {
    const { min, max } = hz.range()
    if (max === 0) return 0
    // Poles at ω(-1 ± j)/√2.
    return filterFrames(Math.max(1, min), sampleRate, to, Math.SQRT1_2)
  }

  /** Filters the first `count` frames of the kernel’s sound in place, from session frame `from` on. */
  process(channels: 1 | 2, hz: ParameterReader, from: number, count: number, sampleRate: number): void {
    const { states } = this
    const kernel = this.kernel.filters
    if (channels === 1) this.kernel.sound[1].fill(0, 0, count)
    kernel.sections.set(states, SECTION_STATES)
    if (!hz.lane) {
      this.place(hz.still, hz.still, sampleRate)
      kernel.run(1, 0, count)
    } else
      for (let at = 0; at < count; at += COEFFICIENT_FRAMES) {
        this.place(hz.at(from + at), hz.at(from + at + COEFFICIENT_FRAMES), sampleRate)
        const to = Math.min(count, at + COEFFICIENT_FRAMES)
        kernel.runMoving(1, at, to, (from + at) % QUANTUM_FRAMES === 0)
      }
    states.set(kernel.sections.subarray(SECTION_STATES, SECTION_NUMBERS))
  }

  private place(now: number, then: number, sampleRate: number): void {
    const { sections } = this.kernel.filters
    const [a, b] = [this.at(now, sampleRate), this.at(then, sampleRate)]
    for (let n = 0; n < 6; n++)
      for (const lane of [0, 1]) {
        sections[2 * n + lane] = a[n]!
        sections[SECTION_STEPS + 2 * n + lane] = (b[n]! - a[n]!) / COEFFICIENT_FRAMES
      }
  }

  private at(hz: number, sampleRate: number) {
    if (hz !== this.knownHz) {
      this.knownHz = hz
      this.known = hz > 0 ? lowCut(Math.max(1, hz), 2, sampleRate)[0]! : IDENTITY
    }
    return this.known
  }

  reset(): void {
    this.states.fill(0)
  }

  save(into: Float64Array, at: number): void {
    into.set(this.states, at)
  }

  restore(from: Float64Array, at: number): void {
    for (let n = 0; n < STATES; n++) this.states[n] = from[at + n]!
  }
}
