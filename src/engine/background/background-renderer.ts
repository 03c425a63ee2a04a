import { Renderer, spansNeeded, type RenderPlan, type TrackMeter } from '../../core/render'
import type { SoundCache } from '../storage'
import { PREROLL_FRAMES, prerollFrom } from '../playback'

/**
 * A renderer that works beside what is heard, for several in turn: what remembers much takes much room, so there is one of them. Whoever
 * has it goes on where it left off, unless another one had it meanwhile.
 */
export class BackgroundRenderer {
  private renderer: Renderer | null = null
  /** The session frame that comes next under the renderer's plan; -1 for none. */
  private next = -1

  constructor(private readonly cache: SoundCache) {}

  /** Whether a session frame comes next under a plan. */
  isAt(plan: RenderPlan, frame: number): boolean {
    return this.renderer?.plan === plan && this.next === frame
  }

  /**
   * Lets the renderer remember what it should at a frame, from `settling` frames before that on; `hear` is given what is rendered on
   * the way, `isWanted` is asked again and again. Rejects when sound cannot be read.
   */
  async bringTo(
    plan: RenderPlan,
    frame: number,
    isWanted: () => boolean,
    settling = 0,
    hear: (left: Float32Array, right: Float32Array) => void = () => undefined,
  ): Promise<void> {
    const renderer = (this.renderer ??= new Renderer(plan, this.cache))
    renderer.plan = plan
    let at = Math.max(0, prerollFrom(plan, frame) - settling)
    renderer.jump(at)
    this.next = at
    while (at < frame && isWanted()) {
      const count = Math.min(PREROLL_FRAMES, frame - at)
      const [left, right] = [new Float32Array(count), new Float32Array(count)]
      await this.cache.using(spansNeeded(plan, at, count), () => {
        if (isWanted()) this.render(at, left, right)
      })
      if (!isWanted()) return
      hear(left, right)
      at += count
    }
  }

  /** Renders the session frames from `from` on. The cache must have what they need. */
  render(from: number, left: Float32Array, right: Float32Array, meter?: TrackMeter): void {
    this.renderer!.render(from, left, right, meter)
    this.next = from + left.length
  }

  /** Lets go of all that it remembers. */
  rest(): void {
    this.renderer = null
    this.next = -1
  }
}
