import { clamp } from '../units/clamp'
import { levelOf, type LevelKind, type RegionMeasure } from '../measure/region-meter'
import { CLIP_GAIN_DB } from '../units/decibel'

/** A region that is to be matched. */
export interface MatchEntry {
  regionId: string
  clipGainDb: number
  measure: RegionMeasure
}

/** What is proposed for one region; levels in the unit of the kind, `peakDb` the true peak in dBTP after the change. */
export interface MatchProposal {
  regionId: string
  fromDb: number
  toDb: number
  before: number
  after: number
  peakDb: number
  /** By how much the true peak would pass the ceiling, 0 where it does not. */
  overDb: number
  /** Why the target is not reached. */
  held: 'silent' | 'too-short' | 'ceiling' | 'range' | null
}

/** How to match: to which level, and a ceiling for true peaks (dBTP) that is kept when `hold` is set. */
export interface MatchOptions {
  kind: LevelKind
  targetDb: number
  ceilingDb: number
  hold: boolean
}

const hundredths = (db: number) => Math.round(db * 100) / 100 + 0

/**
 * The clip gain at which a region has a level; the gates of loudness depend on the gain, so it is found in a
 * few rounds.
 */
function gainFor(measure: RegionMeasure, kind: LevelKind, targetDb: number): number {
  let gain = targetDb - levelOf(measure, kind, 0)
  for (let round = 0; round < 8 && Number.isFinite(gain); round++) {
    const level = levelOf(measure, kind, gain)
    if (!Number.isFinite(level)) break
    gain += targetDb - level
  }
  return gain
}

/** The clip gains that bring regions to one level, each with what it leads to. Nothing is changed. */
export function proposeMatch(
  entries: readonly MatchEntry[],
  { kind, targetDb, ceilingDb, hold }: MatchOptions,
): MatchProposal[] {
  return entries.map(({ regionId, clipGainDb, measure }) => {
    const before = levelOf(measure, kind, clipGainDb)
    const stay = (held: MatchProposal['held']): MatchProposal => ({
      regionId,
      fromDb: clipGainDb,
      toDb: clipGainDb,
      before,
      after: before,
      peakDb: levelOf(measure, 'true-peak', clipGainDb),
      overDb: 0,
      held,
    })
    if (measure.peak === 0) return stay('silent')
    const wanted = gainFor(measure, kind, targetDb)
    if (!Number.isFinite(wanted)) return stay('too-short')
    let toDb = hundredths(wanted)
    let held: MatchProposal['held'] = null
    if (hold && levelOf(measure, 'true-peak', toDb) > ceilingDb + 1e-9) {
      // Rounded down, so that the ceiling is kept.
      toDb = Math.floor((ceilingDb - levelOf(measure, 'true-peak', 0)) * 100 + 1e-6) / 100 + 0
      held = kind === 'true-peak' ? null : 'ceiling'
    }
    const limited = clamp(toDb, CLIP_GAIN_DB.min, CLIP_GAIN_DB.max)
    if (limited !== toDb) [toDb, held] = [limited, 'range']
    const peakDb = levelOf(measure, 'true-peak', toDb)
    return {
      regionId,
      fromDb: clipGainDb,
      toDb,
      before,
      after: levelOf(measure, kind, toDb),
      peakDb,
      overDb: Math.max(0, hundredths(peakDb - ceilingDb)),
      held,
    }
  })
}

/** The level that others have together: the mean of their powers, in dB. -Infinity without any. */
export function meanLevel(levels: readonly number[]): number {
  const audible = levels.filter(Number.isFinite)
  return audible.length
    ? 10 * Math.log10(audible.reduce((sum, db) => sum + 10 ** (db / 10), 0) / audible.length)
    : -Infinity
}
