import type { Overload } from '../../../engine/background'

/** Overloads of one track or of the mix that are shown, or lowered, as one: with the worst of their peaks. */
export interface MergedOverload extends Overload {
  count: number
}

/** Overloads in the order of time, those closer than so many frames as one. */
export function mergedOverloads(overloads: readonly Overload[], withinFrames: number): MergedOverload[] {
  const merged: MergedOverload[] = []
  for (const o of [...overloads].sort((a, b) => a.from - b.from)) {
    const last = merged.at(-1)
    if (last && last.trackId === o.trackId && o.from - last.to < withinFrames) {
      last.to = Math.max(last.to, o.to)
      last.peak = Math.max(last.peak, o.peak)
      last.count++
    } else merged.push({ ...o, count: 1 })
  }
  return merged
}

/** The overload after or before a frame; null without one there. */
export const overloadBeside = <T extends Overload>(
  overloads: readonly T[],
  frame: number,
  direction: 1 | -1,
): T | null =>
  (direction === 1
    ? overloads.find((o) => o.from > frame + 1)
    : overloads.findLast((o) => o.from < frame - 1)) ?? null
