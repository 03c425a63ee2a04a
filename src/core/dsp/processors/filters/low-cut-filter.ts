import { processingKernel } from '../../kernels/processing'
import { filterFrames } from '../decay'
import { IDENTITY, lowCut } from './filter-design'
import { FilterSections, SECTION_SCALARS, type SectionPair, type SectionSource } from './filter-sections'
import type { ParameterReader } from '../parameter-reader'
import { StateArray } from '../stateful'

/** A low cut of 12 dB an octave (Butterworth), which may move; 0 Hz is off. */
export class LowCutFilter implements SectionSource {
  private readonly states = new Float64Array(SECTION_SCALARS)
  readonly state = [new StateArray(this.states)]
  private readonly sections = new FilterSections([0], this.states)
  private readonly kernel = processingKernel()
  private known: { hz: number; pairs: readonly SectionPair[] } | null = null

  constructor(
    private hz: ParameterReader,
    private readonly sampleRate: number,
  ) {}

  /** Frames until what it remembers has fallen to a part of it. */
  static memoryFrames(hz: ParameterReader, sampleRate: number, to: number): number {
    const { min, max } = hz.range()
    if (max === 0) return 0
    // Poles at ω(-1 ± j)/√2.
    return filterFrames(Math.max(1, min), sampleRate, to, Math.SQRT1_2)
  }

  update(hz: ParameterReader): void {
    this.hz = hz
    this.sections.forget()
  }

  /** Whether it ever does anything. */
  get acts(): boolean {
    return this.hz.everOther(0)
  }

  /** Filters the first `count` frames of the kernel’s sound in place, from session frame `from` on. */
  process(channels: 1 | 2, from: number, count: number): void {
    if (channels === 1) this.kernel.sound[1].fill(0, 0, count)
    this.sections.process(this, from, count)
  }

  stays(from: number, count: number): boolean {
    return this.hz.constant(from, count) !== null
  }

  sectionsAt(frame: number): readonly SectionPair[] {
    const hz = this.hz.at(frame)
    if (this.known?.hz === hz) return this.known.pairs
    const section = hz > 0 ? lowCut(Math.max(1, hz), 2, this.sampleRate)[0]! : IDENTITY
    this.known = { hz, pairs: [[section, section]] }
    return this.known.pairs
  }
}
