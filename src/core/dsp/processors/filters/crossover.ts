import { tanPi } from '../../../units/exact'
import { filterFrames } from '../decay'
import { HIGHEST_PART, type SectionNumbers } from './filter-design'
import {
  allStay,
  FilterSections,
  SECTION_SCALARS,
  type SectionPair,
  type SectionSource,
} from './filter-sections'
import type { ParameterReader } from '../parameter-reader'
import { StateArray } from '../stateful'

const SQRT2 = 1.4142135623730951

/** What of a crossover at a frequency is taken: what lies below it, above it, or all of it as the sum of both is turned. */
export type Part = 'low' | 'high' | 'all'

/** A Butterworth filter of second order by bilinear transform, and the all-pass with its poles. */
export function crossoverSection(part: Part, hz: number, sampleRate: number): SectionNumbers {
  const g = tanPi(Math.min(hz / sampleRate, HIGHEST_PART))
  const a1 = 1 / (1 + g * (g + SQRT2))
  const a2 = g * a1
  const a3 = g * a2
  // Of x, band and low: the low is low, the high x - √2·band - low, the all-pass x - 2√2·band.
  const [m0, m1, m2] = part === 'low' ? [0, 0, 1] : part === 'high' ? [1, -SQRT2, -1] : [1, -2 * SQRT2, 0]
  return [2 * a1 - 1, 2 * a2, 2 * a3, m0 + m1 * a2 + m2 * a3, m0 + m2, m1 * a1 + m2 * a2]
}

/** A step of a way through crossovers: a part at a frequency that may move. */
export interface Step {
  part: Part
  hz: ParameterReader
}

/**
 * A way through Linkwitz–Riley crossovers of fourth order (S. H. Linkwitz, JAES 24(1), 1976): what lies below or above is filtered by two
 * Butterworth filters of second order; low and high add up to an all-pass, which other ways pass, too, so that all add up flat.
 */
export class CrossoverWay implements SectionSource {
  readonly state: readonly StateArray[]
  private parts: readonly Step[]
  private readonly states: Float64Array
  private readonly sections: FilterSections
  /** The readers of frequencies that move. */
  private moving: readonly ParameterReader[]
  /** The sections of frequencies that stay. */
  private still: readonly SectionPair[] | null = null

  constructor(
    steps: readonly Step[],
    private readonly sampleRate: number,
  ) {
    this.parts = partsOf(steps)
    this.moving = movingOf(steps)
    this.states = new Float64Array(this.parts.length * SECTION_SCALARS)
    this.state = [new StateArray(this.states)]
    this.sections = new FilterSections([...this.parts.keys()], this.states)
  }

  /** Frames until what a way remembers has fallen to a part of it. */
  static memoryFrames(steps: readonly Step[], sampleRate: number, to: number): number {
    return partsOf(steps).reduce(
      (sum, { hz }) => sum + filterFrames(hz.range().min, sampleRate, to, Math.SQRT1_2),
      0,
    )
  }

  /** The same steps with other frequencies. */
  update(steps: readonly Step[]): void {
    this.parts = partsOf(steps)
    this.moving = movingOf(steps)
    this.still = null
    this.sections.forget()
  }

  /** Filters the kernel's sound from session frame `from` on, both lanes. */
  process(from: number, count: number): void {
    this.sections.process(this, from, count)
  }

  stays(from: number, count: number): boolean {
    return allStay(this.moving, from, count)
  }

  sectionsAt(frame: number): readonly SectionPair[] {
    if (this.still) return this.still
    const pairs = this.parts.map(({ part, hz }): SectionPair => {
      const section = crossoverSection(part, hz.at(frame), this.sampleRate)
      return [section, section]
    })
    if (this.moving.length === 0) this.still = pairs
    return pairs
  }
}

/** The sections of a way: those of fourth order are two. */
const partsOf = (steps: readonly Step[]): Step[] =>
  steps.flatMap((step) => (step.part === 'all' ? [step] : [step, step]))

const movingOf = (steps: readonly Step[]): ParameterReader[] =>
  steps.map(({ hz }) => hz).filter(({ lane }) => lane !== null)
