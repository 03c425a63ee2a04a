import type { RegionPlan, TrackPlan } from './render-plan'
import { regionGain } from './region-gain'
import { readRegion } from './region-sound'
import { RENDER_BLOCK } from './render-block'
import type { SourceReader } from './source-reader'
import { firstReaching } from './spans'

/** Sums the regions of tracks as they enter the path of their track; up to `RENDER_BLOCK` frames at a time. */
export class RegionSum {
  private readonly gains = new Float64Array(RENDER_BLOCK)
  private readonly samples = new Float32Array(RENDER_BLOCK)

  constructor(private readonly reader: SourceReader) {}

  /**
   * Sums the regions of a track, one array for each of its channels; false when none sounds in these frames, and then nothing
   * is written.
   */
  sum(
    track: TrackPlan,
    channels: 1 | 2,
    from: number,
    count: number,
    into: readonly Float64Array[],
  ): boolean {
    const regions = track.regions
    let any = false
    for (let r = firstReaching(regions, from); r < regions.length; r++) {
      const region = regions[r]!
      if (region.start >= from + count) break
      const first = Math.max(from, region.start)
      const length = Math.min(from + count, region.end) - first
      if (length <= 0) continue
      if (!any) for (let c = 0; c < channels; c++) into[c]!.fill(0, 0, count)
      any = true
      this.addRegion(channels, region, first, length, first - from, into)
    }
    return any
  }

  private addRegion(
    channels: 1 | 2,
    region: RegionPlan,
    first: number,
    length: number,
    at: number,
    into: readonly Float64Array[],
  ): void {
    const same = regionGain(region, first, length, this.gains)
    // A stereo source on a mono track is summed at half level; a mono source sounds on every channel.
    const scale = region.channels === 2 && channels === 1 ? 0.5 : 1
    const inputs = Math.max(region.channels, channels)
    for (let c = 0; c < inputs; c++) {
      if (c < region.channels) readRegion(this.reader, region, c, first, length, this.samples)
      const bus = into[Math.min(c, channels - 1)]!
      const samples = this.samples
      if (same !== null) {
        const gain = same * scale
        for (let i = 0; i < length; i++) bus[at + i] = bus[at + i]! + samples[i]! * gain
      } else {
        const gains = this.gains
        if (scale === 1) for (let i = 0; i < length; i++) bus[at + i] = bus[at + i]! + samples[i]! * gains[i]!
        else for (let i = 0; i < length; i++) bus[at + i] = bus[at + i]! + samples[i]! * (gains[i]! * scale)
      }
    }
  }
}
