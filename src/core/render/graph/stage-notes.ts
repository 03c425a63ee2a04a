import type { Fader } from '../fader/fader'
import { stageId, type Probe, type ProbedStage } from './probe'
import { RegionSum } from '../region/region-sum'
import { blockSides } from '../render-block'
import type { FaderPlan, RegionPlan, TrackPlan } from '../plan/render-plan'
import type { SourceReader } from '../region/source-reader'

/**
 * Tells a probe how loud a watched strip is at the stages around its inserts, which the renderer takes in one loop: after clip
 * gain, thread and fades of its regions, after its trim, its volume and its pan. What is put out is not touched.
 */
export class StageNotes {
  private readonly sums: RegionSum
  private readonly sound = blockSides()
  private readonly trimmed = blockSides()
  /** The regions of a plan as far as a stage, made when first asked for. */
  private readonly cut = new WeakMap<RegionPlan[], Record<'clip-gain' | 'gain-thread', TrackPlan>>()

  constructor(
    private readonly probe: Probe,
    reader: SourceReader,
    private readonly fader: Fader,
  ) {
    this.sums = new RegionSum(reader)
  }

  watches(stripId: string | null): boolean {
    return this.probe.watchesStages?.(stripId) ?? false
  }

  /** The regions of a track from session frame `from` on, and what they are after its trim. */
  regions(plan: TrackPlan, from: number, count: number): void {
    if (!this.probe.onlyPan) {
      const { 'clip-gain': clip, 'gain-thread': thread } = this.cutOf(plan)
      this.regionStage(clip, 'clip-gain', from, count)
      this.regionStage(thread, 'gain-thread', from, count)
    }
    if (this.regionStage(plan, 'fades', from, count)) this.trim(plan, this.sound, from, count)
  }

  /** What comes into a strip, before its trim. */
  trim(plan: TrackPlan, input: readonly Float64Array[], from: number, count: number): void {
    for (const side of [0, 1] as const) {
      const [out, samples] = [this.trimmed[side], input[Math.min(side, plan.inputChannels - 1)]!]
      for (let i = 0; i < count; i++) out[i] = samples[i]! * plan.input
    }
    this.note(plan.id, 'trim', plan.inputChannels, from, count, this.trimmed)
  }

  /**
   * A strip that goes on without inserts: what its regions are after its trim stands ready from `regions`, and `input` gives no
   * factor any more.
   */
  faderAfterTrim(plan: TrackPlan, from: number, count: number): void {
    this.faderStages(plan.id, plan, 1, this.trimmed, from, count)
  }

  /** What leaves the inserts of a strip, times `input`, after its volume and after its pan. */
  faderStages(
    stripId: string | null,
    plan: FaderPlan,
    input: number,
    sound: readonly Float64Array[],
    from: number,
    count: number,
  ): void {
    if (!this.probe.onlyPan) {
      this.fader.turn(plan, input, sound, from, count, this.sound)
      this.note(stripId, 'volume', plan.channels, from, count)
    }
    this.fader.place(plan, input, sound, from, count, this.sound)
    this.note(stripId, 'pan', 2, from, count)
  }

  private regionStage(plan: TrackPlan, stage: ProbedStage, from: number, count: number): boolean {
    const heard = this.sums.sum(plan, plan.inputChannels, from, count, this.sound)
    if (heard) this.note(plan.id, stage, plan.inputChannels, from, count)
    return heard
  }

  private note(
    stripId: string | null,
    stage: ProbedStage,
    channels: 1 | 2,
    from: number,
    count: number,
    sound = this.sound,
  ): void {
    this.probe.note(stripId, stageId(stage), sound, channels, count, null, from, 0)
  }

  private cutOf(plan: TrackPlan): Record<'clip-gain' | 'gain-thread', TrackPlan> {
    const known = this.cut.get(plan.regions)
    if (known) return known
    const unfaded = plan.regions.map((region) => ({
      ...region,
      fadeIn: null,
      fadeOut: null,
      crossIn: null,
      crossOut: null,
    }))
    const made = {
      'clip-gain': { ...plan, regions: unfaded.map((region) => ({ ...region, thread: null })) },
      'gain-thread': { ...plan, regions: unfaded },
    }
    this.cut.set(plan.regions, made)
    return made
  }
}
