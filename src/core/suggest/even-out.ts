import { loudnessOf } from '../measure/loudness'
import type { Knot } from '../model/session'
import { valueAt, gainKind, insertKnot } from '../curve/knots'
import { dbToHeight, UNITY_HEIGHT } from '../units/taper'
import { noiseAndSignal } from './noise-floor'

/** Seconds of one step in which phrases are looked for. */
export const PHRASE_STEP_SECONDS = 0.02
/** Steps over which the level is smoothed, the longest gap inside a phrase, and the shortest phrase, in seconds. */
const SMOOTH = 5
const LONGEST_GAP = 0.3
const SHORTEST = 0.16

/** A phrase: frames from the region's start, and its mean loudness in LUFS. */
export interface Phrase {
  from: number
  to: number
  loudness: number
}

const mean = (list: readonly number[], from: number, to: number) => {
  let sum = 0
  for (let i = from; i < to; i++) sum += list[i]!
  return to > from ? sum / (to - from) : 0
}

/** How far below the floor an edge of a phrase may still belong to it, in LU, and for how long, in seconds. */
const EDGE_LU = 12
const EDGE = 0.12

/**
 * Finds the phrases of a sound in its K-weighted mean squares of `PHRASE_STEP_SECONDS` each: where the level,
 * over 100 ms, is above the floor (LUFS), with soft consonants at the edges. Pauses shorter than 0.3 s belong
 * to the phrase; what is shorter than 0.16 s is none.
 */
export function findPhrases(steps: readonly number[], sampleRate: number, floorLufs: number): Phrase[] {
  const frames = Math.round(sampleRate * PHRASE_STEP_SECONDS)
  const half = SMOOTH >> 1
  const reach = Math.round(EDGE / PHRASE_STEP_SECONDS)
  const runs: { from: number; to: number }[] = []
  steps.forEach((_, i) => {
    if (!(loudnessOf(mean(steps, Math.max(0, i - half), Math.min(steps.length, i + half + 1))) > floorLufs))
      return
    const last = runs.at(-1)
    if (last && (i - last.to) * PHRASE_STEP_SECONDS <= LONGEST_GAP) last.to = i + 1
    else runs.push({ from: i, to: i + 1 })
  })
  const soft = (i: number) => loudnessOf(steps[i] ?? 0) > floorLufs - EDGE_LU
  const edged = runs.map(({ from, to }, n) => {
    const [first, last] = [
      Math.max(n > 0 ? runs[n - 1]!.to : 0, from - reach),
      Math.min(runs[n + 1]?.from ?? steps.length, to + reach),
    ]
    // The smoothing reaches out of the sound; what is silent at the edges goes first.
    while (from < to && !soft(from)) from++
    while (to > from && !soft(to - 1)) to--
    while (from > first && soft(from - 1)) from--
    while (to < last && soft(to)) to++
    return { from, to }
  })
  return edged
    .filter((r) => (r.to - r.from) * PHRASE_STEP_SECONDS >= SHORTEST)
    .map((r) => ({
      from: r.from * frames,
      to: r.to * frames,
      loudness: loudnessOf(mean(steps, r.from, r.to)),
    }))
}

/** A floor (LUFS) that leaves breaths and noise under it, from the steps of a recorded voice. -70 for silence. */
export const usualFloor = (steps: readonly number[]): number =>
  noiseAndSignal(steps, PHRASE_STEP_SECONDS).floor

/** How strongly phrases are evened out: `percent` 0…100, and the most that they are raised and lowered, in dB ≥ 0. */
export interface EvenOutOptions {
  percent: number
  boostDb: number
  cutDb: number
}

/** The loudness in the middle of all phrases, in LUFS. */
export function medianLoudness(phrases: readonly Phrase[]): number {
  const sorted = phrases.map((p) => p.loudness).sort((a, b) => a - b)
  const middle = sorted.length >> 1
  return sorted.length === 0
    ? -Infinity
    : sorted.length % 2
      ? sorted[middle]!
      : (sorted[middle - 1]! + sorted[middle]!) / 2
}

/** The gain in dB for a phrase on the way to the median. */
export function phraseGain(
  phrase: Phrase,
  median: number,
  { percent, boostDb, cutDb }: EvenOutOptions,
): number {
  return Math.max(-cutDb, Math.min(boostDb, median - phrase.loudness)) * (percent / 100)
}

/**
 * The gain thread (frames from the region's start) that gives each phrase its gain in dB. What lies between
 * phrases is never raised: a raise begins and ends inside its phrase, a cut reaches `ramp` frames out of it.
 * At most four knots a phrase.
 */
export function evenOutThread(phrases: readonly Phrase[], gains: readonly number[], ramp: number): Knot[] {
  const knots: Knot[] = []
  const add = (frame: number, db: number) => {
    const last = knots.at(-1)
    if (last && frame < last.frame) return
    if (last && last.frame === frame) knots.pop()
    knots.push({ frame: Math.round(frame), value: dbToHeight(db), shape: 'line', bend: 0 })
  }
  phrases.forEach((phrase, i) => {
    const gain = gains[i]!
    if (Math.abs(gain) < 0.05) return
    const inside = Math.min(ramp, (phrase.to - phrase.from) / 4)
    const gapBefore = i === 0 ? phrase.from : phrase.from - phrases[i - 1]!.to
    const gapAfter = i + 1 < phrases.length ? phrases[i + 1]!.from - phrase.to : Infinity
    if (gain > 0) {
      add(phrase.from, 0)
      add(phrase.from + inside, gain)
      add(phrase.to - inside, gain)
      add(phrase.to, 0)
    } else {
      add(phrase.from - Math.min(ramp, gapBefore / 2), 0)
      add(phrase.from, gain)
      add(phrase.to, gain)
      add(phrase.to + Math.min(ramp, gapAfter / 2), 0)
    }
  })
  return knots
}

/** Two gain threads one after the other: their gains multiplied at the knots of both. */
export function multiplyThreads(a: readonly Knot[], b: readonly Knot[]): Knot[] {
  if (a.length === 0) return [...b]
  if (b.length === 0) return [...a]
  const kind = gainKind()
  let knots: readonly Knot[] = a
  for (const k of b) knots = insertKnot(knots, k.frame).knots
  return knots.map((k) => ({
    ...k,
    value: Math.min(1, (k.value * valueAt(kind, b, k.frame)) / UNITY_HEIGHT),
  }))
}
