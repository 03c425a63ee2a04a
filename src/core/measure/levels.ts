/** What a stretch of one channel measures: all linear, full scale 1. */
export interface Levels {
  peak: number
  rms: number
  dc: number
}

/** Gathers peak, RMS and DC of one channel over any number of blocks; sums are 64-bit. */
export class LevelMeter {
  private peak = 0
  private squares = 0
  private sum = 0
  private frames = 0

  /** Takes the samples `from` ≤ i < `to` of a block. */
  add(samples: Float32Array, from = 0, to = samples.length): void {
    for (let i = from; i < to; i++) {
      const x = samples[i]!
      const size = x < 0 ? -x : x
      if (size > this.peak) this.peak = size
      this.squares += x * x
      this.sum += x
    }
    this.frames += to - from
  }

  /** Takes so many samples of silence. */
  addSilence(frames: number): void {
    this.frames += frames
  }

  /** The levels so far; all 0 before the first sample. */
  levels(): Levels {
    const n = Math.max(1, this.frames)
    return { peak: this.peak, rms: Math.sqrt(this.squares / n), dc: this.sum / n }
  }
}
