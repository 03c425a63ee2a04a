/** What a transform of one length needs: cosines and sines, the order in which it takes samples, and a Hann window. */
interface Tables {
  cos: Float64Array
  sin: Float64Array
  order: Uint32Array
  window: Float64Array
}

const known = new Map<number, Tables>()

function tablesOf(length: number): Tables {
  const found = known.get(length)
  if (found) return found
  const bits = Math.log2(length)
  const order = Uint32Array.from({ length }, (_, n) => {
    let reversed = 0
    for (let b = 0; b < bits; b++) if (n & (1 << b)) reversed |= 1 << (bits - 1 - b)
    return reversed
  })
  const tables = {
    cos: Float64Array.from({ length: length / 2 }, (_, k) => Math.cos((2 * Math.PI * k) / length)),
    sin: Float64Array.from({ length: length / 2 }, (_, k) => Math.sin((2 * Math.PI * k) / length)),
    order,
    window: Float64Array.from({ length }, (_, n) => 0.5 - 0.5 * Math.cos((2 * Math.PI * n) / length)),
  }
  known.set(length, tables)
  return tables
}

/**
 * The power of each line of the discrete Fourier transform of samples under a Hann window, from 0 to half the sample rate: 1 for a sine of
 * full scale whose frequency is that of a line (J. W. Cooley, J. W. Tukey, 1965). `samples` are a power of two, at least 4; line k lies at
 * k / length of the sample rate. Throws a RangeError for other lengths.
 */
export function powerSpectrum(samples: ArrayLike<number>): Float64Array {
  const { length } = samples
  if (length < 4 || !Number.isInteger(Math.log2(length)))
    throw new RangeError(`a spectrum of ${length} samples: a power of two is needed`)
  const { cos, sin, order, window } = tablesOf(length)
  const re = new Float64Array(length)
  const im = new Float64Array(length)
  for (let n = 0; n < length; n++) re[order[n]!] = samples[n]! * window[n]!
  for (let half = 1; half < length; half *= 2) {
    const stride = length / (2 * half)
    for (let start = 0; start < length; start += 2 * half)
      for (let k = 0; k < half; k++) {
        const [a, b] = [start + k, start + k + half]
        const [c, s] = [cos[k * stride]!, sin[k * stride]!]
        const [x, y] = [re[b]! * c + im[b]! * s, im[b]! * c - re[b]! * s]
        re[b] = re[a]! - x
        im[b] = im[a]! - y
        re[a] = re[a]! + x
        im[a] = im[a]! + y
      }
  }
  // The window passes half of a sine's amplitude, of which half lies at the line.
  const scale = 16 / (length * length)
  return Float64Array.from({ length: length / 2 + 1 }, (_, k) => (re[k]! ** 2 + im[k]! ** 2) * scale)
}
