import { gainToDb } from '../units/decibel'
import { showMeasured, type MeasuredUnit } from '../units/typed'
import { LevelMeter } from './levels'
import { integratedOf, LoudnessMeter } from './loudness'
import { AgainstMeter, type Against } from './against'
import { TruePeakMeter } from './true-peak'

/**
 * What a region measures as it leaves its gain stages, but at a clip gain of 0 dB, so that it holds for every
 * clip gain. Peaks and RMS are linear.
 */
export interface RegionMeasure {
  peak: number
  truePeak: number
  rms: number
  /** K-weighted mean squares of every 100 ms. */
  steps: number[]
  /** The same of left and right by themselves; null for mono. */
  sides: readonly [SideMeasure, SideMeasure] | null
  /** Stretches in which left and right cancel each other, in frames from the start; empty for mono. */
  against: Against[]
}

/** What a side measures by itself; peaks and RMS linear. */
export interface SideMeasure {
  peak: number
  rms: number
  steps: number[]
}

/** Measures a region over blocks of any size, an array a channel. */
export class RegionMeter {
  private readonly levels: LevelMeter[]
  private readonly truePeaks: TruePeakMeter[]
  /** Of each channel by itself: the powers of both are those of the whole, added. */
  private readonly loudness: LoudnessMeter[]
  private readonly against: AgainstMeter | null

  constructor(sampleRate: number, channels: number) {
    this.levels = Array.from({ length: channels }, () => new LevelMeter())
    this.truePeaks = Array.from({ length: channels }, () => new TruePeakMeter())
    this.loudness = this.levels.map(() => new LoudnessMeter(sampleRate, 1))
    this.against = channels === 2 ? new AgainstMeter(sampleRate) : null
  }

  add(block: readonly Float32Array[]): void {
    block.forEach((samples, c) => {
      this.levels[c]!.add(samples)
      this.truePeaks[c]!.add(samples)
      this.loudness[c]!.add([samples])
    })
    if (block[1]) this.against?.add(block[0]!, block[1])
  }

  /** Ends the measuring. The RMS is that of all channels together. */
  finish(): RegionMeasure {
    const levels = this.levels.map((l) => l.levels())
    const side = (c: 0 | 1): SideMeasure => ({
      peak: levels[c]!.peak,
      rms: levels[c]!.rms,
      steps: this.loudness[c]!.steps,
    })
    return {
      peak: Math.max(...levels.map((l) => l.peak)),
      truePeak: Math.max(...this.truePeaks.map((t) => t.peak())),
      rms: Math.sqrt(levels.reduce((sum, l) => sum + l.rms * l.rms, 0) / levels.length),
      steps: this.loudness[0]!.steps.map((power, i) =>
        this.loudness.reduce((sum, { steps }, c) => (c === 0 ? sum : sum + steps[i]!), power),
      ),
      sides: this.against ? [side(0), side(1)] : null,
      against: this.against?.finish() ?? [],
    }
  }
}

/** Ways to hold left against right. */
export const balanceKinds = ['loudness', 'rms', 'peak'] as const
export type BalanceKind = (typeof balanceKinds)[number]

/** By how many dB the left is louder than the right; null where one of them is silent or there are none. */
export function balanceOf({ sides }: Pick<RegionMeasure, 'sides'>, kind: BalanceKind): number | null {
  if (!sides) return null
  const [left, right] = sides.map((side) =>
    kind === 'loudness' ? integratedOf(side.steps) : gainToDb(kind === 'rms' ? side.rms : side.peak),
  )
  return Number.isFinite(left!) && Number.isFinite(right!) ? left! - right! : null
}

/** Ways to say how loud a region is. */
export const levelKinds = ['loudness', 'rms', 'peak', 'true-peak'] as const
export type LevelKind = (typeof levelKinds)[number]

/**
 * A region's level at a clip gain, in LUFS, dBFS or dBTP. -Infinity where it is silent, or for loudness
 * shorter than 400 ms.
 */
export function levelOf(measure: RegionMeasure, kind: LevelKind, clipGainDb: number): number {
  switch (kind) {
    case 'loudness':
      return integratedOf(measure.steps, clipGainDb)
    case 'rms':
      return gainToDb(measure.rms) + clipGainDb
    case 'peak':
      return gainToDb(measure.peak) + clipGainDb
    case 'true-peak':
      return gainToDb(measure.truePeak) + clipGainDb
  }
}

/** The unit in which a kind of level is said. */
export const levelUnits: Record<LevelKind, MeasuredUnit> = {
  loudness: 'LUFS',
  rms: 'dBFS',
  peak: 'dBFS',
  'true-peak': 'dBTP',
}

/** A level as shown, to a tenth of a dB, with the unit of its kind. */
export const showLevel = (db: number, kind: LevelKind): string =>
  showMeasured(Number.isFinite(db) ? Math.round(db * 10) / 10 : -Infinity, levelUnits[kind])
