import { seededRandom } from '../units/random'

/** Turns samples (full scale 1) into integers of a word length, with what was cut off counted. */
export interface Quantiser {
  /** The integer for one sample, dithered, rounded and limited to the word's range. */
  next(sample: number): number
  /** Samples that did not fit and were limited. */
  readonly clipped: number
}

function quantiser(bitsPerSample: 16 | 24, noise: () => number): Quantiser {
  const scale = 2 ** (bitsPerSample - 1)
  let clipped = 0
  return {
    next(sample) {
      const rounded = Math.floor(sample * scale + noise() + 0.5)
      if (sample * scale > scale - 1 || sample < -1) clipped++
      return rounded > scale - 1 ? scale - 1 : rounded < -scale ? -scale : rounded
    },
    get clipped() {
      return clipped
    },
  }
}

/**
 * A quantiser to 16 or 24 bits with triangular (TPDF) dither of ±1 LSB, the sum of two uniform numbers of one
 * LSB width, so that the error's mean and power do not depend on the signal (Lipshitz, Wannamaker, Vanderkooy
 * 1992). Full scale is 2^(bits-1).
 */
export function tpdfQuantiser(bitsPerSample: 16 | 24, seed: number): Quantiser {
  const random = seededRandom(seed)
  return quantiser(bitsPerSample, () => random() - random())
}

/** A quantiser that only rounds, for samples that are whole steps already. */
export function plainQuantiser(bitsPerSample: 16 | 24): Quantiser {
  return quantiser(bitsPerSample, () => 0)
}
