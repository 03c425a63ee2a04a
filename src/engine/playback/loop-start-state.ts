import { Renderer, type KeptRender, type RenderPlan } from '../../core/render'
import type { SoundCache } from '../storage'
import { Preroller, prerollFrom } from './preroll'

/** Frames rendered in one go: few, because an edit of what plays may come meanwhile. */
const SLICE_FRAMES = 2048

/**
 * What is remembered where a loop begins, as the file has it there: at each turn rendering goes on from that. It is made by a
 * renderer of its own, a slice at a time: first from a few seconds before, so that there is something to turn to, then from so
 * far before that nothing earlier matters.
 */
export class LoopStartState {
  private made: { kept: KeptRender; plan: RenderPlan; whole: boolean } | null = null
  private making: { plan: RenderPlan; preroller: Preroller; whole: boolean } | null = null
  /** What it is made with. It is taken along to the next plan: its memory may be large. */
  private renderer: Renderer | null = null
  private from: number | null = null

  constructor(private readonly cache: SoundCache) {}

  /** Where the loop begins; null without a loop. */
  setFrom(from: number | null): void {
    if (from === this.from) return
    this.from = from
    if (from === null) this.renderer = null
    this.made = this.making = null
  }

  /** What to go on from at a turn; null where it must be made first. What was made before an edit serves until it is made anew. */
  get kept(): KeptRender | null {
    return this.made?.kept ?? null
  }

  /** By how many frames that has been rendered ahead. */
  get aheadFrames(): number {
    return this.made?.plan.memory.aheadFrames ?? 0
  }

  /** Whether that was made under a plan. */
  isFor(plan: RenderPlan): boolean {
    return this.made?.plan === plan
  }

  /** Makes a slice of what is missing. Resolves to whether anything was; rejects when sound cannot be read. */
  async step(plan: RenderPlan): Promise<boolean> {
    const { from, made } = this
    if (from === null || !plan.memory.remembers) return false
    if (made?.whole && made.plan === plan) return false
    const making = this.makingOf(plan, from)
    if (!making.preroller.isDone) {
      await making.preroller.step()
      return true
    }
    this.made = { kept: this.renderer!.takeSnapshot(), plan, whole: making.whole }
    this.making = this.renderer = null
    return true
  }

  private makingOf(plan: RenderPlan, from: number): NonNullable<LoopStartState['making']> {
    if (this.making?.plan === plan) return this.making
    const whole = this.made !== null
    const at = prerollFrom(plan, from, whole)
    this.renderer ??= new Renderer(plan, this.cache)
    this.renderer.plan = plan
    return (this.making = {
      plan,
      preroller: new Preroller(this.renderer, this.cache, from, { from: at, sliceFrames: SLICE_FRAMES }),
      whole: whole || at <= from - plan.memory.settleFrames || at === 0,
    })
  }
}
