import type { Session } from '../core/model/session'
import {
  ChainRender,
  CHUNK_FRAMES,
  planSession,
  Renderer,
  spansNeeded,
  stemPlan,
  type ChainSlice,
  type RenderPlan,
  type SourceReader,
  type Stage,
} from '../core/render'
import type { SoundCache } from './audio-store'

/** Frames that are fetched ahead. */
const AHEAD = 2 * CHUNK_FRAMES

/** What a render that several workers share is of. */
export interface SharedRender {
  session: Session
  /** The measured ρ of crossfades. */
  correlations: ReadonlyMap<string, number>
  unshaped: boolean
  trackIds: readonly string[] | null
  /** The strip that is rendered as a stem; null for none. */
  stemId?: string | null
  stage: Exclude<Stage, 'clip'>
  /** The session frame from which is rendered. */
  start: number
}

/** What a worker is told: what is rendered, and which tracks' inserts are its part; then one slice after the other. */
export type SliceMessage =
  | { type: 'begin'; render: SharedRender; part: readonly string[] }
  | { type: 'frames'; at: number; count: number }
  | { type: 'chains'; count: number }

/** What it answers: a piece of what comes out in the end, or of what comes out of the inserts of its part. */
export type SliceReply =
  | { type: 'frames'; at: number; left: Float32Array<ArrayBuffer>; right: Float32Array<ArrayBuffer> }
  | { type: 'chains'; slices: [trackId: string, slice: ChainSlice][] }
  | { type: 'fault'; insertId: string }
  | { type: 'failed'; message: string }

/** The plan of a shared render. Every worker makes its own: what reads lanes cannot be sent. */
export function sharedPlan({ session, correlations, unshaped, trackIds, stemId }: SharedRender): RenderPlan {
  const plan = planSession(session, { correlations, unshaped, ...(trackIds ? { trackIds } : {}) })
  return stemId ? stemPlan(plan, stemId) : plan
}

/** The work of a slice worker, without the worker. */
export class SliceRender {
  private readonly plan: RenderPlan
  private readonly chains: [string, ChainRender][]
  private readonly renderer: Renderer
  private at: number

  constructor(
    private readonly render: SharedRender,
    part: readonly string[],
    private readonly cache: Pick<SoundCache, 'using'> & SourceReader,
    onFault: (insertId: string) => void,
  ) {
    this.plan = sharedPlan(render)
    this.at = render.start
    this.renderer = new Renderer(this.plan, cache, { onFault })
    this.chains = this.plan.tracks
      .filter((track) => part.includes(track.id))
      .map((track) => [track.id, new ChainRender(track, render.start, cache, onFault)])
  }

  /** Frames of what comes out in the end; only where nothing remembers. */
  async frames(at: number, count: number): Promise<SliceReply> {
    const [left, right] = [new Float32Array(count), new Float32Array(count)]
    await this.cache.using(
      spansNeeded(this.plan, at, count),
      () => this.renderer.renderStage(this.render.stage, at, left, right),
      spansNeeded(this.plan, at + count, AHEAD),
    )
    return { type: 'frames', at, left, right }
  }

  /** The next frames of what comes out of the inserts of its part. */
  async nextChains(count: number): Promise<SliceReply> {
    const own = new Set(this.chains.map(([id]) => id))
    const others = { has: (id: string) => !own.has(id) }
    const slices = await this.cache.using(
      spansNeeded(this.plan, this.at, count, others),
      () => this.chains.map(([id, chain]): [string, ChainSlice] => [id, chain.next(count)]),
      spansNeeded(this.plan, this.at + count, AHEAD, others),
    )
    this.at += count
    return { type: 'chains', slices }
  }
}
