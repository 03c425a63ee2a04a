import type { TapeFade } from '../model/session'
import { power } from '../units/exact'

/** How a tape slows when nothing else is said: evenly. */
export const TAPE_K = 1

/** Seconds at the standing end of a tape fade that also fade to silence. */
export const TAPE_SILENCE_SECONDS = 0.005

/**
 * The playback rate at `u` in 0…1 from the start of the fade: `(1-u)^k` for a stop (fade out), `u^k` for a
 * start (fade in).
 */
export const tapeRate = (fade: Pick<TapeFade, 'k'>, edge: 'in' | 'out', u: number): number =>
  power(edge === 'in' ? u : 1 - u, fade.k ?? TAPE_K)

/**
 * How far the read position at `u` (0…1 from the start of the fade) lies from the one at the fade's inner
 * end, in source frames: the integral of the rate, `F/(k+1)·(1-(1-u)^(k+1))` after it for a stop,
 * `F/(k+1)·(1-u^(k+1))` before it (negative) for a start.
 */
export function tapeOffset(fade: Pick<TapeFade, 'k' | 'length'>, edge: 'in' | 'out', u: number): number {
  const k = fade.k ?? TAPE_K
  const whole = fade.length / (k + 1)
  return edge === 'in' ? -whole * (1 - power(u, k + 1)) : whole * (1 - power(1 - u, k + 1))
}
