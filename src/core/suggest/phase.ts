/** How two sounds of one event stand to each other, and what would bring them together. */
export interface PhaseRelation {
  /** Correlation as it is, -1…1; inverted it is the opposite. */
  now: number
  /** By how many frames the second has to come later (negative: earlier) to agree best, perhaps inverted. */
  shift: number
  inverted: boolean
  /** The correlation then. */
  best: number
}

/** How far a shift is looked for, in seconds: some three metres of air. */
export const MOST_SHIFT_SECONDS = 0.01

/**
 * Finds the shift of `y` against `x`, up to `most` frames to each side, at which they agree best. Both are of one length and begin
 * at the same frame; the first and last `most` frames of `y` are only looked at by shifts. A shift is only named where it gains
 * something against none.
 */
export function phaseRelation(x: Float32Array, y: Float32Array, most: number): PhaseRelation {
  const from = Math.min(most, Math.floor(x.length / 4))
  const to = x.length - from
  const at = (shift: number): number => {
    let [xy, xx, yy] = [0, 0, 0]
    for (let i = from; i < to; i++) {
      const [a, b] = [x[i]!, y[i - shift]!]
      xy += a * b
      xx += a * a
      yy += b * b
    }
    return xx > 0 && yy > 0 ? xy / Math.sqrt(xx * yy) : 0
  }
  const now = at(0)
  let [shift, best] = [0, now]
  for (let s = -from; s <= from; s++) {
    const r = s === 0 ? now : at(s)
    if (Math.abs(r) > Math.abs(best) + LEAST_GAIN) [shift, best] = [s, r]
  }
  return { now, shift, inverted: best < 0, best: Math.abs(best) }
}

/** A shift that gains less correlation than this is none. */
const LEAST_GAIN = 0.02
