import type { FileChange } from '../model/file-change'
import { gainToDb } from '../units/decibel'
import type { SoundMeasure } from './sound-meter'
import { gainFor, judge, type Target } from './target'

/** A change of the file that is offered, and what comes of it as far as that is known without measuring. */
export interface OfferedChange {
  change: FileChange | null
  /** The loudness in LUFS and true peak in dBTP that it leads to; null where only measuring tells. */
  leadsTo: { loudness: number; truePeakDb: number } | null
  /** By how many dB its ceiling turns down, at most; null without one. */
  turnsDownDb: number | null
}

const hundredths = (db: number) => Math.round(db * 100) / 100
const tenths = (db: number) => Math.round(db * 10) / 10

/**
 * The changes of a file that lead to a target, from what was measured of it with a change already: none, that change, one gain, and,
 * where its true peak would be too high, the gain with a ceiling. Silence is offered nothing but to stay as it is.
 */
export function changesTowards(
  target: Target,
  measured: Pick<SoundMeasure, 'loudness' | 'truePeak'>,
  made: FileChange | null,
): OfferedChange[] {
  const offer = gainFor(target, measured)
  const is = { loudness: measured.loudness.integrated, truePeakDb: gainToDb(measured.truePeak) }
  const before = made?.gainDb ?? 0
  const limited = made !== null && made.ceilingDbtp !== null
  const none: OfferedChange = {
    change: null,
    leadsTo: !limited ? { loudness: is.loudness - before, truePeakDb: is.truePeakDb - before } : null,
    turnsDownDb: null,
  }
  if (!offer) return [none]
  const [loudnessIs] = judge(target, measured)
  const offered = [none]
  const gainDb = hundredths(before + (loudnessIs!.passes ? 0 : offer.gainDb))
  const by = gainDb - before
  const after = { loudness: is.loudness + by, truePeakDb: is.truePeakDb + by }
  if (!limited) {
    if (gainDb !== 0)
      offered.push({ change: { gainDb, ceilingDbtp: null }, leadsTo: after, turnsDownDb: null })
    if (tenths(after.truePeakDb) > target.ceiling)
      offered.push({
        change: { gainDb, ceilingDbtp: target.ceiling },
        leadsTo: null,
        turnsDownDb: after.truePeakDb - target.ceiling,
      })
    return offered
  }
  offered.push({ change: made, leadsTo: is, turnsDownDb: null })
  if (by !== 0 || made.ceilingDbtp !== target.ceiling)
    offered.push({ change: { gainDb, ceilingDbtp: target.ceiling }, leadsTo: null, turnsDownDb: null })
  return offered
}
