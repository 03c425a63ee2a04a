import { QUANTUM_FRAMES } from '../../dsp/processors'
import { Graph } from './graph'
import { newGraphState, quantumOf, type GraphState, type KeptGraph } from './graph-memory'
import type { RenderOptions } from './graph-strips'
import { isPutOut, soundingEnd } from '../state/memory'
import { writeOutput } from './write-output'
import type { RenderPlan } from '../plan/render-plan'
import { RegionSum } from '../region/region-sum'
import { blockSides, PLAIN_BLOCK, RENDER_BLOCK } from '../render-block'
import type { SourceReader } from '../region/source-reader'
import type { Stage, TrackMeter } from '../stage'

/**
 * The one renderer: playback, export, command line and tests all call it. Sums and gains are 64-bit, the output 32-bit.
 *
 * While nothing of a plan remembers, every output sample depends on its own frame alone, and any frames may be rendered in any
 * order. Otherwise rendering goes on from one call to the next: a call for other frames than the next begins there empty, as
 * `jump` does. Either way the result is the same to the bit however the frames are cut into calls.
 */
export class Renderer {
  private graph: Graph | null = null
  private graphStage: Exclude<Stage, 'clip'> = 'mix'
  private current: RenderPlan
  private ends: ReturnType<typeof soundingEnd>
  /** The block that came out last, 64-bit, and which session frames it has. */
  private readonly block = [new Float64Array(PLAIN_BLOCK), new Float64Array(PLAIN_BLOCK)] as const
  private blockFrom = 0
  private blockEnd = 0
  /** The session frame that is expected next; null before anything was rendered. */
  private next: number | null = null
  /** The state at the beginning of the quantum of `next`, where that has been rendered already. */
  private readonly before = newGraphState()
  private readonly regions: RegionSum
  private readonly sound = blockSides()
  private readonly sum = blockSides()

  constructor(
    plan: RenderPlan,
    private readonly reader: SourceReader,
    private readonly options: RenderOptions = {},
  ) {
    this.current = plan
    this.ends = soundingEnd(plan)
    this.regions = new RegionSum(reader)
  }

  get plan(): RenderPlan {
    return this.current
  }

  /** Another plan. What is still there keeps what it remembers; `resume` goes on from there. */
  set plan(plan: RenderPlan) {
    if (plan === this.current) return
    this.current = plan
    this.ends = soundingEnd(plan)
    this.graph?.update(plan)
    this.next = null
  }

  private graphOf(stage: Exclude<Stage, 'clip'>): Graph {
    if (this.graph && this.graphStage === stage) return this.graph
    this.graph = new Graph(this.current, stage, this.reader, this.options)
    this.graphStage = stage
    this.next = null
    return this.graph
  }

  /**
   * Renders the mix at session frames `from`… into `left` and `right` (`left.length` frames). After the last region, and what
   * sounds on of it, there is silence.
   */
  render(from: number, left: Float32Array, right: Float32Array, meter?: TrackMeter): void {
    this.renderStage('mix', from, left, right, meter)
  }

  /**
   * Renders one stage; below `mix` the strips that go to the mix are summed at that stage, or the only one of the plan, mono
   * ones on both sides.
   */
  renderStage(stage: Stage, from: number, left: Float32Array, right: Float32Array, meter?: TrackMeter): void {
    if (stage === 'clip') return this.renderRegions(from, left, right)
    const graph = this.graphOf(stage)
    for (let done = 0; done < left.length;) {
      const frame = from + done
      if (graph.plain) {
        const count = Math.min(graph.mostFrames, left.length - done)
        graph.cursor = frame
        graph.render(count, this.block[0], this.block[1], meter)
        this.blockFrom = frame
        this.blockEnd = frame + count
      } else this.reach(graph, frame, from + left.length, meter)
      const count = Math.min(this.blockEnd, from + left.length) - frame
      const { current, ends, block, blockFrom } = this
      writeOutput(current, ends.fadeFrom, block, frame - blockFrom, frame, count, left, right, done)
      done += count
    }
    this.next = from + left.length
  }

  /** Renders the block that has a frame, unless it is there already; not further than the quantum in which `end` lies. */
  private reach(graph: Graph, frame: number, end: number, meter: TrackMeter | undefined): void {
    if (this.next !== frame) this.jump(frame)
    const last = quantumOf(end)
    while (this.blockEnd <= frame) {
      const from = graph.cursor
      // The quantum in which the frames end is rendered by itself: what is remembered before it is written down.
      const until = from < last ? last : last + QUANTUM_FRAMES
      if (from === last) graph.save(this.before)
      const count = Math.min(RENDER_BLOCK, until - from)
      graph.render(count, this.block[0], this.block[1], from >= quantumOf(frame) ? meter : undefined)
      this.blockFrom = from
      this.blockEnd = from + count
    }
    this.next = Math.min(this.blockEnd, end)
  }

  /** Begins empty at the quantum of a session frame, the next that is rendered. */
  jump(frame: number): void {
    this.graphOf(this.graphStage).jump(frame)
    this.begin(frame)
  }

  private begin(frame: number): void {
    this.next = frame
    this.blockFrom = this.blockEnd = Number.NEGATIVE_INFINITY
  }

  /** Writes what is remembered before the quantum of the frame that comes next. */
  save(into: GraphState): void {
    const graph = this.graphOf(this.graphStage)
    if (this.next === null || graph.cursor <= this.next) graph.save(into)
    else copyState(this.before, into)
  }

  /** Makes a session frame the next one, as it was when that was saved under the same plan, a little before. */
  goBack(state: GraphState, frame: number): void {
    this.graphOf(this.graphStage).goBack(state)
    this.begin(frame)
  }

  /**
   * Makes a session frame the next one, going on from states that were saved before it (oldest first) under this plan or an
   * earlier one.
   */
  resume(states: readonly GraphState[], frame: number): void {
    this.graphOf(this.graphStage).resume(states, frame)
    this.begin(frame)
  }

  /**
   * After `resume`, where frames that were rendered before are rendered again: what repeats sound, and had it before, goes over
   * to what it has now within a moment, so that no step is heard in its repeats.
   */
  crossfadeToOld(): void {
    this.graphOf(this.graphStage).crossfadeToOld()
  }

  /** A copy of all that is remembered before the quantum of the frame that comes next. */
  snapshot(): KeptRender {
    return this.kept(false)
  }

  /** The same, not copied: this renderer cannot be used any more. What it remembers may be a hundred megabytes. */
  takeSnapshot(): KeptRender {
    return this.kept(true)
  }

  private kept(last: boolean): KeptRender {
    const graph = this.graphOf(this.graphStage)
    if (this.next === null || graph.cursor <= this.next)
      return { frame: this.next ?? graph.cursor, graph: graph.snapshot(last) }
    const now = newGraphState()
    graph.save(now)
    graph.goBack(this.before)
    const kept = { frame: this.next, graph: graph.snapshot(last) }
    if (!last) graph.goBack(now)
    return kept
  }

  /**
   * Goes on from what was kept, with the frame of then or a little later one: what lies between is rendered and not put out.
   */
  applySnapshot({ frame, graph }: KeptRender, next = frame): void {
    this.graphOf(this.graphStage).applySnapshot(graph)
    this.begin(next)
  }

  private renderRegions(from: number, left: Float32Array, right: Float32Array): void {
    const { tracks } = this.current
    for (let done = 0; done < left.length; done += RENDER_BLOCK) {
      const count = Math.min(RENDER_BLOCK, left.length - done)
      for (const side of this.sum) side.fill(0, 0, count)
      for (const track of tracks) {
        if (
          !isPutOut(this.current, track) ||
          !this.regions.sum(track, track.inputChannels, from + done, count, this.sound)
        )
          continue
        for (const side of [0, 1] as const) {
          const sound = this.sound[Math.min(side, track.inputChannels - 1)]!
          const sum = this.sum[side]
          for (let i = 0; i < count; i++) sum[i] = sum[i]! + sound[i]!
        }
      }
      for (const [side, out] of [left, right].entries())
        for (let i = 0; i < count; i++) out[done + i] = this.sum[side]![i]! * this.current.listen
    }
  }
}

/** What a renderer remembered before the quantum of a session frame. */
export interface KeptRender {
  frame: number
  graph: KeptGraph
}

function copyState(from: GraphState, into: GraphState): void {
  into.cursor = from.cursor
  for (const key of into.chains.keys()) if (!from.chains.has(key)) into.chains.delete(key)
  for (const [key, state] of from.chains) {
    const data = into.chains.get(key)?.data
    const copy = data && data.length >= state.data.length ? data : new Float64Array(state.data.length)
    copy.set(state.data)
    into.chains.set(key, { ...state, data: copy })
  }
}
