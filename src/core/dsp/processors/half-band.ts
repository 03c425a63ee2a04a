import { besselI0 } from '../kaiser'

/**
 * A filter that keeps the lower half of a band, of `2·delay + 1` taps (`delay` is odd): a sinc under a Kaiser window (J. F. Kaiser, 1974).
 * Every second tap is 0 but the middle one; what is returned are the taps at odd distances 1, 3, … from it, which are the same on both
 * sides; the middle is ½.
 */
export function halfBandTaps(delay: number, beta: number): Float64Array {
  const taps = new Float64Array((delay + 1) / 2)
  for (let k = 0; k < taps.length; k++) {
    const n = 2 * k + 1
    const x = n / (delay + 1)
    const window = besselI0(beta * Math.sqrt(1 - x * x)) / besselI0(beta)
    // sin(πn/2)/(πn): the sign turns with each.
    taps[k] = ((k % 2 ? -1 : 1) * window) / (Math.PI * n)
  }
  // At 0 Hz it is exactly 1.
  let sum = 0
  for (const tap of taps) sum += 2 * tap
  for (let k = 0; k < taps.length; k++) taps[k] = (taps[k]! * 0.5) / sum
  return taps
}

/**
 * Twice as many samples: output m is that of the filter at m, `delay` after the input. `input` has `count` samples and the `delay`
 * before them, `output` takes `2·count`.
 */
export function upsample(
  input: Float64Array,
  count: number,
  taps: Float64Array,
  delay: number,
  output: Float64Array,
): void {
  // Output m is the sum of 2·h[k]·x[(m - k)/2] over even m - k; the middle tap has k = delay, which is odd.
  const middle = (delay - 1) / 2
  for (let n = 0; n < count; n++) {
    const at = delay + n
    // Even outputs: taps at even k, which lie at odd distances from the middle.
    let even = 0
    for (let j = 0; j < taps.length; j++)
      even += taps[j]! * (input[at - middle + j]! + input[at - middle - 1 - j]!)
    output[2 * n] = 2 * even
    output[2 * n + 1] = input[at - middle]!
  }
}

/** Half as many samples: output n is that of the filter at `2n`. `input` has `2·count` samples and the `2·delay` before them. */
export function downsample(
  input: Float64Array,
  count: number,
  taps: Float64Array,
  delay: number,
  output: Float64Array,
): void {
  for (let n = 0; n < count; n++) {
    const middle = delay + 2 * n
    let sum = input[middle]! / 2
    for (let j = 0; j < taps.length; j++)
      sum += taps[j]! * (input[middle + 2 * j + 1]! + input[middle - 2 * j - 1]!)
    output[n] = sum
  }
}
