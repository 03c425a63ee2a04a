/** A number within limits; with limits that cross, the lower one. NaN stays NaN. */
export const clamp = (x: number, min: number, max: number): number => Math.max(min, Math.min(max, x))
