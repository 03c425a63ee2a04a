import { tapeOffset } from '../../curve/tape'
import { interpolate, REACH } from '../../dsp/interpolate'
import type { TapeFade } from '../../model/session'
import { fillGains } from '../../units/taper'
import type { RegionPlan } from '../plan/render-plan'
import { regionGain } from './region-gain'
import type { SourceReader } from './source-reader'

/** Frames rendered in one go. */
const READ_BLOCK_FRAMES = 4096

/** Where the tape fades of a region lie: session frames, `from` ≤ n < `to`. */
function tapeZone(
  region: RegionPlan,
  edge: 'in' | 'out',
): { fade: TapeFade; from: number; to: number } | null {
  const fade = edge === 'in' ? region.fadeIn : region.fadeOut
  if (fade?.kind !== 'tape') return null
  return edge === 'in'
    ? { fade, from: region.start, to: region.start + fade.length }
    : { fade, from: region.end - fade.length, to: region.end }
}

/** Source frames passed since the region's start at a session frame, a real number inside tape fades. */
function passed(region: RegionPlan, frame: number): number {
  for (const edge of ['in', 'out'] as const) {
    const zone = tapeZone(region, edge)
    if (!zone || frame < zone.from || frame >= zone.to) continue
    const inner = (edge === 'in' ? zone.to : zone.from) - region.start
    return inner + tapeOffset(zone.fade, edge, (frame - zone.from) / zone.fade.length)
  }
  return frame - region.start
}

/** The source frame (a real number in tape fades) that plays at a session frame of a region. */
export const sourceAt = (region: RegionPlan, frame: number): number =>
  region.sourceStart + region.direction * passed(region, frame)

/** The source frames that `count` session frames of a region from `first` read; `count` 0 where there are none. */
export function sourceSpan(
  region: RegionPlan,
  first: number,
  count: number,
): { sourceId: string; from: number; count: number } {
  const ends = [sourceAt(region, first), sourceAt(region, first + count - 1)]
  const taped = region.fadeIn?.kind === 'tape' || region.fadeOut?.kind === 'tape' ? REACH + 1 : 0
  const from = Math.max(0, Math.floor(Math.min(...ends)) - taped)
  const to = Math.min(region.sourceFrames, Math.ceil(Math.max(...ends)) + taped + 1)
  return { sourceId: region.sourceId, from, count: Math.max(0, to - from) }
}

/**
 * Copies `count` samples of a channel as they play from session frame `first` on (inside the region), before
 * any gain but that of its side, into `out`. In tape fades the sound is read at the tape's pace, and the gain thread, which
 * belongs to the sound, is in it already.
 */
export function readRegion(
  reader: SourceReader,
  region: RegionPlan,
  channel: number,
  first: number,
  count: number,
  out: Float32Array,
): void {
  readSound(reader, region, channel, first, count, out)
  const factor = region.sides?.[channel]
  if (factor !== undefined && factor !== 1) for (let i = 0; i < count; i++) out[i] = out[i]! * factor
}

function readSound(
  reader: SourceReader,
  region: RegionPlan,
  channel: number,
  first: number,
  count: number,
  out: Float32Array,
): void {
  if (region.fadeIn?.kind !== 'tape' && region.fadeOut?.kind !== 'tape') {
    readPlain(reader, region, channel, first, count, out)
    return
  }
  const zones = [tapeZone(region, 'in'), tapeZone(region, 'out')]
  const cuts = [
    first,
    ...zones.flatMap((z) => (z ? [z.from, z.to] : [])).filter((f) => f > first && f < first + count),
    first + count,
  ]
  for (let i = 1; i < cuts.length; i++) {
    const [from, to] = [cuts[i - 1]!, cuts[i]!]
    const part = out.subarray(from - first, to - first)
    if (zones.some((z) => z && from >= z.from && from < z.to))
      readTape(reader, region, channel, from, to - from, part)
    else readPlain(reader, region, channel, from, to - from, part)
  }
}

function readPlain(
  reader: SourceReader,
  region: RegionPlan,
  channel: number,
  first: number,
  count: number,
  out: Float32Array,
): void {
  const frame = region.sourceStart + region.direction * (first - region.start)
  if (region.direction === 1) reader.read(region.sourceId, channel, frame, count, out)
  else {
    reader.read(region.sourceId, channel, frame - count + 1, count, out)
    out.subarray(0, count).reverse()
  }
}

function readTape(
  reader: SourceReader,
  region: RegionPlan,
  channel: number,
  first: number,
  count: number,
  out: Float32Array,
): void {
  const span = sourceSpan(region, first, count)
  const samples = new Float32Array(span.count)
  reader.read(span.sourceId, channel, span.from, span.count, samples)
  const shaped = Float64Array.from(samples)
  if (region.thread) {
    const gains = new Float64Array(span.count)
    region.thread.fill(span.from, span.count, gains)
    fillGains(gains, span.count)
    for (let i = 0; i < span.count; i++) shaped[i] = shaped[i]! * gains[i]!
  }
  for (let i = 0; i < count; i++) out[i] = interpolate(shaped, span.from, sourceAt(region, first + i))
}

/**
 * Renders regions as they leave their gain stages, in the channels of their source. The same samples, to the
 * bit, that the mix adds up for a region alone on its track.
 */
export class RegionRenderer {
  private readonly gains = new Float64Array(READ_BLOCK_FRAMES)

  constructor(private readonly reader: SourceReader) {}

  /**
   * Renders from session frame `from` (inside the region) into `out`, an array a channel of the source, all
   * of one length.
   */
  render(region: RegionPlan, from: number, out: readonly Float32Array[]): void {
    const total = out[0]!.length
    for (let done = 0; done < total; done += READ_BLOCK_FRAMES) {
      const count = Math.min(READ_BLOCK_FRAMES, total - done)
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
