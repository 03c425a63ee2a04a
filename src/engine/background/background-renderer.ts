import { Renderer, type RenderPlan, type TrackMeter } from '../../core/render'
import type { SoundCache } from '../storage'
import { Preroller, prerollFrom } from '../playback'

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
    this.next = -1
    const from = Math.max(0, prerollFrom(plan, frame) - settling)
    const preroller = new Preroller(renderer, this.cache, frame, { from, hear })
    while (!preroller.isDone) {
      await preroller.step()
      if (!isWanted()) return
    }
    this.next = frame
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
