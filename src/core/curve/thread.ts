import type { Knot } from '../model/session'
import { exp2, power, raisedCosine } from '../units/exact'

/** Length of the raised-cosine transition that every step is rendered with, in seconds. */
export const STEP_SECONDS = 0.001

/**
 * How far a stretch has come at `u` in 0…1, by its shape and bend (`3·b` octaves of exponent). 0 at 0, 1 at
 * 1; a hold stays 0.
 */
export function stretchProgress(shape: Knot['shape'], bend: number, u: number): number {
  switch (shape) {
    case 'hold':
      return 0
    case 's-curve':
      return raisedCosine(u)
    case 'line':
      if (bend === 0) return u
      return bend > 0 ? power(u, exp2(3 * bend)) : 1 - power(1 - u, exp2(-3 * bend))
  }
}

/** How far the stretch that begins at a knot has come at `u` in 0…1, where it may be a piece of a longer shape. */
export function knotProgress(knot: Knot, u: number): number {
  const { shape, bend, part } = knot
  if (!part || (shape === 'line' && bend === 0)) return stretchProgress(shape, bend, u)
  const first = stretchProgress(shape, bend, part[0])
  const rise = stretchProgress(shape, bend, part[1]) - first
  return rise === 0 ? 0 : (stretchProgress(shape, bend, part[0] + (part[1] - part[0]) * u) - first) / rise
}

/** Index of the last knot at or before `frame`, -1 before the first. */
export function knotBefore(knots: readonly Knot[], frame: number): number {
  let low = 0
  let high = knots.length
  while (low < high) {
    const middle = (low + high) >>> 1
    if (knots[middle]!.frame <= frame) low = middle + 1
    else high = middle
  }
  return low - 1
}

/**
 * The drawn value of a thread at a frame (a real number), steps sharp: before the first knot its value, after
 * the last its value. Throws a RangeError for a thread without knots, which has no value of its own.
 */
export function threadValue(knots: readonly Knot[], frame: number): number {
  if (knots.length === 0) throw new RangeError('a thread with 0 knots has no value; at least 1 is needed')
  const at = knotBefore(knots, frame)
  return at < 0 ? knots[0]!.value : valueFrom(knots, at, frame)
}

/**
 * The value to which a thread comes at a frame from before it, where it may step. Throws a RangeError for a
 * thread without knots.
 */
export function arrivingValue(knots: readonly Knot[], frame: number): number {
  const next = knots.findIndex((k) => k.frame >= frame)
  if (next === 0) return knots[0]!.value
  return next > 0 ? valueFrom(knots, next - 1, frame) : threadValue(knots, frame)
}

function valueFrom(knots: readonly Knot[], at: number, frame: number): number {
  const knot = knots[at]!
  const next = knots[at + 1]
  if (!next || next.value === knot.value) return knot.value
  const progress = knotProgress(knot, (frame - knot.frame) / (next.frame - knot.frame))
  return knot.value + (next.value - knot.value) * progress
}

/**
 * Writes the values of the stretch that begins at knot `at` for frames `from + i`, `first` ≤ i < `last`. The
 * same as `valueFrom`, to the bit.
 */
function fillStretch(
  knots: readonly Knot[],
  at: number,
  from: number,
  first: number,
  last: number,
  out: Float64Array,
): void {
  const knot = knots[at]!
  const next = knots[at + 1]
  if (!next || next.value === knot.value || knot.shape === 'hold') {
    out.fill(knot.value, first, last)
    return
  }
  const start = knot.frame - from
  const length = next.frame - knot.frame
  const low = knot.value
  const rise = next.value - knot.value
  if (knot.part && !(knot.shape === 'line' && knot.bend === 0))
    for (let i = first; i < last; i++) out[i] = low + rise * knotProgress(knot, (i - start) / length)
  else if (knot.shape === 's-curve')
    for (let i = first; i < last; i++) out[i] = low + rise * raisedCosine((i - start) / length)
  else if (knot.bend === 0) for (let i = first; i < last; i++) out[i] = low + rise * ((i - start) / length)
  else if (knot.bend > 0) {
    const exponent = exp2(3 * knot.bend)
    for (let i = first; i < last; i++) out[i] = low + rise * power((i - start) / length, exponent)
  } else {
    const exponent = exp2(-3 * knot.bend)
    for (let i = first; i < last; i++) out[i] = low + rise * (1 - power(1 - (i - start) / length, exponent))
  }
}

/** A sudden change of a thread's value: by `size` at `frame`. */
interface Step {
  frame: number
  size: number
}

/** Where a thread steps: at the end of a hold, and where knots share a frame. */
export function stepsOf(knots: readonly Knot[]): Step[] {
  const steps: Step[] = []
  for (let i = 1; i < knots.length; i++) {
    const from = knots[i - 1]!
    const to = knots[i]!
    const size = to.value - from.value
    if (size !== 0 && (from.shape === 'hold' || from.frame === to.frame))
      steps.push({ frame: to.frame, size })
  }
  return steps
}

/**
 * A thread made ready for rendering at one sample rate (Hz). `fill` writes the value at every frame; each
 * step becomes a raised cosine of 1 ms that starts at the step. The transitions of steps closer than that add
 * up, so the value never jumps.
 */
export class ThreadReader {
  private readonly steps: Step[]
  private readonly transition: number

  constructor(
    readonly knots: readonly Knot[],
    sampleRate: number,
  ) {
    this.steps = stepsOf(knots)
    this.transition = Math.max(1, Math.round(sampleRate * STEP_SECONDS))
  }

  /** The value where it is the same over all of `count` frames from `from`; null where it changes. */
  constant(from: number, count: number): number | null {
    const knots = this.knots
    const at = knotBefore(knots, from)
    if (at === knots.length - 1 || knots[at + 1]!.frame >= from + count) {
      const knot = knots[Math.max(0, at)]!
      const next = knots[at + 1]
      const flat = at < 0 || !next || next.value === knot.value || knot.shape === 'hold'
      if (flat && !this.stepsWithin(from, count)) return knot.value
    }
    return null
  }

  /**
   * Writes the value at the frames `from`, `from + 1`, … into `out[0…count-1]`. The result does not depend on
   * how calls are cut.
   */
  fill(from: number, count: number, out: Float64Array): void {
    const knots = this.knots
    let at = knotBefore(knots, from)
    let done = 0
    while (done < count) {
      const frame = from + done
      while (at + 1 < knots.length && knots[at + 1]!.frame <= frame) at++
      const next = knots[at + 1]
      const end = next ? Math.min(count, next.frame - from) : count
      if (at < 0) out.fill(knots[0]!.value, done, end)
      else fillStretch(knots, at, from, done, end, out)
      done = end
    }
    this.smoothSteps(from, count, out)
  }

  private firstStep(from: number): number {
    let low = 0
    let high = this.steps.length
    while (low < high) {
      const middle = (low + high) >>> 1
      if (this.steps[middle]!.frame + this.transition <= from) low = middle + 1
      else high = middle
    }
    return low
  }

  private stepsWithin(from: number, count: number): boolean {
    const step = this.steps[this.firstStep(from)]
    return step !== undefined && step.frame < from + count
  }

  private smoothSteps(from: number, count: number, out: Float64Array): void {
    for (let s = this.firstStep(from); s < this.steps.length; s++) {
      const step = this.steps[s]!
      if (step.frame >= from + count) break
      const first = Math.max(0, step.frame - from)
      const last = Math.min(count, step.frame + this.transition - from)
      for (let i = first; i < last; i++)
        out[i] = out[i]! - step.size * (1 - raisedCosine((from + i - step.frame) / this.transition))
    }
  }
}
