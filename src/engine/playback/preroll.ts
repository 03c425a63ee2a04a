import { spansNeeded, type Renderer, type RenderPlan } from '../../core/render'
import type { SoundCache } from '../storage'

/** Seconds that are rendered, and not heard, before a place at which playing begins. */
const MOST_SECONDS = 4

/** Frames rendered in one go where nobody hears them. */
const PREROLL_FRAMES = 8192

/**
 * The session frame from which is rendered so that things remember what they should at a frame: as far back as it matters,
 * at most a few seconds unless `whole`.
 */
export function prerollFrom({ memory, sampleRate }: RenderPlan, frame: number, whole = false): number {
  if (!memory.remembers) return frame
  const far = whole ? memory.settleFrames : Math.min(memory.settleFrames, MOST_SECONDS * sampleRate)
  return Math.max(0, frame - far)
}

/** How a preroll differs from the usual one. */
interface PrerollOptions {
  /** The session frame at which it begins; see `prerollFrom`. */
  from?: number
  /** Frames rendered in one go. */
  sliceFrames?: number
  /** Is given what is rendered. */
  hear?(left: Float32Array, right: Float32Array): void
}

/**
 * Renders what comes before a session frame, so that everything in a renderer remembers there what it should. A slice at a time: between
 * them the caller can do other things, or give up.
 */
export class Preroller {
  /** Up to this session frame it has been rendered. */
  private renderedUntil: number

  constructor(
    private readonly renderer: Renderer,
    private readonly cache: SoundCache,
    /** The session frame that comes next in the end. */
    readonly target: number,
    private readonly options: PrerollOptions = {},
  ) {
    this.renderedUntil = Math.min(target, options.from ?? prerollFrom(renderer.plan, target))
    renderer.jump(this.renderedUntil)
  }

  get isDone(): boolean {
    return this.renderedUntil === this.target
  }

  /** Renders a slice, or returns what to wait for where its sound must be fetched first; that rejects when it cannot be read. */
  step(): Promise<unknown> | null {
    const { renderer, renderedUntil, target } = this
    const { sliceFrames = PREROLL_FRAMES, hear } = this.options
    const count = Math.min(sliceFrames, target - renderedUntil)
    const wait = this.cache.ensure(spansNeeded(renderer.plan, renderedUntil, count))
    if (wait) return wait
    const [left, right] = [new Float32Array(count), new Float32Array(count)]
    renderer.render(renderedUntil, left, right)
    this.renderedUntil += count
    hear?.(left, right)
    return null
  }
}
