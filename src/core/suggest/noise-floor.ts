import { loudnessOf } from '../measure/loudness'

/** What is soft in a sound and what is meant to be heard, in LUFS. */
export interface NoiseAndSignal {
  /** The level of the steady sound between what is meant; null where there is silence, or nothing steady. */
  noise: number | null
  /** The level of what is meant; null where there is nothing but silence. */
  signal: number | null
  /** Proposed threshold between both. */
  floor: number
  /** Whether the two are so far apart that what is meant can be told from the noise. */
  apart: boolean
}

/** Levels below this count as silence, in LUFS. */
const SILENCE = -70
/** Where so much of a sound is silent, its pauses are: there is no noise in them. */
const SILENT_SHARE = 0.1
/** Seconds over which levels are taken. */
const WINDOW_SECONDS = 0.1
/** By how much noise passes its own middle level within a window now and then, with a little to spare, in LU. */
const MARGIN = 3.5
/** How far what is meant may lie under its level: soft words and ends of notes, and above breaths. In LU. */
const REACH = 18
/** How far apart noise and signal have to be, in LU. */
const APART = 9
/** Noise is steady: so large a part of the lower levels lies within so many LU. */
const STEADY_PART = 0.25
const STEADY = 2

const middleOf = (sorted: readonly number[], part: number) =>
  sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * part))]!

/**
 * Where to divide sorted levels into two groups so that the variance between the groups is largest (N. Otsu,
 * "A Threshold Selection Method from Gray-Level Histograms", 1979): how many are in the lower one.
 */
function lowerGroup(sorted: readonly number[]): number {
  const total = sorted.reduce((a, b) => a + b, 0)
  let [best, bestAt, sum] = [0, 0, 0]
  for (let i = 1; i < sorted.length; i++) {
    sum += sorted[i - 1]!
    const [low, high] = [sum / i, (total - sum) / (sorted.length - i)]
    const between = i * (sorted.length - i) * (high - low) ** 2
    if (between > best) {
      best = between
      bestAt = i
    }
  }
  return bestAt
}

/** Levels in LUFS over windows of 100 ms, one for each step. */
export function windowLevels(steps: readonly number[], stepSeconds: number): number[] {
  const half = Math.max(0, Math.round(WINDOW_SECONDS / stepSeconds / 2 - 0.5))
  const sums = new Float64Array(steps.length + 1)
  for (let i = 0; i < steps.length; i++) sums[i + 1] = sums[i]! + steps[i]!
  return steps.map((_, i) => {
    const [from, to] = [Math.max(0, i - half), Math.min(steps.length, i + half + 1)]
    return loudnessOf(Math.max(0, sums[to]! - sums[from]!) / (to - from))
  })
}

/**
 * Tells noise from what is meant by the levels of a sound, given as K-weighted mean squares of steps of
 * `stepSeconds`. The levels are divided into two groups; the lower one is noise where it is steady and the
 * signal stands out of it.
 */
export function noiseAndSignal(steps: readonly number[], stepSeconds: number): NoiseAndSignal {
  const sorted = windowLevels(steps, stepSeconds)
    .filter((level) => level > SILENCE)
    .sort((a, b) => a - b)
  const pausesAreSilent = sorted.length <= steps.length * (1 - SILENT_SHARE)
  if (sorted.length === 0) return { noise: null, signal: null, floor: SILENCE, apart: true }
  const low = lowerGroup(sorted)
  const signal = levelOf(pausesAreSilent ? sorted : sorted.slice(low))
  const noise = low > 0 && !pausesAreSilent ? steadyLevel(sorted.slice(0, low)) : null
  const underSignal = signal - REACH
  if (noise === null) return { noise, signal, floor: rounded(underSignal), apart: true }
  return {
    noise,
    signal,
    floor: rounded(Math.max(underSignal, noise + MARGIN)),
    apart: signal - noise >= APART,
  }
}

const rounded = (floor: number) => Math.max(SILENCE, Math.round(floor * 10) / 10)

/** The level of the mean power of levels. */
function levelOf(levels: readonly number[]): number {
  const power = levels.reduce((sum, level) => sum + 10 ** (level / 10), 0) / levels.length
  return 10 * Math.log10(power)
}

/**
 * The level at which the lower levels crowd; null where they do not. Levels that only pass through on the way
 * from a word to silence are spread out, those of noise lie together.
 */
function steadyLevel(sorted: readonly number[]): number | null {
  // The shortest stretch that holds so many.
  const count = Math.max(1, Math.floor(sorted.length * STEADY_PART))
  let [best, at] = [Infinity, 0]
  for (let i = 0; i + count <= sorted.length; i++) {
    const width = sorted[i + count - 1]! - sorted[i]!
    if (width < best) [best, at] = [width, i]
  }
  return best <= STEADY ? middleOf(sorted.slice(at, at + count), 0.5) : null
}
