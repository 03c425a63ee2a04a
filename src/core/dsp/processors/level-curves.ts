/** The values of a compressor, or of one of its like, that its steady curve depends on; dB, `ratio` to 1. */
export interface StaticReduction {
  thresholdDb: number
  ratio: number
  kneeDb: number
  maxReductionDb: number
}

/**
 * By how many dB (≥ 0) a steady level in dB is turned down: D. Giannoulis, M. Massberg, J. D. Reiss, JAES 60(6), 2012, eq. 4, and no
 * more than `maxReductionDb`.
 */
export function reductionOfLevel(
  levelDb: number,
  { thresholdDb, ratio, kneeDb, maxReductionDb }: StaticReduction,
): number {
  const over = levelDb - thresholdDb
  const slope = 1 - 1 / ratio
  const half = kneeDb / 2
  const asked =
    over <= -half ? 0 : over >= half ? slope * over : (slope * (over + half) * (over + half)) / (2 * kneeDb)
  return Math.min(maxReductionDb, asked)
}

/** By how many dB (≥ 0) a gate that is closed turns a steady level in dB down. */
export const gateReductionOfLevel = (
  levelDb: number,
  { thresholdDb, ratio, rangeDb }: { thresholdDb: number; ratio: number; rangeDb: number },
): number => Math.min(rangeDb, Math.max(0, thresholdDb - levelDb) * (ratio - 1))
