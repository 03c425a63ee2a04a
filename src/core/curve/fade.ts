import { exp10, exp2, power, raisedCosine, sinHalfPi } from '../units/exact'
import type { Fade, FadeCurve, GainFade } from '../model/session'

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
 * How far into a fade a frame lies, 0…1: `frames` counts from the region's edge. For a piece of a longer fade this is
 * how far into that one.
 */
export function fadeProgress({ length, piece }: Pick<GainFade, 'length' | 'piece'>, frames: number): number {
  return piece ? (piece.from + frames) / piece.of : frames / length
}

/** A fade of another length: all of its curve. */
export function withFadeLength<F extends Fade>(fade: F, length: number): F {
  if (fade.length === length) return fade
  if (fade.kind === 'tape') return { ...fade, length }
  const { piece: _, ...whole } = fade
  return { ...whole, length } as F
}

/**
 * The two parts of a fade that is divided `frames` from the region's edge: what lies at the edge, and the rest. A tape
 * fade cannot be divided.
 */
export function fadeParts(fade: GainFade, frames: number): { outer: GainFade; inner: GainFade } {
  const { from, of } = fade.piece ?? { from: 0, of: fade.length }
  return {
    outer: { ...fade, length: frames, piece: { from, of } },
    inner: { ...fade, length: fade.length - frames, piece: { from: from + frames, of } },
  }
}

/**
 * The gain of a fade, `s + (1-s)·f(u)`, where u runs from 0 at the region's edge to 1 at the fade's inner end.
 * For a fade out, u is counted from the region's end backwards.
 */
export function fadeGain(fade: Pick<GainFade, 'curve' | 'bend' | 'level'>, u: number): number {
  const f = fadeCurve(fade.curve, bendFade(u, fade.bend))
  return fade.level === 0 ? f : fade.level + (1 - fade.level) * f
}
