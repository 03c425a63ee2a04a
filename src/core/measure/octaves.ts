/**
 * Windows over which levels in octaves are taken, for telling what stands out at one moment: a short one above 1.4 kHz,
 * where a click is short, and a longer one below.
 */
interface OctaveWindow {
  /** Length of the window in seconds, and the octaves that it is used for, by their centres in Hz. */
  seconds: number
  centres: readonly number[]
}

const OCTAVE_WINDOWS: readonly OctaveWindow[] = [
  { seconds: 0.0054, centres: [500, 1000] },
  { seconds: 0.0016, centres: [2000, 4000, 8000, 16000] },
]

interface Bank {
  length: number
  window: Float64Array
  /** For every octave the cosines and sines of its lines, one after another. */
  octaves: { centre: number; cos: Float64Array[]; sin: Float64Array[] }[]
}

const banks = new Map<string, Bank>()

/**
 * The lines of the discrete Fourier transform that lie in each octave (centre/√2 … centre·√2) below 0.45 of
 * the rate.
 */
function bankOf({ seconds, centres }: OctaveWindow, sampleRate: number): Bank {
  const key = `${seconds} ${sampleRate}`
  const known = banks.get(key)
  if (known) return known
  const length = 2 * Math.round((seconds * sampleRate) / 2)
  const window = Float64Array.from(
    { length },
    (_, n) => 0.5 - 0.5 * Math.cos((2 * Math.PI * (n + 0.5)) / length),
  )
  const octaves = centres
    .filter((centre) => centre * Math.SQRT2 <= 0.5 * sampleRate * 0.97)
    .map((centre) => {
      const [first, last] = [centre / Math.SQRT2, centre * Math.SQRT2].map(
        (f) => (f * length) / sampleRate,
      ) as [number, number]
      const lines: number[] = []
      for (let k = Math.ceil(first); k < last; k++) lines.push(k)
      const wave = (f: (x: number) => number) =>
        lines.map((k) =>
          Float64Array.from({ length }, (_, n) => window[n]! * f((2 * Math.PI * k * n) / length)),
        )
      return { centre, cos: wave(Math.cos), sin: wave(Math.sin) }
    })
  const bank = { length, window, octaves }
  banks.set(key, bank)
  return bank
}

/** The energy of an octave in the window whose middle is at a frame; 1 for a sine of amplitude 1. */
function energyAt(
  sound: Float64Array,
  middle: number,
  { length }: Bank,
  { cos, sin }: Bank['octaves'][number],
): number {
  const from = Math.round(middle - length / 2)
  let energy = 0
  for (let k = 0; k < cos.length; k++) {
    const [c, s] = [cos[k]!, sin[k]!]
    let [re, im] = [0, 0]
    for (let n = 0; n < length; n++) {
      const x = sound[from + n]!
      re += x * c[n]!
      im += x * s[n]!
    }
    energy += re * re + im * im
  }
  // A window of Hann has three lines, of 1, 1/4 and 1/4 of the energy.
  return (energy * 16) / (1.5 * length * length)
}

/** What surrounds a moment reaches so far, in seconds. */
export const SURROUNDINGS_SECONDS = 0.03
/** Energies below -70 dBFS stand out of nothing. */
const LEAST = 1e-7

/**
 * By how much a moment stands out of what surrounds it, in dB, in the octave in which it does so most: the
 * energy of a window there against the mean of the windows before or after it, whichever is louder. `sound`
 * must reach `SURROUNDINGS_SECONDS` and half a window to both sides of the frame `middle`. -Infinity where
 * there is nothing to hear.
 */
export function standsOutDb(sound: Float64Array, middle: number, sampleRate: number): number {
  let most = -Infinity
  const reach = SURROUNDINGS_SECONDS * sampleRate
  for (const spec of OCTAVE_WINDOWS) {
    const bank = bankOf(spec, sampleRate)
    const hop = Math.max(1, Math.round(bank.length / 4))
    for (const octave of bank.octaves) {
      const at = Math.max(...[-hop, 0, hop].map((by) => energyAt(sound, middle + by, bank, octave)))
      if (at < LEAST) continue
      let louder = 0
      for (const side of [-1, 1]) {
        let [sum, count] = [0, 0]
        for (let away = 3 * hop; away < reach; away += hop) {
          sum += energyAt(sound, middle + side * away, bank, octave)
          count++
        }
        louder = Math.max(louder, sum / count)
      }
      most = Math.max(most, 10 * Math.log10(at / (louder + 1e-12)))
    }
  }
  return most
}
