import type { Knot } from '../model/session'
import { exp2, power, raisedCosine } from '../units/exact'

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
