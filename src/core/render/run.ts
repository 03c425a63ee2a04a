import { newSegment, type ThreadReader, type ThreadSegment } from '../curve/thread'
import { newStripKernel, type Cubic, type StripRun } from '../dsp/kernels/strip'
import { balanceStereo, fillPan, panMono } from '../dsp/pan'
import { scaledTop } from '../units/taper'
import type { AppliedParameter, RegionPlan, RenderPlan, TrackPlan } from './plan'
import { regionGain } from './region-gain'
import { readRegion, sourceSpan } from './region-sound'
import type { SourceReader } from './source-reader'

/** A stretch of a source that a render is about to read, in source frames. */
export interface SourceSpan {
  sourceId: string
  from: number
  count: number
}

/**
 * Which point of the path is rendered: a track's regions summed, after trim, after volume and pan, or the
 * whole mix.
 */
export type Stage = 'clip' | 'insert' | 'track' | 'mix'

/**
 * Called with each audible track's largest sample (linear, left and right, as it leaves volume and pan) of
 * the frames just rendered, and with the sums of the squares of its samples.
 */
export type TrackMeter = (
  trackIndex: number,
  left: number,
  right: number,
  energyLeft: number,
  energyRight: number,
) => void

/** Frames rendered in one go; longer requests are cut into these. It has no influence on the result. */
export const RENDER_BLOCK = 1024

const firstReaching = (regions: readonly RegionPlan[], frame: number): number => {
  // Ends are not sorted where regions overlap, but at most two overlap: one step back from the last start is
  // enough.
  let low = 0
  let high = regions.length
  while (low < high) {
    const middle = (low + high) >>> 1
    if (regions[middle]!.start <= frame) low = middle + 1
    else high = middle
  }
  return Math.max(0, low - 2)
}

/** The source frames that rendering `count` session frames from `from` reads. */
export function spansNeeded(plan: RenderPlan, from: number, count: number): SourceSpan[] {
  const spans: SourceSpan[] = []
  for (const track of plan.tracks) {
    if (!track.audible) continue
    for (let r = firstReaching(track.regions, from); r < track.regions.length; r++) {
      const region = track.regions[r]!
      if (region.start >= from + count) break
      const first = Math.max(from, region.start)
      const last = Math.min(from + count, region.end) - 1
      if (last < first) continue
      spans.push(sourceSpan(region, first, last - first + 1))
    }
  }
  return spans
}

/**
 * The one renderer: playback, export, command line and tests all call it. Every output sample depends on its
 * own frame alone, so the result is the same to the bit however the frames are cut into calls. Sums and gains
 * are 64-bit, the output 32-bit.
 */
export class Renderer {
  private readonly bus = [new Float64Array(RENDER_BLOCK), new Float64Array(RENDER_BLOCK)]
  /** A track after its fader and pan; what the second channel of a pair adds to that. */
  private readonly strip = [new Float64Array(RENDER_BLOCK), new Float64Array(RENDER_BLOCK)]
  private readonly second = [new Float64Array(RENDER_BLOCK), new Float64Array(RENDER_BLOCK)]
  private readonly kernel = newStripKernel()
  private readonly mix = this.kernel.mix
  private readonly run: StripRun = { ...PLAIN_RUN }
  private readonly segments = [newSegment(), newSegment(), newSegment()] as const
  private readonly cubics = [newCubic(), newCubic(), newCubic()] as const
  private readonly gains = new Float64Array(RENDER_BLOCK)
  private readonly pans = [new Float64Array(RENDER_BLOCK), new Float64Array(RENDER_BLOCK)]
  private readonly lane = new Float64Array(RENDER_BLOCK)
  private readonly samples = new Float32Array(RENDER_BLOCK)
  private readonly others = new Float32Array(RENDER_BLOCK)
  private readonly volumes = new Float64Array(RENDER_BLOCK)
  private readonly measured = new Float64Array(4)

  constructor(
    public plan: RenderPlan,
    private readonly reader: SourceReader,
  ) {}

  /**
   * Renders the mix at session frames `from`… into `left` and `right` (`left.length` frames). Beyond the last
   * region there is silence.
   */
  render(from: number, left: Float32Array, right: Float32Array, meter?: TrackMeter): void {
    this.renderStage('mix', from, left, right, meter)
  }

  /**
   * Renders one stage; below `mix` all audible tracks of the plan are summed at that stage, mono tracks on
   * both sides.
   */
  renderStage(stage: Stage, from: number, left: Float32Array, right: Float32Array, meter?: TrackMeter): void {
    for (let done = 0; done < left.length; done += RENDER_BLOCK) {
      const count = Math.min(RENDER_BLOCK, left.length - done)
      this.block(
        stage,
        from + done,
        count,
        left.subarray(done, done + count),
        right.subarray(done, done + count),
        meter,
      )
    }
  }

  private block(
    stage: Stage,
    from: number,
    count: number,
    left: Float32Array,
    right: Float32Array,
    meter?: TrackMeter,
  ): void {
    const [mixLeft, mixRight] = this.mix
    mixLeft.fill(0, 0, count)
    mixRight.fill(0, 0, count)
    const { tracks } = this.plan
    for (let t = 0; t < tracks.length; t++) {
      const track = tracks[t]!
      if (!track.audible) continue
      if (stage === 'track' || stage === 'mix') {
        const only = onlyRegion(track, from, count)
        if (only) {
          this.addAlone(track, t, only, from, count, meter)
          continue
        }
      }
      if (!this.sumRegions(track, from, count)) continue
      if (stage === 'clip' || stage === 'insert')
        this.addUnpanned(track, stage === 'insert' ? track.input : 1, count)
      else this.addTrack(track, t, from, count, meter)
    }
    if (stage === 'mix' && this.plan.afterPan.length) return this.putOutApplied(from, count, left, right)
    const volume = stage === 'mix' ? this.mixGain(from, count) : 1
    const pans = stage === 'mix' ? this.mixPan(from, count) : { left: 1, right: 1 }
    this.putOut(mixLeft, left, volume, pans.left, count)
    this.putOut(mixRight, right, volume, pans.right, count)
  }

  /** The mix where something acts after its pan: volume and pan first, then that, then out. */
  private putOutApplied(from: number, count: number, left: Float32Array, right: Float32Array): void {
    const volume = this.mixGain(from, count)
    const pans = this.mixPan(from, count)
    const [mixLeft, mixRight] = this.mix
    scale(mixLeft, volume, pans.left, count)
    scale(mixRight, volume, pans.right, count)
    this.applyAfterPan(this.plan.afterPan, this.mix, from, count)
    this.putOut(mixLeft, left, 1, 1, count)
    this.putOut(mixRight, right, 1, 1, count)
  }

  private applyAfterPan(
    parameters: readonly AppliedParameter[],
    channels: readonly Float64Array[],
    from: number,
    count: number,
  ): void {
    for (const { apply, value, lane } of parameters) {
      const same = lane ? lane.constant(from, count) : value
      if (lane && same === null) lane.fill(from, count, this.lane)
      apply(channels, same ?? this.lane, count)
    }
  }

  private mixGain(from: number, count: number): number | Float64Array {
    const { volumeLane, volume } = this.plan
    return volumeLane ? this.laneGain(volumeLane, from, count) : volume
  }

  private mixPan(from: number, count: number): { left: number | Float64Array; right: number | Float64Array } {
    const { panLane, pan } = this.plan
    if (!panLane) return balanceStereo(pan)
    const [left, right] = this.pans as [Float64Array, Float64Array]
    panLane.fill(from, count, this.lane)
    fillPan(null, this.lane, count, left, right)
    return { left, right }
  }

  private putOut(
    mix: Float64Array,
    out: Float32Array,
    volume: number | Float64Array,
    pan: number | Float64Array,
    count: number,
  ): void {
    const { listen } = this.plan
    if (typeof volume === 'number' && typeof pan === 'number') {
      const gain = volume * pan
      for (let i = 0; i < count; i++) out[i] = mix[i]! * gain * listen
    } else if (typeof pan === 'number')
      for (let i = 0; i < count; i++) out[i] = mix[i]! * ((volume as Float64Array)[i]! * pan) * listen
    else if (typeof volume === 'number')
      for (let i = 0; i < count; i++) out[i] = mix[i]! * (volume * pan[i]!) * listen
    else for (let i = 0; i < count; i++) out[i] = mix[i]! * (volume[i]! * pan[i]!) * listen
  }

  private laneGain(
    lane: NonNullable<RenderPlan['volumeLane']>,
    from: number,
    count: number,
    factor = 1,
    into = this.gains,
  ): number | Float64Array {
    const same = lane.constant(from, count)
    if (same !== null) return same * same * same * scaledTop(factor)
    lane.fillGains(from, count, factor, into)
    return into
  }

  /**
   * Adds a track of which one region sounds, without anything after its pan: run by run, as long as its threads are one
   * formula. The same as summing, placing and adding, to the bit.
   */
  private addAlone(
    track: TrackPlan,
    index: number,
    region: RegionPlan,
    from: number,
    count: number,
    meter?: TrackMeter,
  ): void {
    const first = Math.max(from, region.start)
    const end = Math.min(from + count, region.end)
    if (end <= first) return
    const { measured } = this
    measured.fill(0)
    const law = track.channels === 1 ? this.plan.panLaw : null
    const kernelHasLaw = law === null || law === 'equal-power'
    for (let frame = first; frame < end;) {
      const last = kernelHasLaw ? this.runAt(track, region, frame, end, meter !== undefined) : 0
      if (last > frame) {
        this.loadSource(track, region, frame, last - frame)
        this.kernel.add(frame - from, last - frame, this.run)
        if (meter) this.keepMeasured(this.kernel.measured)
        frame = last
      } else {
        // Fades, crossfades, steps: gains and levels are written out first.
        const until = kernelHasLaw ? this.plainUntil(track, region, frame, end) : end
        this.addWrittenOut(track, region, frame, until - frame, frame - from, meter !== undefined)
        frame = until
      }
    }
    meter?.(index, measured[0]!, measured[1]!, measured[2]!, measured[3]!)
  }

  /** Sets up the run of a strip at a frame; the frame after it, or the frame itself where it is no single formula. */
  private runAt(track: TrackPlan, region: RegionPlan, frame: number, end: number, measures: boolean): number {
    const { run, segments } = this
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
      const segment = segments[0]
      thread.segment(source, segment)
      if (segment.exact) return frame
      last = Math.min(last, frame + segment.end - source)
      run.thread = cubicAt(segment, source, this.cubics[0])
      run.curved = segment.cubic
      run.gain = scaledTop(region.gain)
    }
    run.level = track.input * track.volume
    run.volumeLane = null
    if (track.volumeLane) {
      track.volumeLane.segment(frame, segments[1])
      if (segments[1].exact) return frame
      last = Math.min(last, segments[1].end)
      run.volumeLane = cubicAt(segments[1], frame, this.cubics[1])
      run.curved ||= segments[1].cubic
      run.level = scaledTop(track.input)
    }
    run.pan = 'still'
    run.panLane = null
    let pan = track.pan
    if (track.panLane) {
      track.panLane.segment(frame, segments[2])
      const { exact, cubic, c0, c1, end: until } = segments[2]
      if (exact) return frame
      last = Math.min(last, until)
      if (cubic || c1 !== 0) {
        run.pan = track.channels === 1 ? 'equal-power' : 'balance'
        run.panLane = cubicAt(segments[2], frame, this.cubics[2])
        run.curved ||= cubic
      } else pan = c0
    }
    if (run.pan === 'still') {
      const still = track.channels === 1 ? panMono('equal-power', pan) : balanceStereo(pan)
      run.left = still.left
      run.right = still.right
    }
    run.measures = measures
    return last
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
    const segment = this.segments[0]
    const along = (reader: ThreadReader | null, at: number) => {
      if (!reader) return
      reader.segment(at, segment)
      if (segment.exact) through(frame + segment.end - at)
    }
    along(thread, region.sourceStart + frame - region.start)
    along(track.volumeLane, frame)
    along(track.panLane, frame)
    return until
  }

  private keepMeasured(of: Float64Array): void {
    const { measured } = this
    measured[0] = Math.max(measured[0]!, of[0]!)
    measured[1] = Math.max(measured[1]!, of[1]!)
    measured[2] = measured[2]! + of[2]!
    measured[3] = measured[3]! + of[3]!
  }

  /** Puts a region's samples where the kernel reads them; a mono sound on both sides. */
  private loadSource(track: TrackPlan, region: RegionPlan, first: number, count: number): void {
    const [left, right] = this.kernel.source
    const one = this.sound(region, 0, first, count, this.samples)
    left.set(one.length === count ? one : one.subarray(0, count))
    const other =
      region.channels === 2 && track.channels === 2 ? this.sound(region, 1, first, count, this.others) : one
    right.set(other.length === count ? other : other.subarray(0, count))
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
    const [left, right] = this.levelsOf(track, first, length)
    const one = this.sound(region, 0, first, length, this.samples)
    const other =
      region.channels === 2 && track.channels === 2 ? this.sound(region, 1, first, length, this.others) : one
    const { measured } = this
    for (const [side, samples, level] of [
      [0, one, left],
      [1, other, right],
    ] as const) {
      const peak = addSide(this.mix[side], at, samples, gain, level, length, measured, side, measures)
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
    const view =
      region.direction === 1 && region.fadeIn?.kind !== 'tape' && region.fadeOut?.kind !== 'tape'
        ? this.reader.view?.(region.sourceId, channel, region.sourceStart + first - region.start, count)
        : null
    if (view) return view
    readRegion(this.reader, region, channel, first, count, into)
    return into
  }

  /** What of a track goes to the left and to the right of the mix after trim, volume and pan: a number or one a frame. */
  private levelsOf(
    track: TrackPlan,
    from: number,
    count: number,
  ): [left: number | Float64Array, right: number | Float64Array] {
    const volume = track.volumeLane
      ? this.laneGain(track.volumeLane, from, count, track.input, this.volumes)
      : track.input * track.volume
    const [panLeft, panRight] = this.pans as [Float64Array, Float64Array]
    const law = track.channels === 1 ? this.plan.panLaw : null
    const still = track.panLane ? track.panLane.constant(from, count) : track.pan
    if (still !== null) {
      const pan = law ? panMono(law, still) : balanceStereo(still)
      if (typeof volume === 'number') return [volume * pan.left, volume * pan.right]
      for (let i = 0; i < count; i++) {
        panLeft[i] = volume[i]! * pan.left
        panRight[i] = volume[i]! * pan.right
      }
      return [panLeft, panRight]
    }
    track.panLane!.fill(from, count, this.lane)
    fillPan(law, this.lane, count, panLeft, panRight)
    for (let i = 0; i < count; i++) {
      const level = typeof volume === 'number' ? volume : volume[i]!
      panLeft[i] = level * panLeft[i]!
      panRight[i] = level * panRight[i]!
    }
    return [panLeft, panRight]
  }

  /** Sums the regions of a track into the bus; false when none sounds in these frames. */
  private sumRegions(track: TrackPlan, from: number, count: number): boolean {
    const regions = track.regions
    let any = false
    for (let r = firstReaching(regions, from); r < regions.length; r++) {
      const region = regions[r]!
      if (region.start >= from + count) break
      const first = Math.max(from, region.start)
      const length = Math.min(from + count, region.end) - first
      if (length <= 0) continue
      if (!any) for (let c = 0; c < track.channels; c++) this.bus[c]!.fill(0, 0, count)
      any = true
      this.addRegion(track, region, first, length, first - from)
    }
    return any
  }

  private addRegion(track: TrackPlan, region: RegionPlan, first: number, length: number, at: number): void {
    const same = regionGain(region, first, length, this.gains)
    // A stereo source on a mono track is summed at half level; a mono source sounds on every channel.
    const scale = region.channels === 2 && track.channels === 1 ? 0.5 : 1
    const inputs = Math.max(region.channels, track.channels)
    for (let c = 0; c < inputs; c++) {
      if (c < region.channels) readRegion(this.reader, region, c, first, length, this.samples)
      const bus = this.bus[Math.min(c, track.channels - 1)]!
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

  private addUnpanned(track: TrackPlan, gain: number, count: number): void {
    for (let c = 0; c < 2; c++) {
      const bus = this.bus[Math.min(c, track.channels - 1)]!
      const mix = this.mix[c]!
      for (let i = 0; i < count; i++) mix[i] = mix[i]! + bus[i]! * gain
    }
  }

  /** Adds a track to the mix as it leaves its fader and pan, and measures exactly that. */
  private addTrack(track: TrackPlan, index: number, from: number, count: number, meter?: TrackMeter): void {
    const volume = track.volumeLane
      ? this.laneGain(track.volumeLane, from, count, track.input)
      : track.input * track.volume
    const [left, right] = this.strip as [Float64Array, Float64Array]
    const [first, last] = [this.bus[0]!, this.bus[track.channels - 1]!]
    if (track.channels === 2 && track.panMode === 'pair') this.placePair(track, from, count, volume)
    else if (track.panLane) {
      const [panLeft, panRight] = this.pans as [Float64Array, Float64Array]
      track.panLane.fill(from, count, this.lane)
      fillPan(track.channels === 1 ? this.plan.panLaw : null, this.lane, count, panLeft, panRight)
      placeMoving(left, first, volume, panLeft, count)
      placeMoving(right, last, volume, panRight, count)
    } else {
      const pan = track.channels === 1 ? panMono(this.plan.panLaw, track.pan) : balanceStereo(track.pan)
      placeStill(left, first, volume, pan.left, count)
      placeStill(right, last, volume, pan.right, count)
    }
    this.applyAfterPan(track.afterPan, this.strip, from, count)
    const [mixLeft, mixRight] = this.mix
    if (meter) {
      const peakLeft = addMeasured(mixLeft, left, count)
      const energyLeft = addedEnergy
      const peakRight = addMeasured(mixRight, right, count)
      meter(index, peakLeft, peakRight, energyLeft, addedEnergy)
    } else {
      add(mixLeft, left, count)
      add(mixRight, right, count)
    }
  }

  /** Pair mode: each channel placed by equal power with a pan of its own; without lanes, hard left and hard right. */
  private placePair(track: TrackPlan, from: number, count: number, volume: number | Float64Array): void {
    const lanes = [track.panLeftLane, track.panRightLane]
    const [panLeft, panRight] = this.pans as [Float64Array, Float64Array]
    for (let c = 0; c < 2; c++) {
      const lane = lanes[c]
      if (lane) lane.fill(from, count, this.lane)
      else this.lane.fill(c === 0 ? -1 : 1, 0, count)
      fillPan('equal-power', this.lane, count, panLeft, panRight)
      const into = c === 0 ? this.strip : this.second
      placeMoving(into[0]!, this.bus[c]!, volume, panLeft, count)
      placeMoving(into[1]!, this.bus[c]!, volume, panRight, count)
    }
    add(this.strip[0]!, this.second[0]!, count)
    add(this.strip[1]!, this.second[1]!, count)
  }
}

/** A run to begin with. */
const PLAIN_RUN: StripRun = {
  gain: 1,
  thread: null,
  level: 1,
  volumeLane: null,
  curved: false,
  pan: 'still',
  left: 1,
  right: 1,
  panLane: null,
  measures: false,
}

const newCubic = (): Cubic => ({ start: 0, c0: 0, c1: 0, c2: 0, c3: 0 })

/** A segment as the cubic of a run that begins at a frame of it. */
function cubicAt({ origin, c0, c1, c2, c3 }: ThreadSegment, frame: number, into: Cubic): Cubic {
  into.start = frame - origin
  into.c0 = c0
  into.c1 = c1
  into.c2 = c2
  into.c3 = c3
  return into
}

/**
 * The only region of a track that sounds in some frames; null where none does, where two cross, where a stereo sound is on a
 * mono track, or where something acts after the pan or on each side by itself.
 */
function onlyRegion(track: TrackPlan, from: number, count: number): RegionPlan | null {
  if (track.afterPan.length > 0 || (track.channels === 2 && track.panMode === 'pair')) return null
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
  samples: Float32Array,
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
  samples: Float32Array,
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

/** `bus` after trim and volume, and a pan that stays. */
function placeStill(
  out: Float64Array,
  bus: Float64Array,
  volume: number | Float64Array,
  pan: number,
  count: number,
): void {
  if (typeof volume === 'number') {
    const gain = volume * pan
    for (let i = 0; i < count; i++) out[i] = bus[i]! * gain
  } else for (let i = 0; i < count; i++) out[i] = bus[i]! * (volume[i]! * pan)
}

/** `bus` after trim and volume, and a pan of its own for every frame. */
function placeMoving(
  out: Float64Array,
  bus: Float64Array,
  volume: number | Float64Array,
  pans: Float64Array,
  count: number,
): void {
  if (typeof volume === 'number') for (let i = 0; i < count; i++) out[i] = bus[i]! * (volume * pans[i]!)
  else for (let i = 0; i < count; i++) out[i] = bus[i]! * (volume[i]! * pans[i]!)
}

/** Samples after a volume and a pan, in place. */
function scale(
  samples: Float64Array,
  volume: number | Float64Array,
  pan: number | Float64Array,
  count: number,
): void {
  for (let i = 0; i < count; i++) {
    const level = typeof volume === 'number' ? volume : volume[i]!
    samples[i] = samples[i]! * (level * (typeof pan === 'number' ? pan : pan[i]!))
  }
}

function add(sum: Float64Array, samples: Float64Array, count: number): void {
  for (let i = 0; i < count; i++) sum[i] = sum[i]! + samples[i]!
}

/** The sum of the squares of what `addMeasured` added last. */
let addedEnergy = 0

/** The same, and the largest absolute sample that was added. */
function addMeasured(sum: Float64Array, samples: Float64Array, count: number): number {
  let [low, high, energy] = [0, 0, 0]
  for (let i = 0; i < count; i++) {
    const x = samples[i]!
    sum[i] = sum[i]! + x
    energy += x * x
    if (x > high) high = x
    else if (x < low) low = x
  }
  addedEnergy = energy
  return Math.max(high, -low)
}
