import { PHASES, POINT_PART, POINT_TAPS, ROUGH_PARTS, ROUGHLY, type Points } from '../dsp/kernels/points'
import { processingKernel } from '../dsp/kernels/processing'
import { METER_TAPS, raiseToTops } from '../dsp/peak-tops'

/** Samples looked at to each side of a point between two. */
const HALF_WIDTH = POINT_TAPS / 2

/** By how much a parabola through three points can be higher than the highest of them: less than a sine of half the rate. */
const MOST_RAISE = 1.02

/** Samples that are worked on together, and those of which it is known together how large they may be. */
const PART = POINT_PART
const PARTS = ROUGH_PARTS
const POINTS_AT_ONCE = PARTS * PART
/** Between samples the signal cannot pass the largest of them by more than the sum of the taps' sizes. */
const MOST = METER_TAPS.reduce(
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
  private readonly window = new Float32Array(2 * HALF_WIDTH + POINTS_AT_ONCE)
  private readonly points = processingKernel().points
  private readonly table = this.points.keep(METER_TAPS)
  private readonly peaks = new Float64Array(POINTS_AT_ONCE)
  private waiting = 0
  private begun = false
  private highest = 0

  private silence = 0

  /** Takes the next samples; `silent` where they are known to be zeros: once the window has no others, they can be left out. */
  add(samples: Float32Array, silent = false): void {
    if (silent && this.silence > this.window.length) return
    this.silence = silent ? this.silence + samples.length : 0
    for (let done = 0; done < samples.length;) {
      const take = Math.min(samples.length - done, POINTS_AT_ONCE - this.waiting)
      this.window.set(samples.subarray(done, done + take), 2 * HALF_WIDTH + this.waiting)
      this.waiting += take
      done += take
      if (this.waiting === POINTS_AT_ONCE) this.work()
    }
  }

  /** Looks at the points between the samples of the window, of so many parts of it, and moves on by a block. */
  private work(parts = PARTS): void {
    const { window, points } = this
    const { rough } = points
    if (!this.begun) {
      for (let n = 1; n <= 2 * HALF_WIDTH; n++) window[2 * HALF_WIDTH - n] = window[2 * HALF_WIDTH + n]!
      this.begun = true
    }
    rough.window.set(window)
    rough.measure()
    const { samples } = rough
    for (let part = 2; part < PARTS + 2; part++)
      if (samples[part]! > this.highest) this.highest = samples[part]!
    let [first, last] = [PARTS, -1]
    for (let part = 0; part < parts; part++) {
      // A point that begins in a part depends on the samples of that one and the next two.
      const near = Math.max(samples[part]!, samples[part + 1]!, samples[part + 2]!)
      if (near * MOST * MOST_RAISE <= this.highest) continue
      first = Math.min(first, part)
      last = part
    }
    if (last >= 0) this.lookBetween(first, last + 1)
    window.copyWithin(0, POINTS_AT_ONCE)
    this.waiting = 0
  }

  /** Looks at the points that begin in some parts: roughly at all of them, and closely where one could be the highest. */
  private lookBetween(first: number, end: number): void {
    const { window, points, table, peaks } = this
    const { rough } = points
    rough.use(METER_TAPS)
    let largest = 0
    for (let part = first; part < end + 2; part++) largest = Math.max(largest, rough.samples[part]!)
    const error = ROUGHLY * largest
    // The largest may be a sample itself, with lower points on both sides.
    if (Math.max(rough.fill(first, end) + error, largest) * MOST_RAISE <= this.highest) return
    points.window.set(window)
    for (let part = first; part < end; part++) {
      if ((largestOf(rough, part) + error) * MOST_RAISE <= this.highest) continue
      peaks.fill(0, part * PART, (part + 1) * PART)
      raiseToTops(points, table, HALF_WIDTH, part * PART, PART, peaks)
      for (let k = part * PART; k < (part + 1) * PART; k++)
        if (peaks[k]! > this.highest) this.highest = peaks[k]!
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

/** The largest rough size of a part: of its points, and of the samples around them. */
function largestOf({ sizes, samples }: Points['rough'], part: number): number {
  let most = Math.max(samples[part]!, samples[part + 1]!, samples[part + 2]!)
  for (let p = part * (PHASES - 1); p < (part + 1) * (PHASES - 1); p++) if (sizes[p]! > most) most = sizes[p]!
  return most
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
