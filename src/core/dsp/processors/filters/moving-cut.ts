import { clamp } from '../../../units/clamp'
import { tanPi } from '../../../units/exact'
import { COEFFICIENT_FRAMES } from '../processor'
import type { Stateful } from '../stateful'

/** From this frequency on a high cut fades out, and at the end of it it is off. */
export const HIGH_CUT_FADES = { from: 18_000, to: 20_000 } as const
/** Cuts above this part of the sample rate act as there. */
const HIGHEST = 0.45

/** How much of a high cut there is, 0…1. */
export const highCutFade = (hz: number): number =>
  clamp((HIGH_CUT_FADES.to - hz) / (HIGH_CUT_FADES.to - HIGH_CUT_FADES.from), 0, 1)

/** A filter of first order whose coefficient runs straight between every sixteenth frame. */
export class MovingCut implements Stateful {
  readonly scalars = 1
  state = 0
  /** Coefficient now, and what it changes by with each frame. */
  value = 0
  private step = 0

  save(into: Float64Array, at: number): void {
    into[at] = this.state
  }

  restore(from: Float64Array, at: number): void {
    this.state = from[at]!
  }

  reset(): void {
    this.state = 0
  }

  /** Sets the coefficient of the next frames from those at both ends. */
  run(now: number, then: number): void {
    this.value = now
    this.step = (then - now) / COEFFICIENT_FRAMES
  }

  /** The low part of a sample. */
  low(x: number): number {
    const v = (x - this.state) * this.value
    const low = v + this.state
    this.state = low + v
    this.value += this.step
    return low
  }
}

/** The coefficient of a cut at a frequency, for `MovingCut`. */
export const cutCoefficient = (hz: number, sampleRate: number) => {
  const g = tanPi(Math.min(hz / sampleRate, HIGHEST))
  return g / (1 + g)
}
