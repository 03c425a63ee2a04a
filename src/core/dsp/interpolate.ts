import { sinHalfPi } from '../units/exact'
import { besselI0 } from './kaiser'

/** Samples to each side of a point that are weighted to find the value there. */
export const REACH = 16
const PHASES = 1024
/** Kaiser's β for images about 100 dB down. */
const BETA = 10

/**
 * Weights of the samples -REACH+1 … REACH around a point, for each of PHASES+1 places between two samples; a
 * windowed sinc.
 */
const TABLE: Float64Array = (() => {
  const table = new Float64Array((PHASES + 1) * 2 * REACH)
  const i0 = besselI0(BETA)
  for (let p = 0; p <= PHASES; p++) {
    const phase = p / PHASES
    // sin π(n-φ) = -(-1)^n · sin πφ
    const sine = sinHalfPi(phase <= 0.5 ? 2 * phase : 2 - 2 * phase)
    let sum = 0
    for (let t = 0; t < 2 * REACH; t++) {
      const n = t - REACH + 1
      const distance = n - phase
      const x = distance / REACH
      const window = Math.abs(x) >= 1 ? 0 : besselI0(BETA * Math.sqrt(1 - x * x)) / i0
      const sinc = distance === 0 ? 1 : ((n % 2 === 0 ? -1 : 1) * sine) / (Math.PI * distance)
      table[p * 2 * REACH + t] = window * sinc
      sum += window * sinc
    }
    for (let t = 0; t < 2 * REACH; t++) table[p * 2 * REACH + t] = table[p * 2 * REACH + t]! / sum
  }
  return table
})()

/**
 * The value of a band-limited signal at a position between samples, by a windowed sinc of 32 taps (J. O.
 * Smith, "Digital Audio Resampling"). `samples[0]` is at position `first`; what lies outside counts as
 * silence.
 */
export function interpolate(samples: ArrayLike<number>, first: number, position: number): number {
  const whole = Math.floor(position)
  const place = (position - whole) * PHASES
  const phase = Math.floor(place)
  const part = place - phase
  const row = phase * 2 * REACH
  let sum = 0
  for (let t = 0; t < 2 * REACH; t++) {
    const i = whole - first + t - REACH + 1
    if (i < 0 || i >= samples.length) continue
    const low = TABLE[row + t]!
    sum += samples[i]! * (low + (TABLE[row + 2 * REACH + t]! - low) * part)
  }
  return sum
}
