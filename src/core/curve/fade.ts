import { exp10, exp2, power, raisedCosine, sinHalfPi } from '../units/exact'
import type { FadeCurve, GainFade } from '../model/session'

const FLOOR = 1e-3

const exponential = (u: number) => (exp10(3 * (u - 1)) - FLOOR) / (1 - FLOOR)

/** The gain 0…1 of a fade curve at `u` in 0…1 (0 is silence, 1 full level). */
export function fadeCurve(curve: FadeCurve, u: number): number {
  switch (curve) {
    case 'linear':
      return u
    case 'equal-power':
      return sinHalfPi(u)
    case 's-curve':
      return raisedCosine(u)
    case 'exponential':
      return u <= 0 ? 0 : exponential(u)
    case 'logarithmic':
      return u >= 1 ? 1 : 1 - exponential(1 - u)
  }
}

/** `u` warped by a bend -1…1: `u^(2^(2b))`; positive starts later, negative earlier, 0 changes nothing. */
export function bendFade(u: number, bend: number): number {
  return bend === 0 ? u : power(u, exp2(2 * bend))
}

/**
 * The gain of a fade, `s + (1-s)·f(u)`, where u runs from 0 at the region's edge to 1 at the fade's inner end.
 * For a fade out, u is counted from the region's end backwards.
 */
export function fadeGain(fade: Pick<GainFade, 'curve' | 'bend' | 'level'>, u: number): number {
  const f = fadeCurve(fade.curve, bendFade(u, fade.bend))
  return fade.level === 0 ? f : fade.level + (1 - fade.level) * f
}
