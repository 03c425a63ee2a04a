import { clamp } from '../../core/units/clamp'

/** Limits and default of an opened lane's height, in pixels. */
export const LANE_HEIGHT = { min: 36, first: 64, max: 320 }

/** Limits and default of the height of a track's row, in pixels. */
export const ROW_HEIGHT = { min: 28, first: 72, max: 400 }

/** Limits of the factor by which sound is drawn larger. */
export const SOUND_FACTOR = { min: 0.25, max: 256 }

/** Limits and default of the height of the mix row, in pixels. */
export const MIX_HEIGHT = { min: 56, first: 56, max: 240 }

/** Height of the row of the mix's overload flags, which is there while there are any, in pixels. */
export const MIX_FLAGS_HEIGHT = 22

/** Height of the bench, in pixels; it takes three fifths of the editor at most, however tall the window is. */
export const BENCH_HEIGHT = { min: 120, first: 196, max: 1200 }

/** A height of a track's row within its limits, in whole pixels. */
export const rowHeightWithin = (height: number): number =>
  clamp(Math.round(height), ROW_HEIGHT.min, ROW_HEIGHT.max)

/** A factor of drawn sound within its limits. */
export const soundFactorWithin = (factor: number): number => clamp(factor, SOUND_FACTOR.min, SOUND_FACTOR.max)
