import { tanPi } from '../../units/exact'
import { SECTION_NUMBERS, SECTION_STATES, SECTION_STEPS } from '../kernels/filter'
import { processingKernel } from '../kernels/processing'
import { filterFrames } from './decay'
import { HIGHEST_PART, type SectionNumbers } from './filter-design'
import type { ParameterReader } from './parameter-reader'
import { COEFFICIENT_FRAMES, QUANTUM_FRAMES } from './processor'

const SQRT2 = 1.4142135623730951
const STATES = SECTION_NUMBERS - SECTION_STATES

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
export class CrossoverWay {
  readonly scalars: number
  private readonly parts: readonly Step[]
  private readonly states: Float64Array
  private readonly kernel = processingKernel()
  private steps: readonly Step[]

  constructor(
    steps: readonly Step[],
    private readonly sampleRate: number,
  ) {
    this.steps = steps
    this.parts = CrossoverWay.partsOf(steps)
    this.scalars = this.parts.length * STATES
    this.states = new Float64Array(this.scalars)
  }

  private static partsOf(steps: readonly Step[]): Step[] {
    return steps.flatMap((step) => (step.part === 'all' ? [step] : [step, step]))
  }

  /** Frames until what a way remembers has fallen to a part of it. */
  static memoryFrames(steps: readonly Step[], sampleRate: number, to: number): number {
    let frames = 0
    for (const { hz } of CrossoverWay.partsOf(steps))
      frames += filterFrames(hz.range().min, sampleRate, to, Math.SQRT1_2)
    return frames
  }

  /** The same steps with other frequencies. */
  update(steps: readonly Step[]): void {
    this.steps = steps
  }

  /** Filters the kernel's sound from session frame `from` on, both lanes. */
  process(from: number, count: number): void {
    const { filters } = this.kernel
    const parts = CrossoverWay.partsOf(this.steps)
    const { sections } = filters
    for (let k = 0; k < parts.length; k++)
      for (let n = 0; n < STATES; n++)
        sections[k * SECTION_NUMBERS + SECTION_STATES + n] = this.states[k * STATES + n]!
    if (parts.every(({ hz }) => hz.lane === null)) {
      this.place(parts, from, 0)
      filters.run(parts.length, 0, count)
    } else
      for (let at = 0; at < count; at += COEFFICIENT_FRAMES) {
        this.place(parts, from + at, COEFFICIENT_FRAMES)
        const to = Math.min(count, at + COEFFICIENT_FRAMES)
        filters.runMoving(parts.length, at, to, (from + at) % QUANTUM_FRAMES === 0)
      }
    for (let k = 0; k < parts.length; k++)
      for (let n = 0; n < STATES; n++)
        this.states[k * STATES + n] = sections[k * SECTION_NUMBERS + SECTION_STATES + n]!
  }

  private place(parts: readonly Step[], frame: number, ahead: number): void {
    const { sections } = this.kernel.filters
    for (let k = 0; k < parts.length; k++) {
      const { part, hz } = parts[k]!
      const now = crossoverSection(part, hz.at(frame), this.sampleRate)
      const then = ahead ? crossoverSection(part, hz.at(frame + ahead), this.sampleRate) : now
      for (let n = 0; n < 6; n++)
        for (let lane = 0; lane < 2; lane++) {
          sections[k * SECTION_NUMBERS + 2 * n + lane] = now[n]!
          sections[k * SECTION_NUMBERS + SECTION_STEPS + 2 * n + lane] = ahead
            ? (then[n]! - now[n]!) / ahead
            : 0
        }
    }
  }

  reset(): void {
    this.states.fill(0)
  }

  save(into: Float64Array, at: number): void {
    into.set(this.states, at)
  }

  restore(from: Float64Array, at: number): void {
    for (let n = 0; n < this.scalars; n++) this.states[n] = from[at + n]!
  }
}
