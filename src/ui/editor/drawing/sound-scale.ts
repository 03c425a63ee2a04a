/** How large sound is drawn; it never changes what is heard. */
export interface SoundScale {
  /** So many times as high as it is; 1 draws full scale at the rim. */
  factor: number
  /** Whether heights are in decibels, over `DB_RANGE` below full scale, rather than linear. */
  decibels: boolean
}

export const PLAIN_SOUND: SoundScale = { factor: 1, decibels: false }

/** The range of heights in decibels: what is so far below full scale is drawn at the middle. */
const DB_RANGE = 60

export const sameScale = (a: SoundScale, b: SoundScale) => a.factor === b.factor && a.decibels === b.decibels

/** The height -1…1 at which a sample is drawn, from the middle; what would be higher is drawn at the rim. */
export function soundHeight({ factor, decibels }: SoundScale, sample: number): number {
  const size = Math.abs(sample) * factor
  if (size >= 1) return sample < 0 ? -1 : 1
  if (!decibels) return sample * factor
  const height = size <= 0 ? 0 : Math.max(0, 1 + (20 * Math.log10(size)) / DB_RANGE)
  return sample < 0 ? -height : height
}

/** Levels that a scale may name, in dB below full scale, the most useful ones first. */
const LEVELS = [0, -6, -12, -18, -24, -36, -48, -60, -3, -9, -30, -42, -54]

/**
 * The levels (dB) that a scale of so many pixels from the middle to the rim names, with their distances from the middle;
 * none closer than `least` pixels to another, or to the middle.
 */
export function soundMarks(
  scale: SoundScale,
  half: number,
  least: number,
): { db: number; fromMiddle: number }[] {
  const marks: { db: number; fromMiddle: number }[] = []
  for (const db of LEVELS) {
    const sample = 10 ** (db / 20)
    if (sample * scale.factor > 1.0001) continue
    const fromMiddle = soundHeight(scale, sample) * half
    if (fromMiddle >= least && marks.every((m) => Math.abs(m.fromMiddle - fromMiddle) >= least))
      marks.push({ db, fromMiddle })
  }
  return marks.sort((a, b) => b.fromMiddle - a.fromMiddle)
}

/** A factor in words: "×4", "×1.5"; finer than a tenth only below 1. */
export const factorWords = (factor: number) =>
  `×${factor >= 1 ? Math.round(factor * 10) / 10 : Math.round(factor * 100) / 100}`
