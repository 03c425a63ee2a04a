import { head } from '../../dsp/kernels/head'
import { processingKernel } from '../../dsp/kernels/processing'
import { scaledTop } from '../../units/taper'
import type { Chain } from './chain'
import { add, Fader, measure, type Level } from '../fader/fader'
import { onlyRegion } from '../fader/fused-track'
import {
  goBackTo,
  jumpTo,
  keepGraph,
  putBackGraph,
  resumeFrom,
  saveGraph,
  type GraphState,
  type KeptGraph,
} from './graph-memory'
import { GraphStrips, type Feed, type Input, type RenderOptions, type Runner } from './graph-strips'
import type { RenderPlan } from '../plan/render-plan'
import { RegionSum } from '../region/region-sum'
import { blockSides, PLAIN_BLOCK, RENDER_BLOCK } from '../render-block'
import type { SourceReader } from '../region/source-reader'
import type { Stage, TrackMeter } from '../stage'
import { StageNotes } from './stage-notes'

/**
 * The strips of a plan, sorted so that each comes after all that feed it, rendered block by block. A strip whose sound needs
 * what comes later, because an insert looks ahead, is rendered ahead of the others: frame n of what every strip puts out
 * belongs to session frame n.
 */
export class Graph {
  /** The session frame that comes out next. */
  cursor = 0
  private readonly fader = new Fader()
  private readonly regions: RegionSum
  /** Where processors work on it without copying. */
  private readonly sound = processingKernel().sound
  private readonly placed = blockSides()
  private readonly sent = blockSides()
  private readonly levels = new Float64Array(RENDER_BLOCK)
  private readonly measured = [
    { peak: 0, energy: 0 },
    { peak: 0, energy: 0 },
  ] as const

  private readonly strips: GraphStrips
  private readonly notes: StageNotes | null

  constructor(
    plan: RenderPlan,
    private readonly stage: Exclude<Stage, 'clip'>,
    reader: SourceReader,
    private readonly options: RenderOptions = {},
  ) {
    this.regions = new RegionSum(reader)
    this.strips = new GraphStrips(plan, stage, reader, this.fader, options)
    this.notes = options.probe ? new StageNotes(options.probe, reader, this.fader) : null
  }

  /** Whether nothing remembers: then any frames can be rendered in any order. */
  get plain(): boolean {
    return this.strips.plain
  }

  /** The most frames that `render` takes: more where no sound is noted and nothing is done with the mix but fader and pan. */
  get mostFrames(): number {
    const { mixChain, lastChain } = this.strips
    const straight = this.plain && !this.notes && mixChain.length + lastChain.length === 0
    return straight ? PLAIN_BLOCK : RENDER_BLOCK
  }

  /** Another plan. What is still there keeps what it remembers; call `jump` or `resume` afterwards unless `plain`. */
  update(plan: RenderPlan): void {
    this.strips.update(plan)
  }

  /**
   * Renders `count` frames from `cursor` on into `left` and `right`, at most `mostFrames`, whole quanta unless `plain`.
   */
  render(count: number, left: Float64Array, right: Float64Array, meter: TrackMeter | undefined): void {
    const { mix, allInputs, runners } = this.strips
    const { part } = this.options
    const from = this.cursor
    const out = [left, right] as const
    if (part?.takeOver) part.takeOver(allInputs, from, count)
    else
      for (const input of allInputs) {
        input.touched = false
        for (const side of input.kernel.mix) side.fill(0, 0, count)
      }
    const end = part?.to ?? runners.length
    for (let n = part?.from ?? 0; n < end; n++) this.runStrip(runners[n]!, from, count, meter)
    if (part?.handOn) part.handOn(allInputs, from, count)
    else if (this.stage === 'mix') this.runMix(from, count, out)
    else for (const side of [0, 1] as const) out[side].set(head(mix.kernel.mix[side], count))
    this.cursor = from + count
  }

  /** The frames of a block that a chain still has to take in: from index `offset` on; null where it has had them all. */
  private todo(chain: Chain, first: number, count: number): number | null {
    if (this.plain || chain.pos < first) chain.pos = first
    const offset = chain.pos - first
    return offset < count ? offset : null
  }

  private runStrip(runner: Runner, from: number, count: number, meter: TrackMeter | undefined): void {
    const offset = this.todo(runner.chain, from + runner.inputAhead, count)
    if (offset !== null)
      this.makeStrip(runner, from + runner.inputAhead + offset, offset, count - offset, meter)
    // What lies in lines goes on to what is behind.
    for (const { line, to } of runner.feeds)
      if (line?.read(from + to.ahead, count, this.sent)) {
        to.touched = true
        for (const side of [0, 1] as const) add(to.kernel.mix[side], this.sent[side], count)
      }
  }

  /** Makes what a strip puts out of `count` frames that come in from session frame `first` on; they lie at `offset` in the block. */
  private makeStrip(
    runner: Runner,
    first: number,
    offset: number,
    count: number,
    meter: TrackMeter | undefined,
  ): void {
    const { plan, chain, feeds } = runner
    const notes = this.notes?.watches(plan.id) ? this.notes : null
    if (!runner.input) notes?.regions(plan, first, count)
    const quick = this.quickWay(runner)
    if (quick) {
      const only = onlyRegion(plan, first, count)
      if (only) {
        chain.pos = first + count
        quick.touched = true
        notes?.faderAfterTrim(plan, first, count)
        quick.fused.add(plan, runner.index, only, first, count, offset, meter)
        return
      }
    }
    if (count > RENDER_BLOCK) {
      for (let at = 0; at < count; at += RENDER_BLOCK)
        this.makeStrip(runner, first + at, offset + at, Math.min(RENDER_BLOCK, count - at), meter)
      return
    }
    const { sound, placed } = this
    const processed = chain.length > 0
    const frame = first - chain.latency
    let silent: boolean
    if (runner.input) {
      silent = !runner.input.touched
      if (!silent)
        for (const side of [0, 1] as const)
          sound[side].set(runner.input.kernel.mix[side].subarray(offset, offset + count))
    } else silent = !this.regions.sum(plan, plan.inputChannels, first, count, sound)
    if (runner.input && !silent) notes?.trim(plan, sound, first, count)
    if (processed && !silent && plan.input !== 1)
      for (let c = 0; c < plan.inputChannels; c++) scaleSide(sound[c]!, plan.input, count)
    const heard = chain.run(sound, plan.inputChannels, count, silent, offset)
    if (!heard) {
      for (const { line } of feeds) line?.push(null, frame, count)
      return
    }
    const input = processed ? plan.centre : plan.input
    notes?.faderStages(plan.id, plan, input, sound, frame, count)
    const direct = this.onlyFeed(feeds)
    if (direct && !(plan.channels === 2 && plan.panMode === 'pair')) {
      direct.touched = true
      direct.fused.addSound(plan, runner.index, input, sound, frame, count, offset, meter)
      return
    }
    if (feeds.some((feed) => feed.plan.point === 'inserts')) {
      for (const side of [0, 1] as const) {
        placed[side].set(sound[Math.min(side, plan.channels - 1)]!.subarray(0, count))
        if (!processed) scaleSide(placed[side], plan.input, count)
      }
      this.feed(feeds, 'inserts', frame, offset, count)
    }
    if (feeds.every((feed) => feed.plan.sidechainOf !== null)) return
    if (feeds.some((feed) => feed.plan.point === 'pre')) {
      this.fader.place(plan, input, sound, frame, count, placed, true)
      this.feed(feeds, 'pre', frame, offset, count)
    }
    this.fader.place(plan, input, sound, frame, count, placed)
    if (meter) this.measure(runner.index, count, meter)
    this.feed(feeds, 'post', frame, offset, count)
  }

  /** Where a strip can be added in one loop: nothing remembers on its way, and it goes there alone, as it is. */
  private quickWay({ chain, feeds, input }: Runner): Input | null {
    return chain.length > 0 || input ? null : this.onlyFeed(feeds)
  }

  /** What a strip feeds where it goes there alone, as it is, and at the same time. */
  private onlyFeed([feed, other]: readonly Feed[]): Input | null {
    if (!feed || other || feed.line) return null
    const { point, level, lane } = feed.plan
    return point === 'post' && level === 1 && !lane ? feed.to : null
  }

  private measure(index: number, count: number, meter: TrackMeter): void {
    const [left, right] = this.measured
    measure(this.placed[0], count, left)
    measure(this.placed[1], count, right)
    meter(index, left.peak, right.peak, left.energy, right.energy)
  }

  /** Leads what was placed to those that take it before, or after the fader. */
  private feed(
    feeds: readonly Feed[],
    point: Feed['plan']['point'],
    frame: number,
    offset: number,
    count: number,
  ): void {
    for (const { plan, to, line } of feeds) {
      if (plan.point !== point) continue
      const level = this.levelOf(plan, frame, count)
      let sound: readonly [Float64Array, Float64Array] = this.placed
      if (level !== 1) {
        for (const side of [0, 1] as const) {
          const [a, b] = [this.placed[side], this.sent[side]]
          if (typeof level === 'number') for (let i = 0; i < count; i++) b[i] = a[i]! * level
          else for (let i = 0; i < count; i++) b[i] = a[i]! * level[i]!
        }
        sound = this.sent
      }
      if (line) line.push(sound, frame, count)
      else this.addTo(to, sound, offset, count)
    }
  }

  private levelOf({ level, lane }: Feed['plan'], from: number, count: number): Level {
    if (!lane) return level
    const same = lane.constant(from, count)
    if (same !== null) return same * same * same * scaledTop(1)
    lane.fillGains(from, count, 1, this.levels)
    return this.levels
  }

  private addTo(
    to: Input,
    sound: readonly [Float64Array, Float64Array],
    offset: number,
    count: number,
  ): void {
    to.touched = true
    for (const side of [0, 1] as const) {
      const mix = to.kernel.mix[side]
      add(offset === 0 ? mix : mix.subarray(offset), sound[side], count)
    }
  }

  private runMix(from: number, count: number, out: readonly [Float64Array, Float64Array]): void {
    const { sound, placed, fader } = this
    const { mix, mixChain, lastChain } = this.strips
    const plan = this.strips.plan.mix
    const notes = this.notes?.watches(null) ? this.notes : null
    if (mixChain.length === 0 && lastChain.length === 0) {
      mixChain.pos = lastChain.pos = from + count
      notes?.faderStages(null, plan, plan.input, mix.kernel.mix, from, count)
      return fader.place(plan, plan.input, mix.kernel.mix, from, count, out)
    }
    for (const side of out) side.fill(0, 0, count)
    const first = from + mix.ahead
    const offset = this.todo(mixChain, first, count)
    let heard = false
    if (offset !== null) {
      const many = count - offset
      for (const side of [0, 1] as const) {
        sound[side].set(mix.kernel.mix[side].subarray(offset, count))
        if (mix.touched) scaleSide(sound[side], plan.input, many)
      }
      heard = mixChain.run(sound, 2, many, !mix.touched, offset)
      const frame = first + offset - mixChain.latency
      if (heard) {
        fader.place(plan, 1, sound, frame, many, placed)
        notes?.faderStages(null, plan, 1, sound, frame, many)
      }
    }
    const last = this.todo(lastChain, from + lastChain.latency, count)
    if (last === null) return
    // Both chains have had the same frames: what one puts out the other takes in.
    const shift = last - (offset ?? count)
    const many = count - last
    if (shift > 0) for (const side of placed) side.copyWithin(0, shift, shift + many)
    else if (shift < 0) heard = false
    if (lastChain.run(placed, 2, many, !heard, last))
      for (const side of [0, 1] as const) out[side].set(placed[side].subarray(0, many), last)
  }

  /** Begins empty: what comes in from the quantum of a session frame on is the first that is heard of. */
  jump(frame: number): void {
    this.cursor = jumpTo(this.strips, frame)
  }

  /** Writes what the graph remembers at its cursor. */
  save(into: GraphState): void {
    saveGraph(this.strips, this.cursor, into)
  }

  /** Goes back to what it remembered under the same plan, a little before. */
  goBack(state: GraphState): void {
    this.cursor = goBackTo(this.strips, state)
  }

  /** Goes back so far that the quantum of a session frame can be rendered next (see `resumeFrom`). */
  resume(states: readonly GraphState[], frame: number): void {
    this.cursor = resumeFrom(this.strips, this.stage === 'mix', states, frame)
  }

  /** What repeats goes over from what it wrote before, where it is now, to what comes in from here on. */
  crossfadeToOld(): void {
    for (const [, chain] of this.strips.keyedChains()) chain.crossfadeState()
  }

  /** A copy of all that it remembers; `last` says that it is not used any more. */
  snapshot(last?: boolean): KeptGraph {
    return keepGraph(this.strips, this.cursor, last)
  }

  /** Goes on from what was kept, under the plan of then or a later one. */
  applySnapshot(known: KeptGraph): void {
    this.cursor = putBackGraph(this.strips, known)
  }
}

/** A side times a gain, in place. */
function scaleSide(side: Float64Array, gain: number, count: number): void {
  if (gain !== 1) for (let i = 0; i < count; i++) side[i] = side[i]! * gain
}
