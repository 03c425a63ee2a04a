import type { Session } from '../../core/model/session'
import {
  CHUNK_FRAMES,
  planSession,
  RELAY_SLICE,
  RelayLink,
  RelayRender,
  Renderer,
  spansNeeded,
  stemPlan,
  type RenderPlan,
  type SourceReader,
  type Stage,
} from '../../core/render'
import type { SoundCache } from '../storage'

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

/** A part of the strips of a shared render: see `RelayRender`. Only the last one, without `after`, has something to put out. */
export interface StripPart {
  from: number
  to: number
  before: SharedArrayBuffer | null
  after: SharedArrayBuffer | null
  /** Slices that lie between two parts at most. */
  slots: number
  /** The session frames that are put out: first ≤ n < end. */
  first: number
  end: number
}

/** What a worker is told: what is rendered, any frames or some of its strips; then one slice after the other. */
export type SliceMessage =
  | { type: 'begin'; render: SharedRender; part: StripPart | null }
  | { type: 'frames'; at: number; count: number }
  | { type: 'next' }

/** What it answers: with which session frame its slices begin; a piece of what comes out in the end, or nothing of it. */
export type SliceReply =
  | { type: 'begun'; first: number }
  | { type: 'frames'; at: number; left: Float32Array<ArrayBuffer>; right: Float32Array<ArrayBuffer> }
  | { type: 'fault'; insertId: string }
  | { type: 'failed'; message: string }

/** The plan of a shared render. Every worker makes its own: what reads lanes cannot be sent. */
export function sharedPlan({ session, correlations, unshaped, trackIds, stemId }: SharedRender): RenderPlan {
  const plan = planSession(session, { correlations, unshaped, ...(trackIds ? { trackIds } : {}) })
  return stemId ? stemPlan(plan, stemId) : plan
}

/** What a slice worker reads from. */
type SliceCache = Pick<SoundCache, 'using'> & SourceReader

/** The work of a slice worker, without the worker: any frames of a render in which nothing remembers. */
export class SliceRender {
  private readonly plan: RenderPlan
  private readonly renderer: Renderer

  constructor(
    private readonly render: SharedRender,
    private readonly cache: SliceCache,
    onFault: (insertId: string) => void,
  ) {
    this.plan = sharedPlan(render)
    this.renderer = new Renderer(this.plan, cache, { onFault })
  }

  async frames(at: number, count: number): Promise<SliceReply> {
    const [left, right] = [new Float32Array(count), new Float32Array(count)]
    if (spansNeeded(this.plan, at, count).length === 0 && !this.plan.memory.remembers)
      return { type: 'frames', at, left, right }
    await this.cache.using(
      spansNeeded(this.plan, at, count),
      () => this.renderer.renderStage(this.render.stage, at, left, right),
      spansNeeded(this.plan, at + count, AHEAD),
    )
    return { type: 'frames', at, left, right }
  }
}

/** The work of a slice worker, without the worker: some strips, slice by slice. */
export class StripRender {
  private readonly relay: RelayRender
  private at: number

  constructor(
    render: SharedRender,
    private readonly part: StripPart,
    private readonly cache: SliceCache,
    onFault: (insertId: string) => void,
  ) {
    const plan = sharedPlan(render)
    const link = (buffer: SharedArrayBuffer | null) => buffer && new RelayLink(plan, part.slots, buffer)
    const links = { before: link(part.before), after: link(part.after) }
    this.relay = new RelayRender(plan, render.stage, render.start, { ...part, ...links }, cache, onFault)
    this.at = this.relay.first
  }

  /** The session frame with which the first slice begins. */
  get first(): number {
    return this.relay.first
  }

  async next(): Promise<SliceReply> {
    const { part, relay } = this
    const at = Math.max(part.first, this.at)
    this.at += RELAY_SLICE
    const count = part.after ? 0 : Math.max(0, Math.min(part.end, this.at) - at)
    const [left, right] = [new Float32Array(count), new Float32Array(count)]
    await this.cache.using(relay.spans(), () => relay.next(at, left, right), relay.spans(RELAY_SLICE, AHEAD))
    return { type: 'frames', at, left, right }
  }
}
