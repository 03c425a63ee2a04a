import { dbToGain, gainToDb } from './decibel'

/** The gain at the top of every gain lane, +12 dB. */
const TOP_GAIN = dbToGain(12)

/** The height of 0 dB, `10^(-12/60)` = 0.63096. */
export const UNITY_HEIGHT = dbToGain(-4)

/** Linear gain of a height 0…1: `10^(12/20)·h³`. Height 0 is true silence. */
export function heightToGain(height: number): number {
  return height * height * height * TOP_GAIN
}

/** The taper times a factor that stays: `scaledTop(factor)·h³`, which loops compute so. */
export const scaledTop = (factor: number): number => TOP_GAIN * factor

/** Height 0…1 of a level in dB, the exact inverse of the taper; above +12 dB it is 1, -Infinity gives 0. */
export function dbToHeight(db: number): number {
  return Math.min(1, dbToGain((db - 12) / 3))
}

/** Level in dB of a height 0…1; height 0 gives -Infinity. */
export function heightToDb(height: number): number {
  return 12 + 3 * gainToDb(height)
}

/** Turns `count` heights into gains, in place. */
export function fillGains(heights: Float64Array, count: number): void {
  const top = TOP_GAIN
  for (let i = 0; i < count; i++) {
    const height = heights[i]!
    heights[i] = height * height * height * top
  }
}
