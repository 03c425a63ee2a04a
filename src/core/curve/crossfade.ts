import type { Crossfade } from '../model/session'
import { cosHalfPi, sinHalfPi } from '../units/exact'
import { bendFade, fadeCurve } from './fade'

/** The two gains of a crossfade at one moment. */
export interface CrossfadeGains {
  out: number
  in: number
}

/**
 * Gains of the left (out) and right (in) region at `u` in 0…1 over the overlap. The level law divides by
 * `N = sqrt(1 + ρ·sin 2θ)`, θ = πu/2, so that the sum of signals with correlation ρ keeps its power.
 */
export function crossfadeGains(fade: Pick<Crossfade, 'law' | 'out' | 'in' | 'correlation'>, u: number): CrossfadeGains {
  switch (fade.law) {
    case 'equal-gain': return { out: 1 - u, in: u }
    case 'equal-power': return { out: cosHalfPi(u), in: sinHalfPi(u) }
    case 'level': {
      const out = cosHalfPi(u)
      const into = sinHalfPi(u)
      // sin 2θ = 2·sin θ·cos θ
      const n = Math.sqrt(1 + (fade.correlation ?? 0) * 2 * into * out)
      return { out: out / n, in: into / n }
    }
    case 'free': return { out: fadeCurve(fade.out.curve, bendFade(1 - u, fade.out.bend)), in: fadeCurve(fade.in.curve, bendFade(u, fade.in.bend)) }
  }
}
