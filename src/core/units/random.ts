/** What is added to the state with each number. */
const STEP = 0x6d2b79f5

/**
 * A small generator of uniform numbers in 0 ≤ x < 1 from a 32-bit seed; the same seed gives the same row everywhere.
 * Source: the "mulberry32" mixing of a Weyl sequence (T. Ettinger, public domain).
 * `skip` leaves out so many numbers at the start.
 */
export function seededRandom(seed: number, skip = 0): () => number {
  let state = (seed + Math.imul(skip, STEP)) >>> 0
  return () => {
    state = (state + STEP) >>> 0
    let t = state
    t = Math.imul(t ^ (t >>> 15), t | 1)
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61)
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296
  }
}
