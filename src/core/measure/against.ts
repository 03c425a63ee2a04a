import { dbToGain } from '../units/decibel'

/** A stretch in which two sounds cancel each other: frames `from` ≤ n < `to`, and their correlation in it. */
export interface Against {
  from: number
  to: number
  correlation: number
}

/** Sounds with less than this correlation cancel each other. */
export const CANCELS = -0.3
/** Windows of so many seconds are looked at, and a stretch has at least so many of them. */
const WINDOW_SECONDS = 0.1
const LEAST_WINDOWS = 3
/** Where one of both is softer than this (RMS), nothing is said. */
const LEAST_RMS = dbToGain(-60)

/** Finds where two sounds cancel each other, over blocks of any size. */
export class AgainstMeter {
  private readonly window: number
  private readonly sums = { xy: 0, xx: 0, yy: 0, count: 0 }
  private readonly found: (Against & { xy: number; xx: number; yy: number })[] = []
  private at = 0

  constructor(sampleRate: number) {
    this.window = Math.round(WINDOW_SECONDS * sampleRate)
  }

  add(x: Float32Array, y: Float32Array): void {
    const { sums } = this
    for (let i = 0; i < x.length; i++) {
      sums.xy += x[i]! * y[i]!
      sums.xx += x[i]! * x[i]!
      sums.yy += y[i]! * y[i]!
      if (++sums.count === this.window) this.close()
    }
  }

  /** Takes so many frames in which both are silent. */
  addSilence(frames: number): void {
    const { sums } = this
    for (let left = frames; left > 0;) {
      const take = Math.min(left, this.window - sums.count)
      sums.count += take
      left -= take
      if (sums.count === this.window) this.close()
    }
  }

  private close(): void {
    const { sums, at } = this
    const { xy, xx, yy, count } = sums
    this.at += count
    Object.assign(sums, { xy: 0, xx: 0, yy: 0, count: 0 })
    const least = LEAST_RMS * LEAST_RMS * count
    if (xx < least || yy < least || xy / Math.sqrt(xx * yy) >= CANCELS) return
    const last = this.found.at(-1)
    if (last?.to === at) {
      last.to = at + count
      last.xy += xy
      last.xx += xx
      last.yy += yy
    } else this.found.push({ from: at, to: at + count, correlation: 0, xy, xx, yy })
  }

  /** The stretches, in order. */
  finish(): Against[] {
    return this.found
      .filter(({ from, to }) => to - from >= LEAST_WINDOWS * this.window)
      .map(({ from, to, xy, xx, yy }) => ({ from, to, correlation: xy / Math.sqrt(xx * yy) }))
  }
}
