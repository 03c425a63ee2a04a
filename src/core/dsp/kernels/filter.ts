import { SECTIONS } from './processing-places'
import type { Sound } from './sound'

/** Sections that are run at once, at most. */
export const FILTER_SECTIONS = 64

/** Numbers of a section: six coefficients, six steps, and two states, each for both lanes. */
export const SECTION_NUMBERS = 28
/** Where in a section its steps and its states begin. */
export const SECTION_STEPS = 12
export const SECTION_STATES = 24

/** What has become smaller than this is nothing: such numbers are slow. */
const SMALLEST = 1e-30
const FLUSH_FRAMES = 64

/**
 * A cascade of filters of second order in state-variable form over two lanes, left and right. With `e = x - s2` a section
 * puts out `d·e + l·s2 + c·s1`; then `s1` becomes `p·s1 + q·e` and `s2` becomes `s2 + (q·s1 + r·e)`. Its numbers stand as p, q, r,
 * d, l, c, then what each changes by with every frame, then s1 and s2; every number for the left lane and for the right.
 */
export interface Filters {
  /** `SECTION_NUMBERS` for each section. */
  readonly sections: Float64Array
  /**
   * Runs the first `count` sections over the frames from `from` to `to`; coefficients stay. States that are too small to
   * matter become 0 at `from` and every 64 frames after it.
   */
  run(count: number, from: number, to: number): void
  /** The same while coefficients change by their steps; states are looked at at `from`, if `flush` says so. */
  runMoving(count: number, from: number, to: number, flush: boolean): void
}

/** The definition: what every other form must give, to the bit. */
export function plainFilters(sound: Sound, buffer: ArrayBuffer): Filters {
  const sections = sectionsIn(buffer)
  const section = (at: number, lane: 0 | 1, from: number, to: number, moves: boolean) => {
    const samples = sound[lane]
    const number = (k: number) => at + 2 * k + lane
    for (let i = from; i < to; i++) {
      const [s1, s2] = [sections[number(12)]!, sections[number(13)]!]
      const e = samples[i]! - s2
      samples[i] = sections[number(3)]! * e + sections[number(4)]! * s2 + sections[number(5)]! * s1
      sections[number(12)] = sections[number(0)]! * s1 + sections[number(1)]! * e
      sections[number(13)] = s2 + (sections[number(1)]! * s1 + sections[number(2)]! * e)
      if (moves)
        for (let k = 0; k < 6; k++) sections[number(k)] = sections[number(k)]! + sections[number(k + 6)]!
    }
  }
  const flush = (at: number) => {
    for (let k = SECTION_STATES; k < SECTION_NUMBERS; k++)
      if (!(Math.abs(sections[at + k]!) >= SMALLEST)) sections[at + k] = 0
  }
  return {
    sections,
    run(count, from, to) {
      for (let at = from; at < to; at += FLUSH_FRAMES)
        for (let n = 0; n < count; n++) {
          flush(n * SECTION_NUMBERS)
          for (const lane of [0, 1] as const)
            section(n * SECTION_NUMBERS, lane, at, Math.min(to, at + FLUSH_FRAMES), false)
        }
    },
    runMoving(count, from, to, flushes) {
      for (let n = 0; n < count; n++) {
        if (flushes) flush(n * SECTION_NUMBERS)
        for (const lane of [0, 1] as const) section(n * SECTION_NUMBERS, lane, from, to, true)
      }
    },
  }
}

export interface FilterExports {
  filterFrames(sections: number, from: number, to: number): void
  filterMoving(sections: number, from: number, to: number, flush: boolean): void
}

const sectionsIn = (buffer: ArrayBuffer) =>
  new Float64Array(buffer, SECTIONS, FILTER_SECTIONS * SECTION_NUMBERS)

/** The WebAssembly form. */
export const wasmFilters = (buffer: ArrayBuffer, exports: FilterExports): Filters => ({
  sections: sectionsIn(buffer),
  run: exports.filterFrames,
  runMoving: exports.filterMoving,
})
