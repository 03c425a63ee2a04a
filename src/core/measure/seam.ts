import { standsOutDb } from './octaves'

/** Order of the linear prediction, and seconds of sound on each side that it is fitted to. */
const ORDER = 16
const FIT_SECONDS = 0.01
/** Seconds of sound on each side that a seam is measured with. */
export const SEAM_SECONDS = 0.04

/**
 * Coefficients that predict a sample from the ORDER before it, by Burg's method (J. P. Burg 1975; stable, and
 * good on short windows), with a little white noise so that a pure tone or silence is no trouble.
 */
function burg(x: Float64Array): Float64Array {
  const n = x.length
  const forward = x.slice()
  const backward = x.slice()
  let a = new Float64Array(ORDER + 1)
  a[0] = 1
  for (let m = 1; m <= ORDER; m++) {
    let numerator = 0
    let denominator = 1e-12
    for (let i = m; i < n; i++) {
      numerator += forward[i]! * backward[i - 1]!
      denominator += forward[i]! * forward[i]! + backward[i - 1]! * backward[i - 1]!
    }
    const k = (-2 * numerator) / denominator
    const next = a.slice()
    for (let i = 1; i <= m; i++) next[i] = a[i]! + k * a[m - i]!
    a = next
    for (let i = n - 1; i >= m; i--) {
      const f = forward[i]!
      forward[i] = f + k * backward[i - 1]!
      backward[i] = backward[i - 1]! + k * f
    }
  }
  return a
}

function residuals(x: Float64Array, a: Float64Array, from: number, to: number): number[] {
  const out: number[] = []
  for (let i = from; i < to; i++) {
    let sum = x[i]!
    for (let k = 1; k <= ORDER; k++) sum += a[k]! * (x[i - k] ?? 0)
    out.push(Math.abs(sum))
  }
  return out
}

const median = (list: number[]) => list.sort((a, b) => a - b)[list.length >> 1] ?? 0

/** Seconds beyond the seam over which a side that does not go on is noticed: it may bend away and not step. */
const BEYOND_SECONDS = 0.0001
/**
 * Seconds around the seam in which it has to stand out of the surprises next to it, such as those of a drum's
 * noise.
 */
const NEAR_SECONDS = 0.0015
/** Residuals are taken for at least this, so that silence is no endless surprise. */
const LEAST_RESIDUAL = 1e-9
/** Seconds around the seam whose peak a step is held against. */
const PEAK_SECONDS = 0.005

/**
 * What one direction sees: the surprise at the first sample beyond the seam, the largest soon after, and
 * those before it.
 */
interface Surprise {
  first: number
  most: number
  before: number[]
}

function surpriseAfter(known: Float64Array, beyond: Float64Array): Surprise {
  const a = burg(known)
  const joined = new Float64Array(known.length + beyond.length)
  joined.set(known)
  joined.set(beyond, known.length)
  const at = residuals(joined, a, known.length, joined.length)
  return { first: at[0]!, most: Math.max(...at), before: residuals(known, a, ORDER, known.length) }
}

/**
 * What makes a seam click, chosen on speech, drums, instruments and tones at 22 to 96 kHz: of the points
 * inside sound at most 2 % are called clicks, and of the splices that stand 6 dB out of what surrounds them
 * in some octave at least 95 %.
 *
 * The least that counts: a surprise above -60 dBFS, and a step larger than 0.1 dB of gain makes at the peak.
 */
const LEAST_SURPRISE = 0.001
const LEAST_STEP = 0.016
/** A step by itself: so many times the median residual, and so large against the largest next to it. */
const ALONE = { times: 4, near: 0.9 }
/**
 * Where it stands out in some octave by so many dB it may be less of a step: the surprise soon after it
 * counts, against the median and what is next to it, or far above the median.
 */
const HEARD = { standsDb: 4.5, times: 3.5, near: 0.8, farTimes: 9 }

/** How a seam measures. */
export interface SeamMeasure {
  /** The step that no side explains, linear. */
  jump: number
  /** How many times the median residual around it the seam surprises. */
  times: number
  clicks: boolean
}

const reversed = (x: Float64Array) => x.slice().reverse()
function peakOf(x: Float64Array): number {
  let peak = 0
  for (let i = 0; i < x.length; i++) peak = Math.max(peak, Math.abs(x[i]!))
  return peak
}

/**
 * Measures a seam between two stretches of sound of `SEAM_SECONDS` each (`before` ends and `after` begins at
 * it): linear prediction fitted to each side says how the other should begin, and the octaves say whether
 * that is heard.
 */
export function measureSeam(before: Float64Array, after: Float64Array, sampleRate: number): SeamMeasure {
  const frames = (seconds: number) => Math.max(1, Math.round(seconds * sampleRate))
  const fit = frames(FIT_SECONDS)
  const [left, right] = [before.slice(-fit), after.slice(0, fit)]
  const beyond = frames(BEYOND_SECONDS)
  const forth = surpriseAfter(left, right.slice(0, beyond))
  const back = surpriseAfter(reversed(right), reversed(left.slice(-beyond)))
  const jump = (forth.first + back.first) / 2
  const surprise = (forth.most + back.most) / 2
  const usual = Math.max(median([...forth.before, ...back.before]), LEAST_RESIDUAL)
  const times = surprise / usual
  const around = frames(PEAK_SECONDS)
  const peak = Math.max(peakOf(before.subarray(-around)), peakOf(after.subarray(0, around)))
  if (!(surprise > LEAST_SURPRISE && jump > LEAST_STEP * peak)) return { jump, times, clicks: false }
  const next = frames(NEAR_SECONDS)
  const nextTo = Math.max(LEAST_RESIDUAL, ...forth.before.slice(-next), ...back.before.slice(-next))
  if (jump / usual > ALONE.times && jump / nextTo > ALONE.near) return { jump, times, clicks: true }
  const suspect = times > HEARD.times && (surprise / nextTo > HEARD.near || times > HEARD.farTimes)
  return { jump, times, clicks: suspect && seamStandsDb(before, after, sampleRate) > HEARD.standsDb }
}

/** By how much a seam stands out of what surrounds it, in dB, in the octave in which it does so most. */
export function seamStandsDb(before: Float64Array, after: Float64Array, sampleRate: number): number {
  const sound = new Float64Array(before.length + after.length)
  sound.set(before)
  sound.set(after, before.length)
  return standsOutDb(sound, before.length, sampleRate)
}
