import { gainToDb } from '../units/decibel'
import { showMeasured } from '../units/typed'
import type { SoundMeasure } from './sound-meter'

/** What a delivered file has to keep: its integrated loudness within a tolerance, and a true peak that is not passed. */
export interface Target {
  name: string
  /** In LUFS, and by how many LU it may be off. */
  loudness: number
  tolerance: number
  /** In dBTP. */
  ceiling: number
}

/** The loudness of programmes for broadcasting: EBU R 128, -23 LUFS ±0.5 LU, and no more than -1 dBTP. */
export const EBU_R128: Target = { name: 'EBU R 128 programme', loudness: -23, tolerance: 0.5, ceiling: -1 }

/** Targets that are typed: from -70 to 0 LUFS and from -20 to 0 dBTP, met within half a LU. */
export const typedTarget = (loudness: number, ceiling: number): Target => ({
  name: `${showMeasured(loudness, 'LUFS')}, ${showMeasured(ceiling, 'dBTP')}`,
  loudness,
  tolerance: 0.5,
  ceiling,
})
export const TARGET_LUFS = { min: -70, max: 0 } as const
export const TARGET_DBTP = { min: -20, max: 0 } as const

/** What is asked of a file and what it has. */
export interface Requirement {
  what: 'Loudness' | 'True peak'
  asked: string
  is: string
  passes: boolean
}

const rounded = (value: number) => Math.round(value * 10) / 10

/** Whether a true peak keeps a limit: as it is told, to a tenth of a dB. */
const isUnder = (truePeakDb: number, limit: number) => rounded(truePeakDb) <= limit

/** Holds a target against what was measured; a loudness is kept to a hundredth, a true peak as it is told. */
export function judge(target: Target, measured: Pick<SoundMeasure, 'loudness' | 'truePeak'>): Requirement[] {
  const { integrated } = measured.loudness
  const truePeakDb = gainToDb(measured.truePeak)
  return [
    {
      what: 'Loudness',
      asked: `${showMeasured(target.loudness, 'LUFS')} ±${target.tolerance}`,
      is: showMeasured(rounded(integrated), 'LUFS'),
      passes: Math.abs(integrated - target.loudness) <= target.tolerance + 0.005,
    },
    {
      what: 'True peak',
      asked: `at most ${showMeasured(target.ceiling, 'dBTP')}`,
      is: showMeasured(rounded(truePeakDb), 'dBTP'),
      passes: isUnder(truePeakDb, target.ceiling),
    },
  ]
}

/** Shorter sounds have no loudness, in seconds: it is measured in blocks of 400 ms. */
export const LEAST_SECONDS = 0.4

/** The gain in dB that brings a sound to a target's loudness, and where its true peak is then; null for silence. */
export function gainFor(
  target: Target,
  measured: Pick<SoundMeasure, 'loudness' | 'truePeak'>,
): { gainDb: number; truePeakDb: number; passesCeiling: boolean } | null {
  const { integrated } = measured.loudness
  if (!Number.isFinite(integrated)) return null
  const gainDb = target.loudness - integrated
  const truePeakDb = gainToDb(measured.truePeak) + gainDb
  return { gainDb, truePeakDb, passesCeiling: !isUnder(truePeakDb, target.ceiling) }
}
