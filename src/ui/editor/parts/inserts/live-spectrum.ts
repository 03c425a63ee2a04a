import { powerSpectrum } from '../../../../core/measure/spectrum'
import { drawLine, HIGHEST_HZ, LOWEST_HZ } from '../../drawing/axes'
import type { ColourName } from '../../../look/colours'

/** Samples that are looked at, and the levels between which their spectrum is drawn, in dB. */
const SAMPLES = 4096
const TOP_DB = 0
const BOTTOM_DB = -96
/** How fast lines that fall do so, in dB a second. */
const FALL_DB = 40

/** The spectrum of a sound that goes on, as it falls. */
export class LiveSpectrum {
  /** Level of each column, in dB. */
  private columns = new Float32Array(0)
  private at = 0

  /** `heard` gives the last so many samples; null for none. */
  constructor(private readonly heard: (samples: number) => Float32Array | null) {}

  /** Looks at what is heard now, for a picture of so many columns. */
  step(width: number, sampleRate: number): void {
    const now = performance.now()
    const seconds = Math.min(0.5, (now - this.at) / 1000)
    this.at = now
    const columns = Math.ceil(width / 2)
    if (this.columns.length !== columns) this.columns = new Float32Array(columns).fill(BOTTOM_DB)
    for (let i = 0; i < columns; i++)
      this.columns[i] = Math.max(BOTTOM_DB, this.columns[i]! - FALL_DB * seconds)
    const sound = this.heard(SAMPLES)
    if (!sound || sound.length < 1024) return
    const length = 2 ** Math.floor(Math.log2(sound.length))
    const lines = powerSpectrum(sound.subarray(sound.length - length))
    const perLine = sampleRate / length
    for (let i = 0; i < columns; i++) {
      const hz = (x: number) => LOWEST_HZ * (HIGHEST_HZ / LOWEST_HZ) ** (x / columns)
      const first = Math.round(hz(i) / perLine)
      const last = Math.max(first, Math.round(hz(i + 1) / perLine) - 1)
      let most = 0
      for (let k = first; k <= last && k < lines.length; k++) most = Math.max(most, lines[k]!)
      // Sound falls by some 4.5 dB an octave; seen against that it lies level.
      const db = 10 * Math.log10(Math.max(1e-12, most)) + 4.5 * Math.log2(hz(i) / 1000)
      if (db > this.columns[i]!) this.columns[i] = db
    }
  }

  draw(ctx: CanvasRenderingContext2D, width: number, height: number, dye: ColourName, filled: boolean): void {
    const points = Array.from(this.columns, (db, i): [number, number] => [
      (i / this.columns.length) * width,
      height * Math.min(1, (TOP_DB - db) / (TOP_DB - BOTTOM_DB)),
    ])
    if (this.columns.every((db) => db <= BOTTOM_DB)) return
    drawLine(ctx, points, filled ? { dye, opacity: 0.22, fill: height } : { dye, opacity: 0.75, width: 1.2 })
  }
}
