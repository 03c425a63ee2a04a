import { LoudnessMeter, type Loudness } from '../../../core/measure/loudness'
import { TruePeakMeter } from '../../../core/measure/true-peak'
import { gainToDb } from '../../../core/units/decibel'

/** What the panel shows of a side: dBFS. */
interface Side {
  peakDb: number
  holdDb: number
  rmsDb: number
}

/** Over how long RMS and correlation are averaged, in seconds (first order). */
const RMS_SECONDS = 0.3
const CORRELATION_SECONDS = 0.4
/** How fast a peak falls, in dB a second, and how long its highest place is held. */
const FALL_DB = 24
const HOLD_SECONDS = 2
/** How many of the last samples are kept, for the pictures. */
export const KEPT = 8192
const SILENT_DB = -120
/** After so many samples a beginning in the middle of a sound has passed the meter of true peaks. */
const SETTLING = 1024
/** Least interval between two workings of the gated figures, in frames of sound. */
const WHOLE_SECONDS = 0.5

/** Measures a sound while it goes by. */
export class LiveMeasure {
  readonly sides: readonly [Side, Side] = [newSide(), newSide()]
  /** The last samples of both sides, oldest first. */
  readonly left = new Float32Array(KEPT)
  readonly right = new Float32Array(KEPT)
  correlation = 0
  /** The figures since the measuring began; worked out twice a second. */
  whole: Loudness = { integrated: -Infinity, momentaryMax: -Infinity, shortTermMax: -Infinity, range: 0 }
  private loudness: LoudnessMeter
  private truePeaks = [new TruePeakMeter(), new TruePeakMeter()] as const
  private readonly held = [0, 0]
  private xy = 0
  private xx = 0
  private yy = 0
  private sinceWhole = 0
  /** Samples until what began in the middle of a sound, as if silence were before it, no longer counts as a peak. */
  private settling = SETTLING

  constructor(private readonly sampleRate: number) {
    this.loudness = new LoudnessMeter(sampleRate, 2)
  }

  /** Begins anew what is measured since a start. */
  reset(): void {
    this.loudness = new LoudnessMeter(this.sampleRate, 2)
    this.truePeaks = [new TruePeakMeter(), new TruePeakMeter()]
    this.settling = SETTLING
    this.whole = this.loudness.loudness()
    for (const side of this.sides) side.holdDb = SILENT_DB
  }

  /** The next samples, of both sides. */
  add(left: Float32Array, right: Float32Array): void {
    if (left.length === 0) return
    const seconds = left.length / this.sampleRate
    for (const [c, samples] of [left, right].entries()) {
      this.addSide(c as 0 | 1, samples, seconds)
      this.truePeaks[c as 0 | 1].add(samples)
    }
    if (this.settling > 0) {
      this.settling -= left.length
      for (const meter of this.truePeaks) meter.forget()
    }
    this.loudness.add([left, right])
    this.correlate(left, right, seconds)
    keep(this.left, left)
    keep(this.right, right)
    this.sinceWhole += seconds
    if (this.sinceWhole < WHOLE_SECONDS) return
    this.sinceWhole = 0
    this.whole = this.loudness.loudness()
  }

  /** Nothing is heard for so long: what falls does so. */
  rest(seconds: number): void {
    for (const c of [0, 1] as const) this.addSide(c, new Float32Array(0), seconds)
    this.correlation = 0
    this.left.fill(0)
    this.right.fill(0)
  }

  private addSide(c: 0 | 1, samples: Float32Array, seconds: number): void {
    let peak = 0
    let squares = 0
    for (let i = 0; i < samples.length; i++) {
      const x = samples[i]!
      const size = x < 0 ? -x : x
      if (size > peak) peak = size
      squares += x * x
    }
    const side = this.sides[c]
    const db = peak > 0 ? gainToDb(peak) : SILENT_DB
    side.peakDb = Math.max(db, side.peakDb - FALL_DB * seconds)
    this.held[c] = this.held[c]! + seconds
    if (db >= side.holdDb || this.held[c]! > HOLD_SECONDS) {
      side.holdDb = side.peakDb
      this.held[c] = 0
    }
    const before = 10 ** (side.rmsDb / 10)
    const part = 1 - Math.exp(-seconds / RMS_SECONDS)
    const now = samples.length ? squares / samples.length : 0
    side.rmsDb = Math.max(SILENT_DB, 10 * Math.log10(Math.max(1e-13, before + part * (now - before))))
  }

  private correlate(x: Float32Array, y: Float32Array, seconds: number): void {
    const fade = Math.exp(-seconds / CORRELATION_SECONDS)
    let [xy, xx, yy] = [0, 0, 0]
    for (let i = 0; i < x.length; i++) {
      xy += x[i]! * y[i]!
      xx += x[i]! * x[i]!
      yy += y[i]! * y[i]!
    }
    this.xy = this.xy * fade + xy
    this.xx = this.xx * fade + xx
    this.yy = this.yy * fade + yy
    this.correlation = this.xx > 1e-9 && this.yy > 1e-9 ? this.xy / Math.sqrt(this.xx * this.yy) : 0
  }

  /** Loudness of the last 400 ms and three seconds, in LUFS. */
  get now(): { momentary: number; shortTerm: number } {
    return this.loudness.now()
  }

  /** The highest true peak since the measuring began, in dBTP. */
  get truePeakDb(): number {
    const highest = Math.max(...this.truePeaks.map((meter) => meter.highestSoFar))
    return highest > 0 ? gainToDb(highest) : -Infinity
  }
}

const newSide = (): Side => ({ peakDb: SILENT_DB, holdDb: SILENT_DB, rmsDb: SILENT_DB })

/** Appends samples to the last ones. */
function keep(kept: Float32Array, samples: Float32Array): void {
  const newest = samples.length > KEPT ? samples.subarray(samples.length - KEPT) : samples
  kept.copyWithin(0, newest.length)
  kept.set(newest, KEPT - newest.length)
}
