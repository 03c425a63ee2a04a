/**
 * Samples looked at to each side of a point between two, and points looked at from one sample to the next (8×
 * oversampling).
 */
const HALF_WIDTH = 16
const PHASES = 8

/**
 * Windowed sinc (Hann-weighted, after BS.1770-5 annex 2 with more taps), a row of taps for each point between
 * two samples.
 */
const TAPS: Float64Array[] = Array.from({ length: PHASES - 1 }, (_, p) => {
  const offset = (p + 1) / PHASES
  const taps = Float64Array.from({ length: 2 * HALF_WIDTH }, (_unused, t) => {
    const distance = t - HALF_WIDTH + 1 - offset
    const window = 0.5 + 0.5 * Math.cos((Math.PI * distance) / (HALF_WIDTH + 0.5))
    return (window * Math.sin(Math.PI * distance)) / (Math.PI * distance)
  })
  const sum = taps.reduce((a, b) => a + b, 0)
  return taps.map((t) => t / sum)
})

/** Samples that are worked on together. */
const BLOCK = 64
/** Between samples the signal cannot pass the largest of them by more than the sum of the taps' sizes. */
const MOST = TAPS.reduce(
  (most, taps) =>
    Math.max(
      most,
      taps.reduce((sum, t) => sum + Math.abs(t), 0),
    ),
  1,
)

/** The size of the signal at one of the points between the two samples in the middle of the window from `at` on. */
function between(taps: Float64Array, window: Float64Array, at: number): number {
  let sum = 0
  for (let t = 0; t < 2 * HALF_WIDTH; t++) sum += taps[t]! * window[at + t]!
  return sum < 0 ? -sum : sum
}

/**
 * Measures the true peak of one channel over blocks of any size: the largest value of the signal between its
 * samples, linear.
 */
export class TruePeakMeter {
  /** The last samples that were worked on, then those that wait. */
  private readonly window = new Float64Array(2 * HALF_WIDTH + BLOCK)
  private readonly middles = new Float64Array(BLOCK + 1)
  private waiting = 0
  private highest = 0

  add(samples: Float32Array): void {
    for (let done = 0; done < samples.length;) {
      const take = Math.min(samples.length - done, BLOCK - this.waiting)
      for (let i = 0; i < take; i++) this.window[2 * HALF_WIDTH + this.waiting + i] = samples[done + i]!
      this.waiting += take
      done += take
      if (this.waiting === BLOCK) this.work()
    }
  }

  /** Looks at the points between the samples of the window, and moves on by what was waiting. */
  private work(): void {
    const { window, middles, waiting } = this
    let largest = 0
    for (let i = 0; i < 2 * HALF_WIDTH + waiting; i++) {
      const x = Math.abs(window[i]!)
      if (x > largest) largest = x
    }
    if (largest * MOST > this.highest) {
      for (let i = 2 * HALF_WIDTH; i < 2 * HALF_WIDTH + waiting; i++)
        this.highest = Math.max(this.highest, Math.abs(window[i]!))
      for (let i = 1; i <= waiting; i++)
        this.highest = Math.max(this.highest, (middles[i] = between(TAPS[PHASES / 2 - 1]!, window, i)))
      // Sampled at twice its rate, a signal passes its samples by √2 at most between them; only where that
      // could be the highest is it looked at closer.
      for (let i = 1; i <= waiting; i++) {
        const at = i + HALF_WIDTH - 1
        let near = Math.max(middles[i]!, middles[Math.max(1, i - 1)]!, middles[Math.min(waiting, i + 1)]!)
        for (let n = at - 1; n <= at + 2; n++) near = Math.max(near, Math.abs(window[n]!))
        if (near * 1.5 > this.highest)
          for (const taps of TAPS) this.highest = Math.max(this.highest, between(taps, window, i))
      }
    }
    window.copyWithin(0, waiting, 2 * HALF_WIDTH + waiting)
    this.waiting = 0
  }

  /** The true peak so far, linear. Ends the measuring: what follows the last sample is taken as silence. */
  peak(): number {
    this.add(new Float32Array(HALF_WIDTH))
    if (this.waiting) this.work()
    return this.highest
  }
}

/** Gathers the correlation of two channels: `E[xy]/sqrt(E[x²]E[y²])`, 0 where one is silent. */
export class CorrelationMeter {
  private xy = 0
  private xx = 0
  private yy = 0

  add(x: Float32Array, y: Float32Array): void {
    for (let i = 0; i < x.length; i++) {
      this.xy += x[i]! * y[i]!
      this.xx += x[i]! * x[i]!
      this.yy += y[i]! * y[i]!
    }
  }

  correlation(): number {
    return this.xx > 0 && this.yy > 0 ? this.xy / Math.sqrt(this.xx * this.yy) : 0
  }
}
