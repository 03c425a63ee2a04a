import type { RegionPlan } from './plan'
import { regionGain } from './region-gain'
import type { SourceReader } from './source-reader'

/** Frames rendered in one go. */
const BLOCK = 4096

/** Copies `count` source samples of a channel as they play from session frame `first` on, before any gain, into `out`. */
export function readRegion(reader: SourceReader, region: RegionPlan, channel: number, first: number, count: number, out: Float32Array): void {
  const frame = region.sourceStart + region.direction * (first - region.start)
  if (region.direction === 1) reader.read(region.sourceId, channel, frame, count, out)
  else {
    reader.read(region.sourceId, channel, frame - count + 1, count, out)
    out.subarray(0, count).reverse()
  }
}

/**
 * Renders regions as they leave their gain stages, in the channels of their source. The same samples, to the bit, that the mix adds up
 * for a region alone on its track.
 */
export class RegionRenderer {
  private readonly gains = new Float64Array(BLOCK)

  constructor(private readonly reader: SourceReader) {}

  /** Renders from session frame `from` (inside the region) into `out`, an array a channel of the source, all of one length. */
  render(region: RegionPlan, from: number, out: readonly Float32Array[]): void {
    const total = out[0]!.length
    for (let done = 0; done < total; done += BLOCK) {
      const count = Math.min(BLOCK, total - done)
      const same = regionGain(region, from + done, count, this.gains)
      for (let c = 0; c < out.length; c++) {
        const samples = out[c]!.subarray(done, done + count)
        readRegion(this.reader, region, c, from + done, count, samples)
        if (same === 1) continue
        if (same !== null) for (let i = 0; i < count; i++) samples[i] = samples[i]! * same
        else for (let i = 0; i < count; i++) samples[i] = samples[i]! * this.gains[i]!
      }
    }
  }
}
