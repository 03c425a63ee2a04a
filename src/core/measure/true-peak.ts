import { PHASES, POINT_TAPS } from '../dsp/kernels/points'
import { processingKernel } from '../dsp/kernels/processing'

/** Samples looked at to each side of a point between two. */
const HALF_WIDTH = POINT_TAPS / 2

/**
 * Windowed sinc (Hann-weighted, after BS.1770-5 annex 2 with more taps), a row of taps for each point between
 * two samples.
 */
const TAPS: readonly Float64Array[] = Array.from({ length: PHASES - 1 }, (_, p) => {
  const offset = (p + 1) / PHASES
  const taps = Float64Array.from({ length: 2 * HALF_WIDTH }, (_unused, t) => {
    const distance = t - HALF_WIDTH + 1 - offset
    const window = 0.5 + 0.5 * Math.cos((Math.PI * distance) / (HALF_WIDTH + 0.5))
    return (window * Math.sin(Math.PI * distance)) / (Math.PI * distance)
  })
  const sum = taps.reduce((a, b) => a + b, 0)
  return taps.map((t) => t / sum)
})

/** The phase in the middle between two samples. */
const MIDDLE = PHASES / 2 - 1
/** Phases that are no quarters. */
const EIGHTHS = [0, 2, 4, 6]
/** What a signal passes its samples by between them at twice and at four times its rate, at most, and a little more. */
const TWICE = 1.5
const FOUR_TIMES = 1.12
/** Samples that are worked on together, and those of which it is known together how large they may be. */
const BLOCK = 256
const PART = HALF_WIDTH
const PARTS = BLOCK / PART
/** Between samples the signal cannot pass the largest of them by more than the sum of the taps' sizes. */
const MOST = TAPS.reduce(
  (most, taps) =>
    Math.max(
      most,
      taps.reduce((sum, t) => sum + Math.abs(t), 0),
    ),
  1,
)

/**
 * Measures the true peak of one channel over blocks of any size: the largest value of the signal between its
 * samples, linear. Before its first and after its last sample the signal is taken to go on as its mirror: a sound that is cut off
 * has no peak there that is not in it.
 */
export class TruePeakMeter {
  /** The last samples that were worked on, then those that wait. */
  private readonly window = new Float64Array(2 * HALF_WIDTH + BLOCK)
  /** The largest sizes of the samples of each part of the window, and of the middles that begin in it. */
  private readonly samples = new Float64Array(PARTS + 2)
  private readonly middles = new Float64Array(PARTS + 2)
  private readonly points = processingKernel().points
  private readonly table = this.points.keep(TAPS)
  private waiting = 0
  private begun = false
  private highest = 0

  add(samples: Float32Array): void {
    for (let done = 0; done < samples.length;) {
      const take = Math.min(samples.length - done, BLOCK - this.waiting)
      this.window.set(samples.subarray(done, done + take), 2 * HALF_WIDTH + this.waiting)
      this.waiting += take
      done += take
      if (this.waiting === BLOCK) this.work()
    }
  }

  /** Looks at the points between the samples of the window, of so many parts of it, and moves on by a block. */
  private work(parts = PARTS): void {
    const { window, samples } = this
    if (!this.begun) {
      for (let n = 1; n <= 2 * HALF_WIDTH; n++) window[2 * HALF_WIDTH - n] = window[2 * HALF_WIDTH + n]!
      this.begun = true
    }
    for (let part = 0; part < PARTS + 2; part++) {
      samples[part] = largestOf(window, part * PART)
      if (part >= 2 && samples[part]! > this.highest) this.highest = samples[part]!
    }
    // A point that begins in a part depends on the samples of that one and the next two.
    const near = (part: number) => Math.max(samples[part]!, samples[part + 1]!, samples[part + 2]!)
    let [first, last] = [PARTS, -1]
    for (let part = 0; part < parts; part++)
      if (near(part) * MOST > this.highest) {
        first = Math.min(first, part)
        last = part
      }
    if (last >= 0) this.lookBetween(Math.max(0, first - 1), Math.min(parts - 1, last + 1), near)
    window.copyWithin(0, BLOCK)
    this.waiting = 0
  }

  /**
   * Looks at the points that begin in some parts, first at the middles. Sampled at twice its rate a signal passes its samples by
   * 1/cos(π/4) at most between them, at four times by 1/cos(π/8): only where that could be the highest is it looked at closer.
   */
  private lookBetween(first: number, last: number, near: (part: number) => number): void {
    const { window, points, table, middles } = this
    const from = (part: number) => 1 + part * PART
    const largest = (part: number, phase: number) => {
      const size = points.largest(table, from(part), from(part + 1), phase, phase)
      if (size > this.highest) this.highest = size
      return size
    }
    points.window.set(window)
    middles.fill(0)
    for (let part = first; part <= last; part++) middles[part] = largest(part, MIDDLE)
    for (let part = first; part <= last; part++) {
      const size = Math.max(near(part), middles[part - 1] ?? 0, middles[part]!, middles[part + 1]!)
      if (size * TWICE <= this.highest) continue
      const quarters = Math.max(largest(part, 1), largest(part, PHASES - 3))
      if (Math.max(size, quarters) * FOUR_TIMES <= this.highest) continue
      for (const phase of EIGHTHS) largest(part, phase)
    }
  }

  /** The true peak of what has been worked on so far, linear: without the last few milliseconds. */
  get highestSoFar(): number {
    return this.highest
  }

  /** What was measured so far counts no more; what follows goes on from it without a step. */
  forget(): void {
    this.highest = 0
  }

  /** The true peak so far, linear. Ends the measuring. */
  peak(): number {
    const { window } = this
    const last = 2 * HALF_WIDTH + this.waiting - 1
    // Of a sound that is shorter than this nothing lies before the window.
    const first = this.begun ? 0 : 2 * HALF_WIDTH
    this.add(Float32Array.from({ length: 2 * HALF_WIDTH }, (_, n) => window[Math.max(first, last - 1 - n)]!))
    const { waiting } = this
    window.fill(0, 2 * HALF_WIDTH + waiting)
    if (waiting) this.work(Math.floor(waiting / PART))
    return this.highest
  }
}

/** The largest size of the samples of a part, from a place on. Two at a time, so that neither waits for the other. */
function largestOf(samples: Float64Array, from: number): number {
  let [even, odd] = [0, 0]
  for (let i = from; i < from + PART; i += 2) {
    even = Math.max(even, Math.abs(samples[i]!))
    odd = Math.max(odd, Math.abs(samples[i + 1]!))
  }
  return Math.max(even, odd)
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
