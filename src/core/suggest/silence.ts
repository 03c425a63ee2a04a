import { clamp } from '../units/clamp'
import { together } from '../model/groups'
import type { Session } from '../model/session'
import { noiseAndSignal } from './noise-floor'

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

/** The threshold where a sound has no room tone, in dBFS. */
export const USUAL_THRESHOLD_DB = -54
/** By how much the peaks of steady noise stay below, in dB, above the mean square of its millisecond peaks. */
const ABOVE_ROOM_DB = 8
/** Highest and lowest threshold, in dBFS. */
export const THRESHOLD_DB = { min: -90, max: -6 }

/**
 * A threshold (dBFS) just above the room tone between what is meant, from the peaks of 1 ms steps (linear), and the peaks of the
 * room tone (dBFS); null where there is none, and the threshold is the usual one.
 */
export function proposedThreshold(peaks: Float32Array): { thresholdDb: number; roomDb: number | null } {
  const { noise, apart } = noiseAndSignal(
    Array.from(peaks, (p) => p * p),
    SILENCE_STEP_SECONDS,
  )
  if (noise === null || !apart) return { thresholdDb: USUAL_THRESHOLD_DB, roomDb: null }
  // Loudness of a mean square is 0.691 lower than its level.
  const roomDb = noise + 0.691
  const thresholdDb = clamp(Math.round(roomDb + ABOVE_ROOM_DB), THRESHOLD_DB.min, THRESHOLD_DB.max)
  return { thresholdDb, roomDb }
}

/** Stretches in which at least one of several lists has one, sorted and apart. */
export function unitedSpans(lists: readonly (readonly Span[])[]): Span[] {
  const all = lists.flat().sort((a, b) => a.from - b.from)
  const united: Span[] = []
  for (const { from, to } of all) {
    const last = united.at(-1)
    if (last && from <= last.to) last.to = Math.max(last.to, to)
    else united.push({ from, to })
  }
  return united
}

/**
 * The sounding parts of regions in session frames, from the peaks of each; regions that are all silent have none. Regions that
 * belong together by a group share theirs: they are silent where all of them are.
 */
export function soundingRegions(
  session: Session,
  peaks: ReadonlyMap<string, Float32Array>,
  options: SilenceOptions,
): Map<string, Span[]> {
  const found = new Map<string, Span[]>()
  for (const [id, list] of peaks) {
    const region = session.regions[id]
    if (!region) continue
    const parts = soundingParts(list, session.sampleRate, region.length, options)
    found.set(
      id,
      parts.map(({ from, to }) => ({ from: region.start + from, to: region.start + to })),
    )
  }
  const shared = new Map<string, Span[]>()
  for (const id of found.keys()) {
    const members = together(session, [id]).regionIds.filter((other) => found.has(other))
    const { start, length } = session.regions[id]!
    const parts = unitedSpans(members.map((other) => found.get(other)!))
      .map(({ from, to }) => ({ from: Math.max(from, start), to: Math.min(to, start + length) }))
      .filter(({ from, to }) => to > from)
    shared.set(id, parts)
  }
  return shared
}

/** Frames in the middle of every silence between two sounding parts: where to split. */
export const splitPoints = (parts: readonly Span[]): number[] =>
  parts.slice(1).map((p, i) => Math.round((parts[i]!.to + p.from) / 2))
