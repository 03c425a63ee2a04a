/** Seconds of one step in which silence is looked for. */
export const SILENCE_STEP_SECONDS = 0.001

/** What counts as silence, and how much is kept around sound; lengths in seconds. */
export interface SilenceOptions {
  thresholdDb: number
  /** Kept before a sound begins and after it ends. */
  before: number
  after: number
  /** Shorter silences between two sounds stay. */
  shortest: number
}

/** A stretch of frames, `from` ≤ n < `to`. */
interface Span {
  from: number
  to: number
}

/**
 * The stretches of a region that sound, in frames from its start: where the peak of 1 ms steps (linear)
 * reaches the threshold (dBFS), with what is kept around. Silences shorter than `shortest` seconds do not
 * part them. None when all is silent.
 */
export function soundingParts(
  peaks: Float32Array,
  sampleRate: number,
  length: number,
  options: SilenceOptions,
): Span[] {
  const step = sampleRate * SILENCE_STEP_SECONDS
  const threshold = 10 ** (options.thresholdDb / 20)
  const sounding: Span[] = []
  for (let i = 0; i < peaks.length; i++) {
    if (peaks[i]! < threshold) continue
    const last = sounding.at(-1)
    if (last && (i - last.to) * SILENCE_STEP_SECONDS < options.shortest) last.to = i + 1
    else sounding.push({ from: i, to: i + 1 })
  }
  const parts: Span[] = []
  for (const s of sounding) {
    const from = Math.max(0, Math.round(s.from * step - options.before * sampleRate))
    const to = Math.min(length, Math.round(s.to * step + options.after * sampleRate))
    const last = parts.at(-1)
    if (last && from <= last.to) last.to = to
    else parts.push({ from, to })
  }
  return parts
}

/** Frames in the middle of every silence between two sounding parts: where to split. */
export const splitPoints = (parts: readonly Span[]): number[] =>
  parts.slice(1).map((p, i) => Math.round((parts[i]!.to + p.from) / 2))
