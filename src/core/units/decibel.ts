import { exp10 } from './exact'

/** Linear gain of a level in dB, `10^(dB/20)`. -Infinity gives 0 (silence), 0 gives exactly 1. */
export function dbToGain(db: number): number {
  return db === -Infinity ? 0 : exp10(db / 20)
}

/** Level in dB of a linear gain or amplitude ≥ 0; 0 gives -Infinity. For showing and measuring, not for rendering. */
export function gainToDb(gain: number): number {
  return 20 * Math.log10(gain)
}

/** The range of a region's static clip gain, in dB. */
export const CLIP_GAIN_DB = { min: -72, max: 36 } as const

/** The range of a fader, in dB; silence lies below it. */
export const FADER_DB = { min: -72, max: 12 } as const
