import { clamp } from '../../core/units/clamp'
import {
  baseLevel,
  extentOf,
  levelsAbove,
  meanSquareOf,
  type Extent,
  type PyramidLevel,
} from '../../core/measure/pyramid'
import {
  CHUNK_FRAMES,
  COARSE_FRAMES,
  findAudio,
  readChunk,
  readCoarsePeaks,
  type CoarsePeaks,
} from './audio-store'
import type { AudioRecord } from './storage'

/** Smallest and largest sample of each column of a picture. */
export interface Columns {
  min: Float32Array
  max: Float32Array
}

interface Chunk {
  samples: Float32Array[]
  levels: PyramidLevel[][]
}

/** Chunks kept for close-up pictures (512 KB each for stereo). */
const MAX_CHUNKS = 96

/**
 * Waveform data for drawing. What is not in memory is fetched, and `onLoaded` is called on arrival; until
 * then a coarser picture is used, or none.
 */
export class Pictures {
  private readonly records = new Map<string, AudioRecord | 'loading'>()
  private readonly coarse = new Map<string, CoarsePeaks>()
  private readonly missing = new Set<string>()
  private readonly chunks = new Map<string, Chunk | 'loading'>()
  /** How often something of each sound has arrived. */
  private readonly arrivals = new Map<string, number>()
  private readonly extent: Extent = { min: 0, max: 0 }

  constructor(private readonly onLoaded: () => void) {}

  /** How often something of a sound has arrived: what was drawn of it before may be drawn better then. */
  arrivalsOf(sha256: string): number {
    return this.arrivals.get(sha256) ?? 0
  }

  private arrived(sha256: string): void {
    this.arrivals.set(sha256, this.arrivalsOf(sha256) + 1)
    this.onLoaded()
  }

  private load(sha256: string): void {
    if (this.records.has(sha256)) return
    this.records.set(sha256, 'loading')
    const fetchIt = async () => {
      const record = await findAudio(sha256)
      // A sound that is missing has no picture.
      this.coarse.set(sha256, record ? await readCoarsePeaks(record) : [])
      if (record) this.records.set(sha256, record)
      else this.missing.add(sha256)
      this.arrived(sha256)
    }
    fetchIt().catch(() => this.records.delete(sha256))
  }

  private chunk(sha256: string, index: number): Chunk | null {
    const record = this.records.get(sha256)
    if (!record || record === 'loading' || index < 0 || index * CHUNK_FRAMES >= record.frames) return null
    const key = `${sha256}/${index}`
    const known = this.chunks.get(key)
    if (known) {
      if (known === 'loading') return null
      this.chunks.delete(key)
      this.chunks.set(key, known)
      return known
    }
    this.chunks.set(key, 'loading')
    readChunk(record, index)
      .then((samples) => {
        this.chunks.set(key, {
          samples,
          levels: samples.map((s) =>
            levelsAbove(baseLevel(s)).filter((l) => l.framesPerEntry < COARSE_FRAMES),
          ),
        })
        for (const old of this.chunks.keys())
          if (this.chunks.size > MAX_CHUNKS && old !== key) this.chunks.delete(old)
        this.arrived(sha256)
      })
      .catch(() => this.chunks.delete(key))
    return null
  }

  /** Whether a sound is known to be missing in the store. */
  isMissing(sha256: string): boolean {
    return this.missing.has(sha256)
  }

  /** Whether the coarse picture of a sound is loaded; requests it if not. */
  ready(sha256: string): boolean {
    this.load(sha256)
    return this.coarse.has(sha256)
  }

  /**
   * Mean square of the frames `from` ≤ n < `to` of a sound over its channels, from the coarse picture; 0
   * until it is here.
   */
  meanSquare(sha256: string, from: number, to: number): number {
    const peaks = this.ready(sha256) ? this.coarse.get(sha256)! : []
    if (peaks.length === 0) return 0
    let sum = 0
    for (const levels of peaks) sum += meanSquareOf(levelFor(levels, to - from), from, to)
    return sum / peaks.length
  }

  /** Largest absolute sample of the frames `from` ≤ n < `to`, from the coarse picture; null until it is here. */
  peak(sha256: string, from: number, to: number): number | null {
    if (!this.ready(sha256)) return null
    let peak = 0
    for (const levels of this.coarse.get(sha256)!) {
      extentOf(levels[0]!, from, to, this.extent)
      peak = Math.max(peak, -this.extent.min, this.extent.max)
    }
    return peak
  }

  /**
   * Fills the extents of `count` columns of a channel: column i covers the source frames from `from +
   * i·framesPerColumn` on. False when nothing can be shown yet.
   */
  columns(
    sha256: string,
    channel: number,
    from: number,
    framesPerColumn: number,
    count: number,
    into: Columns,
  ): boolean {
    if (!this.ready(sha256)) return false
    const levels = this.coarse.get(sha256)![channel]
    if (!levels) return false
    if (framesPerColumn >= COARSE_FRAMES) {
      const level = levelFor(levels, framesPerColumn)
      for (let i = 0; i < count; i++) this.put(level, from + i * framesPerColumn, framesPerColumn, 0, i, into)
      return true
    }
    for (let i = 0; i < count;) {
      const start = from + i * framesPerColumn
      const index = Math.floor(start / CHUNK_FRAMES)
      const end = Math.min(
        count,
        Math.max(i + 1, Math.ceil(((index + 1) * CHUNK_FRAMES - from) / framesPerColumn)),
      )
      const chunk = this.chunk(sha256, index)
      const fine = chunk && framesPerColumn >= 64 ? levelFor(chunk.levels[channel]!, framesPerColumn) : null
      for (; i < end; i++) {
        // A column across the end of a chunk is read from the frames before it, all inside.
        const at = clamp(
          from + i * framesPerColumn,
          index * CHUNK_FRAMES,
          (index + 1) * CHUNK_FRAMES - framesPerColumn,
        )
        if (fine) this.put(fine, at, framesPerColumn, index * CHUNK_FRAMES, i, into)
        else if (chunk)
          this.scan(chunk.samples[channel]!, at - index * CHUNK_FRAMES, framesPerColumn, i, into)
        else this.put(levels[0]!, at, framesPerColumn, 0, i, into)
      }
    }
    return true
  }

  private put(
    level: PyramidLevel,
    from: number,
    frames: number,
    base: number,
    column: number,
    into: Columns,
  ): void {
    extentOf(level, from - base, from - base + frames, this.extent)
    into.min[column] = this.extent.min
    into.max[column] = this.extent.max
  }

  private scan(samples: Float32Array, from: number, frames: number, column: number, into: Columns): void {
    const first = Math.max(0, Math.floor(from))
    // One sample beyond, so that neighbouring columns touch.
    const last = Math.min(samples.length - 1, Math.ceil(from + frames))
    let min = samples[Math.min(first, samples.length - 1)]!
    let max = min
    for (let n = first + 1; n <= last; n++) {
      const x = samples[n]!
      if (x < min) min = x
      if (x > max) max = x
    }
    into.min[column] = min
    into.max[column] = max
  }

  /** Copies single samples `from` … `from + out.length - 1` of a channel; NaN where they are not here yet. */
  samples(sha256: string, channel: number, from: number, out: Float32Array): boolean {
    if (!this.ready(sha256)) return false
    for (let i = 0; i < out.length;) {
      const index = Math.floor((from + i) / CHUNK_FRAMES)
      const chunk = this.chunk(sha256, index)
      const end = Math.min(out.length, (index + 1) * CHUNK_FRAMES - from)
      for (; i < end; i++)
        out[i] = chunk ? (chunk.samples[channel]![from + i - index * CHUNK_FRAMES] ?? NaN) : NaN
    }
    return true
  }
}

/** The coarsest level that still has an entry for every column. */
function levelFor(levels: readonly PyramidLevel[], framesPerColumn: number): PyramidLevel {
  let best = levels[0]!
  for (const level of levels) if (level.framesPerEntry <= framesPerColumn) best = level
  return best
}
