import { SECTION_NUMBERS, SECTION_STATES, SECTION_STEPS } from '../../kernels/filter'
import { processingKernel } from '../../kernels/processing'
import type { SectionNumbers } from './filter-design'
import type { ParameterReader } from '../parameter-reader'
import { COEFFICIENT_FRAMES, QUANTUM_FRAMES } from '../processor'

/** States of a section: two for each lane. */
export const SECTION_SCALARS = SECTION_NUMBERS - SECTION_STATES

/** A section of both lanes, left and right or mid and side. */
export type SectionPair = readonly [left: SectionNumbers, right: SectionNumbers]

/** Where sections come from that may move: computed every sixteenth frame, straight in between. */
export interface SectionSource {
  /** The sections at a session frame, in the order in which sound passes them; as many at every frame. */
  sectionsAt(frame: number): readonly SectionPair[]
  /** Whether they are the same over all of `count` frames. */
  stays(from: number, count: number): boolean
}

/**
 * Filters one after the other with what they remember, run on the kernel's sound. The state of section k lies in `states` from
 * `slots[k]·SECTION_SCALARS` on; whoever owns the states saves and restores them.
 */
export class FilterSections {
  private readonly kernel = processingKernel().filters
  /** The sections at the end of the last sixteen frames, which are those at the beginning of the next. */
  private known: { source: SectionSource; frame: number; sections: readonly SectionPair[] } | null = null

  constructor(
    private readonly slots: readonly number[],
    private readonly states: Float64Array,
  ) {}

  /** Is told when a source has other sections than before. */
  forget(): void {
    this.known = null
  }

  /** Filters `count` frames of the kernel's sound from session frame `from` on, a multiple of a quantum. */
  process(source: SectionSource, from: number, count: number): void {
    const { kernel, slots } = this
    const many = slots.length
    this.load()
    if (source.stays(from, count + COEFFICIENT_FRAMES)) {
      this.place(source.sectionsAt(from), null)
      kernel.run(many, 0, count)
    } else
      for (let at = 0; at < count;) {
        const quantum = Math.min(QUANTUM_FRAMES, count - at)
        if (source.stays(from + at, quantum + COEFFICIENT_FRAMES)) {
          this.place(source.sectionsAt(from + at), null)
          kernel.run(many, at, at + quantum)
          at += quantum
        } else
          for (const end = at + quantum; at < end; at += COEFFICIENT_FRAMES) {
            this.place(this.now(source, from + at), this.then(source, from + at + COEFFICIENT_FRAMES))
            const to = Math.min(end, at + COEFFICIENT_FRAMES)
            kernel.runMoving(many, at, to, (from + at) % QUANTUM_FRAMES === 0)
          }
      }
    this.keep()
  }

  private now(source: SectionSource, frame: number): readonly SectionPair[] {
    const { known } = this
    return known?.source === source && known.frame === frame ? known.sections : source.sectionsAt(frame)
  }

  private then(source: SectionSource, frame: number): readonly SectionPair[] {
    const sections = source.sectionsAt(frame)
    this.known = { source, frame, sections }
    return sections
  }

  /** Writes the coefficients into the kernel, and how they get to others within sixteen frames. */
  private place(now: readonly SectionPair[], then: readonly SectionPair[] | null): void {
    const { sections } = this.kernel
    for (let k = 0; k < now.length; k++)
      for (let lane = 0; lane < 2; lane++) {
        const at = k * SECTION_NUMBERS + lane
        const a = now[k]![lane as 0 | 1]
        const b = then?.[k]![lane as 0 | 1]
        for (let n = 0; n < 6; n++) {
          sections[at + 2 * n] = a[n]!
          sections[at + SECTION_STEPS + 2 * n] = b ? (b[n]! - a[n]!) / COEFFICIENT_FRAMES : 0
        }
      }
  }

  private load(): void {
    const { kernel, slots, states } = this
    for (let k = 0; k < slots.length; k++)
      for (let n = 0; n < SECTION_SCALARS; n++)
        kernel.sections[k * SECTION_NUMBERS + SECTION_STATES + n] = states[slots[k]! * SECTION_SCALARS + n]!
  }

  private keep(): void {
    const { kernel, slots, states } = this
    for (let k = 0; k < slots.length; k++)
      for (let n = 0; n < SECTION_SCALARS; n++)
        states[slots[k]! * SECTION_SCALARS + n] = kernel.sections[k * SECTION_NUMBERS + SECTION_STATES + n]!
  }
}

/** Whether none of some parameters moves over all of `count` frames. */
export function allStay(readers: readonly ParameterReader[], from: number, count: number): boolean {
  for (const reader of readers) if (reader.constant(from, count) === null) return false
  return true
}
