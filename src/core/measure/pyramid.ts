/** Frames per entry at the finest level of the pyramid. */
export const PYRAMID_BASE = 64
/** Every level joins this many entries of the one below. */
export const PYRAMID_STEP = 4

/** One level of a channel's picture: `min`, `max` and mean square of every `framesPerEntry` frames. */
export interface PyramidLevel {
  framesPerEntry: number
  min: Float32Array
  max: Float32Array
  meanSquare: Float32Array
}

/** The finest level of one channel; the last entry may cover fewer frames. */
export function baseLevel(samples: Float32Array): PyramidLevel {
  const entries = Math.ceil(samples.length / PYRAMID_BASE)
  const level = {
    framesPerEntry: PYRAMID_BASE,
    min: new Float32Array(entries),
    max: new Float32Array(entries),
    meanSquare: new Float32Array(entries),
  }
  for (let e = 0; e < entries; e++) {
    const from = e * PYRAMID_BASE
    const to = Math.min(samples.length, from + PYRAMID_BASE)
    let min = samples[from]!
    let max = min
    let squares = 0
    for (let i = from; i < to; i++) {
      const x = samples[i]!
      if (x < min) min = x
      if (x > max) max = x
      squares += x * x
    }
    level.min[e] = min
    level.max[e] = max
    level.meanSquare[e] = squares / (to - from)
  }
  return level
}

/** The next coarser level. */
export function coarser(level: PyramidLevel): PyramidLevel {
  const entries = Math.ceil(level.min.length / PYRAMID_STEP)
  const next = {
    framesPerEntry: level.framesPerEntry * PYRAMID_STEP,
    min: new Float32Array(entries),
    max: new Float32Array(entries),
    meanSquare: new Float32Array(entries),
  }
  for (let e = 0; e < entries; e++) {
    const from = e * PYRAMID_STEP
    const to = Math.min(level.min.length, from + PYRAMID_STEP)
    let min = Infinity
    let max = -Infinity
    let squares = 0
    for (let i = from; i < to; i++) {
      min = Math.min(min, level.min[i]!)
      max = Math.max(max, level.max[i]!)
      squares += level.meanSquare[i]!
    }
    next.min[e] = min
    next.max[e] = max
    next.meanSquare[e] = squares / (to - from)
  }
  return next
}

/** Levels from the given one up to one that has a single entry. */
export function levelsAbove(base: PyramidLevel): PyramidLevel[] {
  const levels = [base]
  while (levels[levels.length - 1]!.min.length > 1) levels.push(coarser(levels[levels.length - 1]!))
  return levels
}

/** Smallest and largest sample of a span; both 0 where the span is empty. */
export interface Extent {
  min: number
  max: number
}

/** The extent of the frames `from` ≤ n < `to` (real numbers), read from entries that touch them. */
export function extentOf(level: PyramidLevel, from: number, to: number, into: Extent): void {
  const first = Math.max(0, Math.floor(from / level.framesPerEntry))
  const last = Math.min(level.min.length, Math.max(first + 1, Math.ceil(to / level.framesPerEntry)))
  let min = Infinity
  let max = -Infinity
  for (let e = first; e < last; e++) {
    if (level.min[e]! < min) min = level.min[e]!
    if (level.max[e]! > max) max = level.max[e]!
  }
  into.min = min === Infinity ? 0 : min
  into.max = max === -Infinity ? 0 : max
}

/** Mean square of the frames from…to, by the entries that touch them. */
export function meanSquareOf(level: PyramidLevel, from: number, to: number): number {
  const first = Math.max(0, Math.floor(from / level.framesPerEntry))
  const last = Math.min(level.min.length, Math.max(first + 1, Math.ceil(to / level.framesPerEntry)))
  let sum = 0
  for (let e = first; e < last; e++) sum += level.meanSquare[e]!
  return last > first ? sum / (last - first) : 0
}
