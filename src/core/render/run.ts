import { newStripKernel } from '../dsp/kernels/strip'
import { add, addMeasured, Fader } from './fader'
import { FusedTrack, onlyRegion } from './fused-track'
import type { RenderPlan, TrackPlan } from './plan'
import { RegionSum } from './region-sum'
import { RENDER_BLOCK } from './render-block'
import type { SourceReader } from './source-reader'
import type { Stage, TrackMeter } from './stage'

/**
 * The one renderer: playback, export, command line and tests all call it. Every output sample depends on its
 * own frame alone, so the result is the same to the bit however the frames are cut into calls. Sums and gains
 * are 64-bit, the output 32-bit.
 */
export class Renderer {
  private readonly sound = [new Float64Array(RENDER_BLOCK), new Float64Array(RENDER_BLOCK)] as const
  private readonly placed = [new Float64Array(RENDER_BLOCK), new Float64Array(RENDER_BLOCK)] as const
  private readonly kernel = newStripKernel()
  private readonly fader = new Fader()
  private readonly regions: RegionSum
  private readonly fused: FusedTrack
  private readonly measured = [
    { peak: 0, energy: 0 },
    { peak: 0, energy: 0 },
  ] as const

  constructor(
    public plan: RenderPlan,
    reader: SourceReader,
  ) {
    this.regions = new RegionSum(reader)
    this.fused = new FusedTrack(reader, this.fader, this.kernel)
  }

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
    const { mix } = this.kernel
    for (const side of mix) side.fill(0, 0, count)
    const { tracks } = this.plan
    for (let t = 0; t < tracks.length; t++) {
      const track = tracks[t]!
      if (!track.audible) continue
      if (stage === 'track' || stage === 'mix') {
        const only = onlyRegion(track, from, count)
        if (only) {
          this.fused.add(track, t, only, from, count, meter)
          continue
        }
      }
      if (!this.regions.sum(track, from, count, this.sound)) continue
      if (stage === 'clip' || stage === 'insert')
        this.addUnpanned(track, stage === 'insert' ? track.input : 1, count)
      else this.addTrack(track, t, from, count, meter)
    }
    const { listen } = this.plan
    if (stage === 'mix') {
      this.fader.place(this.plan.mix, this.plan.mix.input, mix, from, count, this.placed)
      for (const [side, out] of [left, right].entries())
        for (let i = 0; i < count; i++) out[i] = this.placed[side]![i]! * listen
    } else
      for (const [side, out] of [left, right].entries())
        for (let i = 0; i < count; i++) out[i] = mix[side]![i]! * listen
  }

  private addUnpanned(track: TrackPlan, gain: number, count: number): void {
    for (let c = 0; c < 2; c++) {
      const sound = this.sound[Math.min(c, track.channels - 1)]!
      const mix = this.kernel.mix[c]!
      for (let i = 0; i < count; i++) mix[i] = mix[i]! + sound[i]! * gain
    }
  }

  /** Adds a track to the mix as it leaves its fader and pan, and measures exactly that. */
  private addTrack(track: TrackPlan, index: number, from: number, count: number, meter?: TrackMeter): void {
    this.fader.place(track, track.input, this.sound, from, count, this.placed)
    const { mix } = this.kernel
    if (!meter) {
      add(mix[0], this.placed[0], count)
      add(mix[1], this.placed[1], count)
      return
    }
    const [left, right] = this.measured
    addMeasured(mix[0], this.placed[0], count, left)
    addMeasured(mix[1], this.placed[1], count, right)
    meter(index, left.peak, right.peak, left.energy, right.energy)
  }
}
