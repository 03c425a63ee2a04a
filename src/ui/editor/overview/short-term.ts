import { loudnessOf } from '../../../core/measure/loudness'
import { COURSE_STEP_SECONDS } from '../../../engine/background'

/** Steps of a short-term loudness. */
const STEPS = 30

/**
 * The short-term loudness in LUFS at each of so many columns: of the three seconds that end there, or the loudest of them where a column
 * is longer; NaN where it is not known, -Infinity for silence.
 */
export function shortTermOf(powers: Float32Array, columns: number, secondsPerColumn: number): Float64Array {
  // Sums that run along, with the unknown counted apart.
  const sums = new Float64Array(powers.length + 1)
  const unknown = new Uint32Array(powers.length + 1)
  for (let i = 0; i < powers.length; i++) {
    const known = !Number.isNaN(powers[i])
    sums[i + 1] = sums[i]! + (known ? powers[i]! : 0)
    unknown[i + 1] = unknown[i]! + (known ? 0 : 1)
  }
  const at = (step: number): number => {
    const from = Math.max(0, step + 1 - STEPS)
    if (unknown[step + 1]! > unknown[from]!) return NaN
    return Math.max(0, sums[step + 1]! - sums[from]!) / STEPS
  }
  const out = new Float64Array(columns).fill(NaN)
  for (let c = 0; c < columns; c++) {
    const first = Math.floor((c * secondsPerColumn) / COURSE_STEP_SECONDS)
    const last = Math.max(first, Math.floor(((c + 1) * secondsPerColumn) / COURSE_STEP_SECONDS) - 1)
    let most = NaN
    for (let step = first; step <= last && step < powers.length; step++) {
      const power = at(step)
      if (!Number.isNaN(power) && !(power <= most)) most = power
    }
    if (!Number.isNaN(most)) out[c] = loudnessOf(most)
  }
  return out
}

/** How much of a course is known, 0…1. */
export function knownShare(powers: Float32Array): number {
  let known = 0
  for (let i = 0; i < powers.length; i++) if (!Number.isNaN(powers[i])) known++
  return powers.length === 0 ? 1 : known / powers.length
}
