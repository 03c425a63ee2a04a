import { head } from '../../dsp/kernels/head'
import { newSegment, type ThreadReader } from '../../curve/thread'
import { newLevelRun } from '../../dsp/levels'
import type { StripKernel, StripRun } from '../../dsp/kernels/strip'
import { scaledTop } from '../../units/taper'
import type { Fader } from './fader'
import { FaderRuns, hasRuns } from './fader-runs'
import type { RegionPlan, TrackPlan } from '../plan/render-plan'
import { cubicAt, newCubic } from './cubic'
import { regionGain } from '../region/region-gain'
import { readRegion } from '../region/region-sound'
import { PLAIN_BLOCK } from '../render-block'
import type { SourceReader } from '../region/source-reader'
import { firstReaching } from '../plan/spans'
import type { TrackMeter } from '../stage'

/**
 * The quick way of a track into a sum: where one region sounds and nothing remembers, gain, volume and pan are one loop over
 * the samples. What it adds is what summing, placing and adding would, to the bit.
 */
export class FusedTrack {
  private readonly run: StripRun = { ...PLAIN_RUN }
  private readonly runs = new FaderRuns()
  private readonly segment = newSegment()
  private readonly cubic = newCubic()
  private readonly gains = new Float64Array(PLAIN_BLOCK)
  private readonly samples = new Float32Array(PLAIN_BLOCK)
  private readonly others = new Float32Array(PLAIN_BLOCK)
  private readonly measured = new Float64Array(4)

  constructor(
    private readonly reader: SourceReader,
    private readonly fader: Fader,
    /** Into whose mix it adds. */
    private readonly kernel: StripKernel,
  ) {}

  /**
   * Adds a track of which one region sounds (see `onlyRegion`), without anything after its pan, from index `at` of the sum on: run by run, as long as its threads are one
   * formula. The same as summing, placing and adding, to the bit.
   */
  add(
    track: TrackPlan,
    index: number,
    region: RegionPlan,
    from: number,
    count: number,
    at: number,
    meter?: TrackMeter,
  ): void {
    const first = Math.max(from, region.start)
    const end = Math.min(from + count, region.end)
    if (end <= first) return
    const { measured } = this
    measured.fill(0)
    const inRuns = hasRuns(track)
    // Once for all runs: there are many where threads are bent.
    let loaded = false
    for (let frame = first; frame < end;) {
      const last = inRuns ? this.runAt(track, region, frame, end, meter !== undefined) : 0
      if (last > frame) {
        if (!loaded) this.loadSource(track, region, frame, end - frame, at + frame - from)
        loaded = true
        this.kernel.add(at + frame - from, last - frame, this.run)
        if (meter) this.keepMeasured(this.kernel.measured)
        frame = last
      } else {
        // Fades, crossfades, steps: gains and levels are written out first.
        const until = inRuns ? this.plainUntil(track, region, frame, end) : end
        this.addWrittenOut(track, region, frame, until - frame, at + frame - from, meter !== undefined)
        frame = until
      }
    }
    meter?.(index, measured[0]!, measured[1]!, measured[2]!, measured[3]!)
  }

  /**
   * Adds what came out of a strip's inserts, after volume and pan, from index `at` of the sum on: the same as placing and
   * adding it, to the bit. For strips without anything after their pan and without pans of their own for both sides.
   */
  addSound(
    strip: TrackPlan,
    index: number,
    input: number,
    sound: readonly [Float64Array, Float64Array],
    from: number,
    count: number,
    at: number,
    meter?: TrackMeter,
  ): void {
    const { measured, kernel } = this
    const measures = meter !== undefined
    measured.fill(0)
    const end = from + count
    const inRuns = hasRuns(strip)
    if (inRuns)
      for (const side of [0, 1] as const)
        kernel.sound[side].set(head(sound[Math.min(side, strip.channels - 1)]!, count))
    for (let frame = from; frame < end;) {
      const last = inRuns ? this.runs.at(strip, input, frame, end, this.run) : frame
      const offset = frame - from
      if (last > frame) {
        this.run.curved = this.runs.curved
        this.run.gain = 1
        this.run.thread = null
        this.run.wide = true
        this.run.soundAt = offset
        this.run.measures = measures
        kernel.add(at + offset, last - frame, this.run)
        if (meter) this.keepMeasured(kernel.measured)
        frame = last
      } else {
        const until = inRuns ? this.runs.exactUntil(strip, frame, end) : end
        this.addWrittenSound(strip, input, sound, frame, offset, until - frame, at + offset, measures)
        frame = until
      }
    }
    meter?.(index, measured[0]!, measured[1]!, measured[2]!, measured[3]!)
  }

  /** What came out of inserts, with a level for every frame. */
  private addWrittenSound(
    strip: TrackPlan,
    input: number,
    sound: readonly [Float64Array, Float64Array],
    first: number,
    offset: number,
    length: number,
    at: number,
    measures: boolean,
  ): void {
    const [left, right] = this.fader.levels(strip, input, first, length)
    const { measured } = this
    for (const [side, level] of [
      [0, left],
      [1, right],
    ] as const) {
      const samples = sound[Math.min(side, strip.channels - 1)]!
      const part = offset === 0 ? samples : samples.subarray(offset)
      const peak = addSide(this.kernel.mix[side], at, part, 1, level, length, measured, side, measures)
      if (measures) measured[side] = Math.max(measured[side]!, peak)
    }
  }

  /** Sets up the run of a strip at a frame; the frame after it, or the frame itself where it is no single formula. */
  private runAt(track: TrackPlan, region: RegionPlan, frame: number, end: number, measures: boolean): number {
    const { run, segment } = this
    const { fadeIn, fadeOut, crossIn, crossOut, thread } = region
    if (
      (fadeIn && frame < region.start + fadeIn.length) ||
      (crossIn && frame < crossIn.from + crossIn.length)
    )
      return frame
    let last = end
    if (fadeOut) last = Math.min(last, region.end - fadeOut.length)
    if (crossOut) last = Math.min(last, crossOut.from)
    if (last <= frame) return frame
    run.gain = region.gain
    run.thread = null
    run.curved = false
    if (thread) {
      // A thread that runs backwards, with a reversed region, is written out.
      if (region.direction !== 1) return frame
      const source = region.sourceStart + frame - region.start
      thread.segment(source, segment)
      if (segment.exact) return frame
      last = Math.min(last, frame + segment.end - source)
      run.thread = cubicAt(segment, source, this.cubic)
      run.curved = segment.cubic
      run.gain = scaledTop(region.gain)
    }
    run.measures = measures
    run.wide = false
    const until = this.runs.at(track, track.input, frame, last, run)
    run.curved ||= this.runs.curved
    return until
  }

  /** How far gains have to be written out from a frame on: until a run may begin. */
  private plainUntil(track: TrackPlan, region: RegionPlan, frame: number, end: number): number {
    const { fadeIn, fadeOut, crossIn, crossOut, thread } = region
    if (thread && region.direction !== 1) return end
    let until = end
    const through = (to: number) => {
      if (to > frame) until = Math.min(until, to)
    }
    if (fadeIn) through(region.start + fadeIn.length)
    if (crossIn) through(crossIn.from + crossIn.length)
    if (fadeOut && frame < region.end - fadeOut.length) through(region.end - fadeOut.length)
    if (crossOut && frame < crossOut.from) through(crossOut.from)
    const { segment } = this
    const along = (reader: ThreadReader | null, at: number) => {
      if (!reader) return
      reader.segment(at, segment)
      if (segment.exact) through(frame + segment.end - at)
    }
    along(thread, region.sourceStart + frame - region.start)
    return this.runs.exactUntil(track, frame, until)
  }

  private keepMeasured(of: Float64Array): void {
    const { measured } = this
    measured[0] = Math.max(measured[0]!, of[0]!)
    measured[1] = Math.max(measured[1]!, of[1]!)
    measured[2] = measured[2]! + of[2]!
    measured[3] = measured[3]! + of[3]!
  }

  /** Puts a region's samples where the kernel reads them, from index `at` on; a mono sound on both sides. */
  private loadSource(track: TrackPlan, region: RegionPlan, first: number, count: number, at: number): void {
    const [left, right] = this.kernel.source
    this.loadChannel(region, 0, first, count, left, at)
    if (region.channels === 2 && track.channels === 2) this.loadChannel(region, 1, first, count, right, at)
    else for (let i = at; i < at + count; i++) right[i] = left[i]!
  }

  /** Where it can, without an object for a part of an array: this is done for every block of a track. */
  private loadChannel(
    region: RegionPlan,
    channel: number,
    first: number,
    count: number,
    into: Float32Array,
    at: number,
  ): void {
    const view = this.view(region, channel, first, count)
    if (view) into.set(view, at)
    else if (at === 0) readRegion(this.reader, region, channel, first, count, into)
    else {
      readRegion(this.reader, region, channel, first, count, this.samples)
      into.set(head(this.samples, count), at)
    }
  }

  /** The same with a gain and a level for every frame. */
  private addWrittenOut(
    track: TrackPlan,
    region: RegionPlan,
    first: number,
    length: number,
    at: number,
    measures: boolean,
  ): void {
    const gain = regionGain(region, first, length, this.gains) ?? this.gains
    const [left, right] = this.fader.levels(track, track.input, first, length)
    const one = this.sound(region, 0, first, length, this.samples)
    const other =
      region.channels === 2 && track.channels === 2 ? this.sound(region, 1, first, length, this.others) : one
    const { measured } = this
    for (const [side, samples, level] of [
      [0, one, left],
      [1, other, right],
    ] as const) {
      const peak = addSide(this.kernel.mix[side], at, samples, gain, level, length, measured, side, measures)
      if (measures) measured[side] = Math.max(measured[side]!, peak)
    }
  }

  /** The samples of a region's channel, where they lie or copied into `into`. */
  private sound(
    region: RegionPlan,
    channel: number,
    first: number,
    count: number,
    into: Float32Array,
  ): Float32Array {
    const view = this.view(region, channel, first, count)
    if (view) return view
    readRegion(this.reader, region, channel, first, count, into)
    return into
  }

  /** The samples of a region's channel where they lie; null where they are not read as they are, or lie apart. */
  private view(region: RegionPlan, channel: number, first: number, count: number): Float32Array | null {
    if (
      region.direction !== 1 ||
      region.sides ||
      region.fadeIn?.kind === 'tape' ||
      region.fadeOut?.kind === 'tape'
    )
      return null
    const frame = region.sourceStart + first - region.start
    return this.reader.view?.(region.sourceId, channel, frame, count) ?? null
  }
}

/** A run to begin with. */
const PLAIN_RUN: StripRun = {
  ...newLevelRun(),
  gain: 1,
  thread: null,
  curved: false,
  wide: false,
  soundAt: 0,
  measures: false,
}

/**
 * The only region of a track that sounds in some frames; null where none does, where two cross, where a stereo sound is on a
 * mono track, or where each side is placed by itself.
 */
export function onlyRegion(track: TrackPlan, from: number, count: number): RegionPlan | null {
  if (track.channels === 2 && track.panMode === 'pair') return null
  const { regions } = track
  let only: RegionPlan | null = null
  for (let r = firstReaching(regions, from); r < regions.length; r++) {
    const region = regions[r]!
    if (region.start >= from + count) break
    if (region.end <= from) continue
    if (only || (region.channels === 2 && track.channels === 1)) return null
    only = region
  }
  return only
}

/**
 * Adds a side of a region to the mix at `at`: each sample times its gain times its level. With `measures` the largest
 * absolute sample that was added is returned, and the sum of the squares added to `measured[2 + side]`.
 */
function addSide(
  mix: Float64Array,
  at: number,
  samples: Float32Array | Float64Array,
  gain: number | Float64Array,
  level: number | Float64Array,
  count: number,
  measured: Float64Array,
  side: 0 | 1,
  measures: boolean,
): number {
  if (measures) return addSideMeasured(mix, at, samples, gain, level, count, measured, side)
  if (typeof gain === 'number') {
    if (typeof level === 'number')
      for (let i = 0; i < count; i++) mix[at + i] = mix[at + i]! + samples[i]! * gain * level
    else for (let i = 0; i < count; i++) mix[at + i] = mix[at + i]! + samples[i]! * gain * level[i]!
  } else if (typeof level === 'number')
    for (let i = 0; i < count; i++) mix[at + i] = mix[at + i]! + samples[i]! * gain[i]! * level
  else for (let i = 0; i < count; i++) mix[at + i] = mix[at + i]! + samples[i]! * gain[i]! * level[i]!
  return 0
}

function addSideMeasured(
  mix: Float64Array,
  at: number,
  samples: Float32Array | Float64Array,
  gain: number | Float64Array,
  level: number | Float64Array,
  count: number,
  measured: Float64Array,
  side: 0 | 1,
): number {
  let [low, high, energy] = [0, 0, 0]
  for (let i = 0; i < count; i++) {
    const x =
      samples[i]! *
      (typeof gain === 'number' ? gain : gain[i]!) *
      (typeof level === 'number' ? level : level[i]!)
    mix[at + i] = mix[at + i]! + x
    energy += x * x
    if (x > high) high = x
    else if (x < low) low = x
  }
  measured[2 + side] = measured[2 + side]! + energy
  return Math.max(high, -low)
}
