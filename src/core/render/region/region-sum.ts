import { head } from '../../dsp/kernels/head'
import { newSegment } from '../../curve/thread'
import { processingKernel } from '../../dsp/kernels/processing'
import type { Cubic } from '../../dsp/levels'
import { scaledTop } from '../../units/taper'
import { cubicAt, newCubic } from '../fader/cubic'
import type { RegionPlan, TrackPlan } from '../plan/render-plan'
import { fadesWithin, regionGain } from './region-gain'
import { readRegion } from './region-sound'
import { RENDER_BLOCK } from '../render-block'
import type { SourceReader } from './source-reader'
import { firstReaching } from '../plan/spans'

/** Sums the regions of tracks as they enter the path of their track; up to `RENDER_BLOCK` frames at a time. */
export class RegionSum {
  private readonly gains = new Float64Array(RENDER_BLOCK)
  private readonly samples = new Float32Array(RENDER_BLOCK)
  private readonly kernel = processingKernel()
  private readonly segment = newSegment()
  private readonly cubic = newCubic()

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
    const only = into[0] === this.kernel.sound[0] ? this.wholeRegion(regions, channels, from, count) : null
    if (only) {
      this.placeRegion(only, channels, from, count)
      return true
    }
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

  /** The region that alone sounds in all of some frames, and that the kernel can place; null where there is none. */
  private wholeRegion(
    regions: readonly RegionPlan[],
    channels: 1 | 2,
    from: number,
    count: number,
  ): RegionPlan | null {
    let r = firstReaching(regions, from)
    while (r < regions.length && regions[r]!.end <= from) r++
    const region = regions[r]
    if (!region || region.start > from || region.end < from + count) return null
    const next = regions[r + 1]
    if (next && next.start < from + count) return null
    if (region.channels > channels || region.direction !== 1) return null
    return fadesWithin(region, from, count) ? null : region
  }

  /** Writes such a region into the kernel's sound, run by run of its thread: the same as adding it, to the bit. */
  private placeRegion(region: RegionPlan, channels: 1 | 2, from: number, count: number): void {
    const { kernel, segment, cubic } = this
    const { source } = kernel.loops
    const { thread } = region
    for (let at = 0; at < count;) {
      let length = count - at
      let moves: Cubic | null = null
      let gain = region.gain
      if (thread) {
        const frame = region.sourceStart + from + at - region.start
        thread.segment(frame, segment)
        if (segment.end > frame) length = Math.min(length, segment.end - frame)
        if (segment.exact) {
          this.writeOut(region, channels, from + at, at, length)
          at += length
          continue
        }
        moves = cubicAt(segment, frame, cubic)
        gain = scaledTop(region.gain)
      }
      readRegion(this.reader, region, 0, from + at, length, source[0])
      if (region.channels === 2) readRegion(this.reader, region, 1, from + at, length, source[1])
      else if (channels === 2) source[1].set(head(source[0], length))
      kernel.loops.placeSource(at, length, channels, gain, moves)
      at += length
    }
  }

  /** A part of it with a gain for every frame. */
  private writeOut(region: RegionPlan, channels: 1 | 2, first: number, at: number, length: number): void {
    const { sound } = this.kernel
    for (let c = 0; c < channels; c++) sound[c]!.fill(0, at, at + length)
    this.addRegion(channels, region, first, length, at, sound)
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
