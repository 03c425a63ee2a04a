import { clamp } from '../units/clamp'
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
const SHORTEST = 0.25

/** What phrases are found by: K-weighted mean squares of steps of `PHRASE_STEP_SECONDS`, and how far each is a voice, 0…1. */
export interface PhraseSteps {
  powers: readonly number[]
  /** Null where what is looked for need not be a voice. */
  voicing: readonly number[] | null
}

/** From which voicing on a step is a voice, and how much of a phrase has to be: seconds, and a part of it. */
const VOICED = 0.55
const VOICED_SECONDS = 0.1
const VOICED_PART = 0.2

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
 * to the phrase; what is shorter than 0.25 s is none, nor is what has no voice in it, such as a breath or a knock.
 */
export function findPhrases(
  { powers: steps, voicing }: PhraseSteps,
  sampleRate: number,
  floorLufs: number,
): Phrase[] {
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
  const hasVoice = ({ from, to }: { from: number; to: number }) => {
    if (!voicing) return true
    const voiced = voicing.slice(from, to).filter((v) => v >= VOICED).length
    return voiced * PHRASE_STEP_SECONDS >= VOICED_SECONDS && voiced >= VOICED_PART * (to - from)
  }
  return edged
    .filter((r) => (r.to - r.from) * PHRASE_STEP_SECONDS >= SHORTEST && hasVoice(r))
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
  return clamp(median - phrase.loudness, -cutDb, boostDb) * (percent / 100)
}

/**
 * The gain thread (frames from the region's start) that gives each phrase its gain in dB. Gaps keep the gain of their
 * neighbours, so that the sound of the room does not jump with every word: from one to the other in a straight line, for as long
 * as the gap is, at least `ramp` frames. Two knots a phrase; none where no phrase is changed.
 */
export function evenOutThread(phrases: readonly Phrase[], gains: readonly number[], ramp: number): Knot[] {
  if (gains.every((gain) => Math.abs(gain) < 0.05)) return []
  return phrases.flatMap(({ from, to }, i): Knot[] => {
    // Where a gap is shorter than the ramp, that begins and ends inside the phrases.
    const inside = (gap: number) => clamp((ramp - gap) / 2, 0, (to - from) / 4)
    const first = i === 0 ? from : from + inside(from - phrases[i - 1]!.to)
    const last = i + 1 < phrases.length ? to - inside(phrases[i + 1]!.from - to) : to
    return [first, last].map((frame) => ({
      frame: Math.round(frame),
      value: dbToHeight(gains[i]!),
      shape: 'line',
      bend: 0,
    }))
  })
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
