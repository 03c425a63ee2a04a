/** One change of tempo or metre: from `beat` (counted from the start, in quarter notes) on. */
export interface TempoChange {
  beat: number
  bpm: number
  beatsPerBar: number
  beatUnit: number
}

/** Where a moment lies in bars and beats, both counted from 1; `fraction` is the part of the beat passed, 0…1. */
export interface BarPosition {
  bar: number
  beat: number
  fraction: number
}

const quartersPerBar = (change: TempoChange) => (change.beatsPerBar * 4) / change.beatUnit

/**
 * Frame of a beat (quarter notes from the start, any real number ≥ 0) at a session rate in Hz, rounded once
 * from the exact position, so that beats far from the start are not off by accumulated rounding.
 */
export function beatToFrame(tempo: readonly TempoChange[], sampleRate: number, beat: number): number {
  return Math.round(beatToSeconds(tempo, beat) * sampleRate)
}

/** Seconds from the start to a beat in quarter notes. */
export function beatToSeconds(tempo: readonly TempoChange[], beat: number): number {
  let seconds = 0
  for (let i = 0; i < tempo.length; i++) {
    const change = tempo[i]!
    const next = tempo[i + 1]
    if (!next || beat < next.beat) return seconds + ((beat - change.beat) * 60) / change.bpm
    seconds += ((next.beat - change.beat) * 60) / change.bpm
  }
  return seconds
}

/** Beat (quarter notes from the start) of a time in seconds, the inverse of `beatToSeconds`. */
export function secondsToBeat(tempo: readonly TempoChange[], seconds: number): number {
  let from = 0
  for (let i = 0; i < tempo.length; i++) {
    const change = tempo[i]!
    const next = tempo[i + 1]
    const length = next ? ((next.beat - change.beat) * 60) / change.bpm : Infinity
    if (seconds < from + length) return change.beat + ((seconds - from) * change.bpm) / 60
    from += length
  }
  return 0
}

/** Bar, beat of the bar and fraction of the beat at a beat position in quarter notes. */
export function barPosition(tempo: readonly TempoChange[], quarter: number): BarPosition {
  let bar = 1
  for (let i = 0; i < tempo.length; i++) {
    const change = tempo[i]!
    const next = tempo[i + 1]
    const perBar = quartersPerBar(change)
    if (next && quarter >= next.beat) {
      bar += Math.ceil((next.beat - change.beat) / perBar - 1e-9)
      continue
    }
    // A hair is added so that a position computed from a rounded frame does not fall into the beat before.
    const within = quarter - change.beat + 1e-6
    const barsPassed = Math.floor(within / perBar)
    const beats = ((within - barsPassed * perBar) * change.beatUnit) / 4
    return {
      bar: bar + barsPassed,
      beat: Math.floor(beats) + 1,
      fraction: Math.max(0, beats - Math.floor(beats) - 1e-6),
    }
  }
  return { bar, beat: 1, fraction: 0 }
}

/**
 * Bar, beat of the bar and fraction of the beat at a frame. The frame of a beat is rounded, so up to half a frame before it counts
 * as the beat: what stands on the line of bar 2 is at bar 2.
 */
export const barAtFrame = (tempo: readonly TempoChange[], sampleRate: number, frame: number): BarPosition =>
  barPosition(tempo, secondsToBeat(tempo, (frame + 0.5) / sampleRate))

/** Beat position (quarter notes) at which a bar, counted from 1, begins. */
export function barToBeat(tempo: readonly TempoChange[], bar: number): number {
  let first = 1
  for (let i = 0; i < tempo.length; i++) {
    const change = tempo[i]!
    const next = tempo[i + 1]
    const perBar = quartersPerBar(change)
    const bars = next ? Math.ceil((next.beat - change.beat) / perBar - 1e-9) : Infinity
    if (bar < first + bars) return change.beat + (bar - first) * perBar
    first += bars
  }
  return 0
}
