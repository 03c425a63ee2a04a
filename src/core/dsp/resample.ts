import { clamp } from '../units/clamp'
import { besselI0 } from './kaiser'

/**
 * Resampling by windowed sinc: J. O. Smith, "Digital Audio Resampling", with a Kaiser window whose stop band
 * lies at least 120 dB down (β from Kaiser and Schafer 1980: 0.1102·(A - 8.7), A = 130 dB). The band passed
 * reaches to 91 % of the lower of the two Nyquist frequencies (20.0 kHz at 44.1 kHz), and the stop band
 * begins at that Nyquist frequency.
 */
const ATTENUATION_DB = 130
const BETA = 0.1102 * (ATTENUATION_DB - 8.7)
/** Zero crossings of the sinc on each side. */
const HALF_WIDTH = 96
/** Transition width as part of the lower rate: (A - 8)/(2.285·2π·taps). */
const TRANSITION = (ATTENUATION_DB - 8) / (2.285 * 2 * Math.PI * (2 * HALF_WIDTH))
/**
 * Coefficients kept at most. Rates with more phases than that share the nearest ones, blended linearly: 5208
 * phases of 192 taps leave an error of (π/5208)²/8, which is -147 dB.
 */
const MAX_COEFFICIENTS = 1_000_000

const I0_BETA = besselI0(BETA)

function greatestCommonDivisor(a: number, b: number): number {
  while (b) [a, b] = [b, a % b]
  return a
}

/** Frames that `frames` at `fromRate` become at `toRate` (both Hz): the exact length, rounded up. */
export function resampledLength(frames: number, fromRate: number, toRate: number): number {
  return Math.ceil((frames * toRate) / fromRate - 1e-9)
}

/** Resamples one channel given in blocks of any size; the output is the same however the input is cut. */
export class Resampler {
  private readonly up: number
  private readonly down: number
  /** Input frames that the kernel reaches to each side. */
  private readonly reach: number
  private readonly cutoff: number
  private readonly phases: (Float64Array | undefined)[]
  private readonly phaseCount: number
  private buffer: Float64Array
  private held = 0
  /** Input frame (may be negative: silence before the start) that buffer[0] is. */
  private first: number
  private produced = 0

  /** Throws a RangeError unless both rates are whole numbers ≥ 1. */
  constructor(
    readonly fromRate: number,
    readonly toRate: number,
  ) {
    if (!(Number.isInteger(fromRate) && Number.isInteger(toRate) && fromRate > 0 && toRate > 0))
      throw new RangeError(`rates must be whole numbers ≥ 1, not ${fromRate} and ${toRate}`)
    const divisor = greatestCommonDivisor(fromRate, toRate)
    this.up = toRate / divisor
    this.down = fromRate / divisor
    const scale = Math.min(1, toRate / fromRate)
    // The middle of the transition band; as part of the input's rate.
    this.cutoff = scale * (0.5 - TRANSITION / 2)
    this.reach = Math.ceil(HALF_WIDTH / scale)
    this.phaseCount = Math.min(this.up, Math.max(1, Math.floor(MAX_COEFFICIENTS / (2 * this.reach))))
    this.phases = new Array<Float64Array | undefined>(this.phaseCount + 1)
    this.first = -this.reach
    this.held = this.reach
    this.buffer = new Float64Array(4 * this.reach + 8192)
  }

  /**
   * The kernel for outputs that lie `offset` (0…1) of an input frame after an input frame; taps from -reach+1
   * to reach.
   */
  private kernel(phase: number): Float64Array {
    const known = this.phases[phase]
    if (known) return known
    const offset = phase / this.phaseCount
    const taps = new Float64Array(2 * this.reach)
    let sum = 0
    for (let t = 0; t < taps.length; t++) {
      const distance = t - this.reach + 1 - offset
      const x = distance / this.reach
      const window = Math.abs(x) >= 1 ? 0 : besselI0(BETA * Math.sqrt(1 - x * x)) / I0_BETA
      const angle = 2 * Math.PI * this.cutoff * distance
      taps[t] = window * 2 * this.cutoff * (Math.abs(angle) < 1e-12 ? 1 : Math.sin(angle) / angle)
      sum += taps[t]!
    }
    for (let t = 0; t < taps.length; t++) taps[t] = taps[t]! / sum
    return (this.phases[phase] = taps)
  }

  /** Takes the next samples and returns what can be put out by now. */
  push(input: Float32Array): Float32Array {
    this.append(input)
    return this.drain(Infinity)
  }

  /**
   * Ends the input of `totalFrames` frames in all and returns the rest, so that `resampledLength` frames came
   * out together.
   */
  finish(totalFrames: number): Float32Array {
    const wanted = resampledLength(totalFrames, this.fromRate, this.toRate)
    this.append(new Float32Array(2 * this.reach + 2))
    return this.drain(wanted)
  }

  private append(input: Float32Array): void {
    if (this.held + input.length > this.buffer.length) {
      const larger = new Float64Array((this.held + input.length) * 2)
      larger.set(this.buffer.subarray(0, this.held))
      this.buffer = larger
    }
    this.buffer.set(input, this.held)
    this.held += input.length
  }

  private drain(limit: number): Float32Array {
    const end = this.first + this.held
    // Output n lies at input n·down/up; its last tap is at floor(that) + reach.
    const possible = Math.max(0, Math.ceil(((end - this.reach) * this.up) / this.down) - this.produced)
    const out = new Float32Array(clamp(limit - this.produced, 0, possible))
    const exact = this.phaseCount === this.up
    let made = 0
    for (; made < out.length; made++) {
      const position = (this.produced + made) * this.down
      const whole = Math.floor(position / this.up)
      const rest = position - whole * this.up
      const start = whole - this.reach + 1 - this.first
      if (exact) out[made] = this.convolve(this.kernel(rest), start)
      else {
        const at = (rest / this.up) * this.phaseCount
        const lower = Math.floor(at)
        const near = this.convolve(this.kernel(lower), start)
        out[made] = near + (this.convolve(this.kernel(lower + 1), start) - near) * (at - lower)
      }
    }
    this.produced += made
    this.forget()
    return out
  }

  private convolve(taps: Float64Array, start: number): number {
    const buffer = this.buffer
    let sum = 0
    for (let t = 0; t < taps.length; t++) sum += taps[t]! * buffer[start + t]!
    return sum
  }

  private forget(): void {
    const needed = Math.floor((this.produced * this.down) / this.up) - this.reach + 1
    const drop = Math.min(this.held, needed - this.first)
    if (drop <= 0) return
    this.buffer.copyWithin(0, drop, this.held)
    this.held -= drop
    this.first += drop
  }
}
