import { clamp } from '../units/clamp'
import type { Crossfade } from '../model/session'
import { cosHalfPi, sinHalfPi } from '../units/exact'
import { bendFade, fadeCurve } from './fade'

/** The two gains of a crossfade at one moment. */
export interface CrossfadeGains {
  out: number
  in: number
}

/**
 * Gains of the left (out) and right (in) region at `u` in 0…1 over the overlap, for signals of correlation ρ.
 * The level law divides by `N = sqrt(1 + ρ·sin 2θ)`, θ = πu/2, so that the sum keeps its power. The bend of
 * the right side warps `u` as for fades; in the free law each side has its own.
 */
export function crossfadeGains(
  fade: Pick<Crossfade, 'law' | 'out' | 'in'>,
  at: number,
  correlation = 0,
): CrossfadeGains {
  if (fade.law === 'free')
    return {
      out: fadeCurve(fade.out.curve, bendFade(1 - at, fade.out.bend)),
      in: fadeCurve(fade.in.curve, bendFade(at, fade.in.bend)),
    }
  const u = bendFade(at, fade.in.bend)
  if (fade.law === 'equal-gain') return { out: 1 - u, in: u }
  const out = cosHalfPi(u)
  const into = sinHalfPi(u)
  if (fade.law === 'equal-power') return { out, in: into }
  // sin 2θ = 2·sin θ·cos θ
  const n = Math.sqrt(1 + clamp(correlation, -0.9, 1) * 2 * into * out)
  return { out: out / n, in: into / n }
}

/** How two signals over an overlap relate: their correlation -1…1 and mean squares. */
export interface Relation {
  correlation: number
  out: number
  in: number
}

/**
 * The level of the sum in dB at `u`, relative to signals of power 1: `10·log10(g_out²·E_out + g_in²·E_in +
 * 2ρ·g_out·g_in·√(E_out·E_in))`.
 */
export function expectedLevel(
  fade: Pick<Crossfade, 'law' | 'out' | 'in'>,
  u: number,
  relation: Relation,
): number {
  const g = crossfadeGains(fade, u, relation.correlation)
  return (
    10 *
    Math.log10(
      g.out * g.out * relation.out +
        g.in * g.in * relation.in +
        2 * relation.correlation * g.out * g.in * Math.sqrt(relation.out * relation.in),
    )
  )
}

/**
 * The worst dip (negative) or bulge (positive) in dB that a crossfade makes: how far the expected level
 * leaves what lies between the levels of the two sides. 0 where one side is silent.
 */
export function worstDeviation(fade: Pick<Crossfade, 'law' | 'out' | 'in'>, relation: Relation): number {
  if (relation.out <= 0 || relation.in <= 0) return 0
  const sides = [10 * Math.log10(relation.out), 10 * Math.log10(relation.in)]
  const [low, high] = [Math.min(...sides), Math.max(...sides)]
  let worst = 0
  for (let i = 1; i < 200; i++) {
    const level = expectedLevel(fade, i / 200, relation)
    const off = level > high ? level - high : level < low ? level - low : 0
    if (Math.abs(off) > Math.abs(worst)) worst = off
  }
  return worst
}
