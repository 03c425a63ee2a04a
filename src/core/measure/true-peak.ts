/** Samples looked at to each side of a point between two, and points looked at from one sample to the next (8× oversampling). */
const HALF_WIDTH = 16
const PHASES = 8

/** Windowed sinc (Hann-weighted, after BS.1770-5 annex 2 with more taps), a row of taps for each point between two samples. */
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

/** Measures the true peak of one channel over blocks of any size: the largest value of the signal between its samples, linear. */
export class TruePeakMeter {
  private readonly history = new Float64Array(2 * HALF_WIDTH)
  private at = 0
  private highest = 0

  add(samples: Float32Array): void {
    const { history } = this
    const size = history.length
    for (let i = 0; i < samples.length; i++) {
      const x = samples[i]!
      history[this.at] = x
      this.at = this.at + 1 === size ? 0 : this.at + 1
      const size0 = x < 0 ? -x : x
      if (size0 > this.highest) this.highest = size0
      this.between()
    }
  }

  /** The points between the two samples in the middle of the history. */
  private between(): void {
    const { history, at } = this
    const size = history.length
    let near = 0
    for (let t = 0; t < size; t++) {
      const x = history[t]!
      const size0 = x < 0 ? -x : x
      if (size0 > near) near = size0
    }
    // Between samples the signal cannot pass the largest of them by more than the taps' gain, about 2.6.
    if (near * 2.6 <= this.highest) return
    for (const taps of TAPS) {
      let sum = 0
      for (let t = 0; t < size; t++) sum += taps[t]! * history[at + t < size ? at + t : at + t - size]!
      if (sum < 0) sum = -sum
      if (sum > this.highest) this.highest = sum
    }
  }

  /** The true peak so far, linear. Ends the measuring: what follows the last sample is taken as silence. */
  peak(): number {
    this.add(new Float32Array(HALF_WIDTH))
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
