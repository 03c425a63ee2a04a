import type { Processor, Sides } from '../../dsp/processors'
import { LoudnessMeter } from '../../measure/loudness'
import type { Probe } from './probe'

/** Frames of one step of a reduction. */
export const REDUCTION_STEP = 1024
const BANDS = 4

/** What was measured of a strip as it leaves its inserts. */
export interface StripMeasure {
  /** Integrated loudness in LUFS; -Infinity for silence. */
  loudness: number
  /** The largest sample, linear. */
  peak: number
  /**
   * For each insert that turns down: by how many dB (≥ 0) at the end of every step of `REDUCTION_STEP` frames, of several bands the
   * most.
   */
  reductions: { insertId: string; db: Float32Array }[]
}

/** Measures a strip while a stretch of it is rendered: as a probe the reductions of its inserts, and what comes out. */
export class StripMeter implements Probe {
  private readonly reductions = new Map<string, Float32Array>()
  private readonly loudness: LoudnessMeter
  private peak = 0

  /** `from` ≤ n < `to` are session frames. */
  constructor(
    private readonly stripId: string | null,
    private readonly from: number,
    private readonly to: number,
    sampleRate: number,
  ) {
    this.loudness = new LoudnessMeter(sampleRate, 2)
  }

  watches(stripId: string | null): boolean {
    return stripId === this.stripId
  }

  note(
    _stripId: string | null,
    insertId: string | null,
    _sound: Sides,
    _channels: 1 | 2,
    count: number,
    processor: Processor | null,
    frame: number,
  ): void {
    if (insertId === null || !processor?.reductionDb) return
    const end = frame + count - 1
    if (end < this.from || frame >= this.to) return
    const known = this.reductions.get(insertId)
    const steps = known ?? new Float32Array(Math.ceil((this.to - this.from) / REDUCTION_STEP))
    if (!known) this.reductions.set(insertId, steps)
    let db = 0
    for (let band = 0; band < BANDS; band++) db = Math.max(db, processor.reductionDb(band))
    // Blocks are cut as rendering likes: what is known at the end of one holds back to its beginning.
    const first = Math.max(0, Math.floor((frame - this.from) / REDUCTION_STEP))
    const last = Math.min(steps.length - 1, Math.floor((end - this.from) / REDUCTION_STEP))
    for (let step = first; step <= last; step++) steps[step] = db
  }

  /** What came out, block by block. */
  add(left: Float32Array, right: Float32Array): void {
    this.loudness.add([left, right])
    for (const side of [left, right])
      for (let i = 0; i < side.length; i++) this.peak = Math.max(this.peak, Math.abs(side[i]!))
  }

  finish(): StripMeasure {
    return {
      loudness: this.loudness.loudness().integrated,
      peak: this.peak,
      reductions: [...this.reductions].map(([insertId, db]) => ({ insertId, db })),
    }
  }
}
