/**
 * Loudness by ITU-R BS.1770-5: K-weighting (its two filters re-derived for any sample rate from their
 * analogue parameters, after B. De Man, "Evaluation of Implementations of the EBU R128 Loudness Measurement",
 * 2014), mean squares summed over the channels, 400 ms blocks with 75 % overlap, gates at -70 LUFS and -10
 * LU. Loudness range by EBU Tech 3342.
 */
interface Biquad {
  b0: number
  b1: number
  b2: number
  a1: number
  a2: number
}

/** The two filters of K-weighting at a sample rate in Hz: the high shelf of the head, and the high-pass. */
export function kWeighting(sampleRate: number): [Biquad, Biquad] {
  const shelf = ((): Biquad => {
    const k = Math.tan((Math.PI * 1681.974450955533) / sampleRate)
    const q = 0.7071752369554196
    const vh = 10 ** (3.999843853973347 / 20)
    const vb = vh ** 0.4996667741545416
    const a0 = 1 + k / q + k * k
    return {
      b0: (vh + (vb * k) / q + k * k) / a0,
      b1: (2 * (k * k - vh)) / a0,
      b2: (vh - (vb * k) / q + k * k) / a0,
      a1: (2 * (k * k - 1)) / a0,
      a2: (1 - k / q + k * k) / a0,
    }
  })()
  const k = Math.tan((Math.PI * 38.13547087602444) / sampleRate)
  const q = 0.5003270373238773
  const a0 = 1 + k / q + k * k
  return [shelf, { b0: 1, b1: -2, b2: 1, a1: (2 * (k * k - 1)) / a0, a2: (1 - k / q + k * k) / a0 }]
}

/**
 * What was measured, in LUFS and LU. -Infinity where everything lies under the absolute gate, or nothing long
 * enough was heard.
 */
export interface Loudness {
  integrated: number
  momentaryMax: number
  shortTermMax: number
  /** Loudness range in LU; 0 without two blocks above the gates. */
  range: number
}

const power = (loudness: number) => 10 ** ((loudness + 0.691) / 10)

/** Steps of 100 ms in a momentary and in a short-term block. */
const MOMENTARY = 4
const SHORT_TERM = 30

/** How long a step is unless said otherwise, in seconds. */
const STEP_SECONDS = 0.1

/** Parts of a step of 100 ms: a burst of 400 ms has its loudness wherever it begins (EBU Tech 3341, case 13). */
const PARTS = 10

/** The mean of the last so many powers, and the largest mean so far. */
class SlidingPower {
  private readonly ring: Float64Array
  private at = 0
  private sum = 0
  power = 0
  largest = 0

  constructor(length: number) {
    this.ring = new Float64Array(length)
  }

  add(power: number): void {
    const { ring } = this
    const place = this.at % ring.length
    this.sum += power - ring[place]!
    ring[place] = power
    this.at++
    // Summed anew once a round, so that no error of rounding stays.
    if (place === ring.length - 1) this.sum = ring.reduce((a, b) => a + b, 0)
    if (this.at < ring.length) return
    this.power = Math.max(0, this.sum) / ring.length
    if (this.power > this.largest) this.largest = this.power
  }
}

/** What the filters still hold when a step ends counts as nothing below this: 600 dB under full scale. */
const GONE = 1e-30

/** Sum of the squares of samples `from` ≤ i < `to`, K-weighted; `state` has the two delays of both filters. */
export function weightedSquares(
  [f, g]: readonly [Biquad, Biquad],
  samples: ArrayLike<number>,
  from: number,
  to: number,
  state: Float64Array,
): number {
  let [s1, s2, t1, t2] = state as unknown as [number, number, number, number]
  let sum = 0
  for (let i = from; i < to; i++) {
    const x = samples[i]!
    const y = f.b0 * x + s1
    s1 = f.b1 * x - f.a1 * y + s2
    s2 = f.b2 * x - f.a2 * y
    const z = g.b0 * y + t1
    t1 = g.b1 * y - g.a1 * z + t2
    t2 = g.b2 * y - g.a2 * z
    sum += z * z
  }
  state[0] = s1
  state[1] = s2
  state[2] = t1
  state[3] = t2
  return sum
}

/** LUFS of a K-weighted mean square, the channels added; -Infinity for none. */
export const loudnessOf = (power: number): number => (power > 0 ? -0.691 + 10 * Math.log10(power) : -Infinity)

/** The weight of a surround channel, by BS.1770-5; of every other it is 1. */
export const SURROUND_WEIGHT = 1.41

/** Measures loudness over blocks of any size; one array a channel. */
export class LoudnessMeter {
  private readonly filters: [Biquad, Biquad]
  /** For each channel the two delays of both filters. */
  private readonly state: Float64Array[]
  /** K-weighted mean square of every finished step (100 ms unless said otherwise), the channels added. */
  readonly steps: number[] = []
  private readonly stepFrames: number
  private readonly parts: number
  private squares = 0
  private held = 0
  /** Whether the filters hold nothing, so that silence adds nothing. */
  private resting = true
  /** Parts of steps, by which the largest momentary and short-term loudness are looked for. */
  private part = 0
  private partSquares = 0
  private readonly momentary = new SlidingPower(MOMENTARY * PARTS)
  private readonly sliding = new SlidingPower(SHORT_TERM * PARTS)

  /** With another `stepSeconds` than 0.1 only `steps` is of use. Channels count alike, as in mono and stereo, unless weights are given. */
  constructor(
    sampleRate: number,
    channels: number,
    stepSeconds = STEP_SECONDS,
    private readonly weights: readonly number[] = Array.from({ length: channels }, () => 1),
  ) {
    this.filters = kWeighting(sampleRate)
    this.state = Array.from({ length: channels }, () => new Float64Array(4))
    this.stepFrames = Math.round(sampleRate * stepSeconds)
    this.parts = stepSeconds === STEP_SECONDS ? PARTS : 1
  }

  /** Takes the next block, one array a channel; `silent` where it is known to be nothing but zeros. */
  add(block: readonly Float32Array[], silent = false): void {
    const frames = block[0]!.length
    for (let done = 0; done < frames;) {
      const partEnd = Math.round(((this.part + 1) * this.stepFrames) / this.parts)
      const take = Math.min(frames - done, partEnd - this.held)
      let squares = 0
      if (!silent || !this.resting) {
        for (let c = 0; c < block.length; c++)
          squares +=
            this.weights[c]! * weightedSquares(this.filters, block[c]!, done, done + take, this.state[c]!)
        this.resting = false
      }
      this.squares += squares
      this.partSquares += squares
      this.held += take
      done += take
      if (this.held < partEnd) continue
      const power = (this.partSquares / this.stepFrames) * this.parts
      this.momentary.add(power)
      this.sliding.add(power)
      this.partSquares = 0
      this.part++
      if (this.held < this.stepFrames) continue
      this.steps.push(this.squares / this.stepFrames)
      this.squares = 0
      this.held = 0
      this.part = 0
      // After the sound the filters die away without an end, and processors count with such small numbers a
      // hundred times slower.
      if (this.resting) continue
      for (const delays of this.state) if (delays.every((d) => Math.abs(d) < GONE)) delays.fill(0)
      this.resting = this.state.every((delays) => delays.every((d) => d === 0))
    }
  }

  /** The loudness of the last 400 ms and of the last three seconds, in LUFS; -Infinity before so much was heard. */
  now(): { momentary: number; shortTerm: number } {
    return { momentary: loudnessOf(this.momentary.power), shortTerm: loudnessOf(this.sliding.power) }
  }

  /** The short-term loudness of every 100 ms from the third second on, in LUFS. */
  shortTerm(): number[] {
    return blocksOf(this.steps, SHORT_TERM).map(loudnessOf)
  }

  loudness(): Loudness {
    const momentary = blocksOf(this.steps, MOMENTARY)
    const shortTerm = blocksOf(this.steps, SHORT_TERM)
    return {
      integrated: loudnessOf(gatedMean(momentary, -10)),
      momentaryMax: loudnessOf(this.momentary.largest),
      shortTermMax: loudnessOf(this.sliding.largest),
      range: loudnessRange(shortTerm),
    }
  }
}

/** Powers of all blocks of so many steps, one for every step from the first whole block on. */
function blocksOf(steps: readonly number[], length: number): number[] {
  const out: number[] = []
  let sum = 0
  for (let i = 0; i < steps.length; i++) {
    sum += steps[i]!
    if (i >= length) sum -= steps[i - length]!
    if (i >= length - 1) out.push(Math.max(0, sum) / length)
  }
  return out
}

/**
 * The integrated loudness in LUFS of 100 ms steps after so many dB of gain; -Infinity where nothing passes
 * the gate.
 */
export function integratedOf(steps: readonly number[], gainDb = 0): number {
  const factor = 10 ** (gainDb / 10)
  return loudnessOf(
    gatedMean(
      blocksOf(steps, MOMENTARY).map((p) => p * factor),
      -10,
    ),
  )
}

const mean = (powers: readonly number[]) =>
  powers.length ? powers.reduce((a, b) => a + b, 0) / powers.length : 0

/** Mean of the powers above -70 LUFS and above a gate relative to their mean (in LU). */
function gatedMean(powers: readonly number[], relativeGate: number): number {
  const audible = powers.filter((p) => p > power(-70))
  const gate = mean(audible) * 10 ** (relativeGate / 10)
  return mean(audible.filter((p) => p > gate))
}

/** EBU Tech 3342: the 10th to the 95th percentile of the short-term loudness above -70 LUFS and -20 LU. */
function loudnessRange(powers: readonly number[]): number {
  const audible = powers.filter((p) => p > power(-70))
  const gate = mean(audible) * 0.01
  const sorted = audible
    .filter((p) => p >= gate)
    .map(loudnessOf)
    .sort((a, b) => a - b)
  if (sorted.length < 2) return 0
  const percentile = (p: number) => sorted[Math.round((sorted.length - 1) * p)]!
  return percentile(0.95) - percentile(0.1)
}
