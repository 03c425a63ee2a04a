import { exp, exp2Quick, LN10, log2, LOG2_OF_10, sinHalfPi } from '../../../units/exact'
import { highCutFade } from '../filters/moving-cut'
import { HIGHEST_PART, lowCut, lowShelf } from '../filters/filter-design'
import type { SectionPair } from '../filters/filter-sections'
import type { ProcessorSetup } from '../processor'

// All times are in ms at size 0.5. They and the signs below were searched for: dense echoes, and no mode that rings longer than others.

/** The delay lines, which are 0.8 to 1.2 times as long in rooms of other sizes. */
const LINE_MS = [
  124.9, 144.5, 76.3, 79.8, 139.4, 116, 128.6, 110.3, 83.2, 70.2, 63.1, 67.8, 87.7, 100.5, 92.3, 105,
] as const
/** How long each channel is held before it goes into the lines, 0.76 to 1.24 times as long in other sizes; taps as well. */
const HOLD_MS = [
  43.4, 5.7, 30.7, 0.2, 38.4, 9.4, 12.7, 17.8, 39.2, 47.6, 26.2, 28.3, 19.1, 8.4, 22.9, 34.6,
] as const
/** Where each channel takes the left side, then the right one, and whether it takes it with its polarity inverted. */
const TAP_MS = [
  0.46, 9.32, 5.6, 2.42, 12.65, 13.19, 4.4, 4.25, 0.91, 11.46, 7.84, 6.81, 3.27, 10.56, 8.13, 9.93, 11.87,
  5.58, 12.79, 7.74, 1.98, 6.87, 13.75, 2.89, 8.81, 8.27, 4.67, 4.35, 0.48, 1.11, 9.65, 10.72,
] as const
const INVERTED = [
  0, 0, 1, 1, 1, 0, 1, 0, 1, 1, 1, 1, 1, 0, 1, 0, 1, 0, 1, 0, 1, 0, 0, 0, 0, 0, 0, 0, 0, 1, 1, 1,
] as const

/** At this frequency the decay is that which is asked for. */
const AT_HZ = 1000
/** What lies below it sounds on so many times as long at most, where damping is low. */
const LONGEST_PART = 4
/** The most that a line's low pass takes away at the damping, in dB. */
const MOST_DAMPING_DB = 24
/** The low cut of a line of 50 ms; that of others is in proportion to the root of their length, so that all lose alike. */
const LINE_CUT_HZ = 10
/** Below this both sides are the same: as in any room, ears are near to each other beside such waves. */
const MONO_BELOW_HZ = 250
/** Nothing lower is heard. */
const LOW_CUT_HZ = 20

/** How far back everything in a room lies, in frames. */
export interface RoomReach {
  readonly preDelay: number
  readonly lines: readonly number[]
  readonly holds: readonly number[]
  /** Of both sides, one after the other. */
  readonly taps: readonly number[]
  /** What the low cut of each line takes in with each frame. */
  readonly cuts: readonly number[]
}

export function roomReach({ values, sampleRate }: ProcessorSetup): RoomReach {
  const size = values.size!.still
  const frames = (ms: readonly number[], scale: number) =>
    ms.map((time) => Math.round((time / 1000) * scale * sampleRate))
  const lines = frames(LINE_MS, 0.8 + 0.4 * size)
  return {
    preDelay: Math.round((values.preDelayMs!.still / 1000) * sampleRate),
    lines,
    holds: frames(HOLD_MS, 0.76 + 0.48 * size),
    taps: frames(TAP_MS, 0.76 + 0.48 * size),
    cuts: lines.map((line) => 1 - exp((-2 * Math.PI * lineCutHz(line, sampleRate)) / sampleRate)),
  }
}

export const sameReach = (a: RoomReach, b: RoomReach): boolean =>
  a.preDelay === b.preDelay && a.lines.every((frames, n) => frames === b.lines[n])

/** Between two of them, for the filters of lines that go over from one to the other: `part` is 0…1. */
export function reachBetween(a: RoomReach, b: RoomReach, part: number): RoomReach {
  const between = (from: readonly number[], to: readonly number[]) =>
    from.map((x, n) => x + (to[n]! - x) * part)
  return {
    preDelay: b.preDelay,
    lines: between(a.lines, b.lines),
    holds: between(a.holds, b.holds),
    taps: b.taps,
    cuts: between(a.cuts, b.cuts),
  }
}

/** The part of the level that is left after some frames of a decay of 60 dB in `decay` frames. */
export const leftAfter = (frames: number, decay: number): number =>
  exp2Quick((-3 * LOG2_OF_10 * frames) / decay)

/** By how much a tap is multiplied: as if what it takes had decayed meanwhile. */
export const tapWeight = (tap: number, frames: number, decay: number): number =>
  (INVERTED[tap] ? -0.25 : 0.25) * leftAfter(frames, decay)

/** `1 - cos w` at a frequency. */
function roundness(hz: number, sampleRate: number): number {
  const sine = sinHalfPi(2 * Math.min(hz / sampleRate, HIGHEST_PART))
  return 2 * sine * sine
}

/** How sound dies at one moment. */
export interface RoomDecay {
  /** At 1 kHz, in frames. */
  readonly frames: number
  /** At low frequencies, but for what the filters of lines cannot follow. */
  readonly low: number
  /** How much of the damping there is, 0…1, and `1 - cos w` at it and at 1 kHz. */
  readonly damped: number
  readonly atDamping: number
  readonly at1kHz: number
}

/**
 * A decay by T60 at 1 kHz, in s, and the frequency at which sound dies twice as fast as low sound: losses rise in proportion to
 * `1 - cos w`, as those of a low pass of first order do while they are small.
 */
export function roomDecay(seconds: number, dampingHz: number, sampleRate: number): RoomDecay {
  const damped = highCutFade(dampingHz)
  const atDamping = roundness(dampingHz, sampleRate)
  const at1kHz = roundness(AT_HZ, sampleRate)
  const frames = seconds * sampleRate
  const low = frames * Math.min(LONGEST_PART, 1 + (damped * at1kHz) / atDamping)
  return { frames, low, damped, atDamping, at1kHz }
}

/** The low pass of a line of so many frames: what it keeps of what it put out, and what it takes of what comes in. */
export function lineFilter(line: number, decay: RoomDecay): { keep: number; take: number } {
  // |H|² of a low pass with a pole at p is 1 / (1 + q·(1 - cos w)), q = 2p/(1 - p)².
  const loss = Math.min(MOST_DAMPING_DB, (60 * line * decay.damped) / decay.low)
  const q = (exp2Quick((loss / 10) * LOG2_OF_10) - 1) / decay.atDamping
  const keep = q / (1 + q + Math.sqrt(1 + 2 * q))
  const asked = leftAfter(line, decay.frames) * Math.sqrt(1 + q * decay.at1kHz)
  const most = leftAfter(line, decay.frames * LONGEST_PART)
  return { keep, take: (1 - keep) * Math.min(asked, most) }
}

/** The longest decay that any frequency has anywhere in a session, in s. */
export function longestDecay({ values, sampleRate }: ProcessorSetup, lines: readonly number[]): number {
  const decay = roomDecay(values.decaySeconds!.range().max, values.dampingHz!.range().min, sampleRate)
  const seconds = lines.map((line) => {
    const { keep, take } = lineFilter(line, decay)
    return (-3 * LOG2_OF_10 * line) / log2(take / (1 - keep)) / sampleRate
  })
  return Math.max(...seconds)
}

/** How fast `longestDecay` falls, in 1/s. */
export const decayRate = (seconds: number): number => (3 * LN10) / seconds

/** The frequency of the low cut of a line. */
export const lineCutHz = (line: number, sampleRate: number): number =>
  LINE_CUT_HZ * Math.sqrt(line / sampleRate / 0.05)

/**
 * What the side and the mid pass at last: the side a low cut of fourth order; the mid a shelf of 4.5 dB, so that low sound is as loud as
 * the other, and a low cut.
 */
export function toneOf(sampleRate: number): readonly SectionPair[] {
  const [first, second] = lowCut(MONO_BELOW_HZ, 4, sampleRate)
  const shelf = lowShelf(MONO_BELOW_HZ, 4.5, Math.SQRT1_2, sampleRate)
  return [
    [first!, shelf],
    [second!, lowCut(LOW_CUT_HZ, 2, sampleRate)[0]!],
  ]
}

/** The last low cut rings longest: as a filter at this frequency, times that damping. */
export const TONE_RINGS = { hz: LOW_CUT_HZ, damping: Math.SQRT1_2 } as const
