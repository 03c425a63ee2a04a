import { head } from '../dsp/kernels/head'
import { processingKernel } from '../dsp/kernels/processing'
import { newStripKernel, type StripKernel } from '../dsp/kernels/strip'
import { QUANTUM_FRAMES } from '../dsp/processors'
import { scaledTop } from '../units/taper'
import { Chain, newChainState, type ChainState, type KeptChain } from './chain'
import { add, Fader, measure, type Level } from './fader'
import { isPutOut } from './memory'
import { FeedLine, type KeptFeed } from './feed-line'
import { FusedTrack, onlyRegion } from './fused-track'
import type { FeedPlan, RenderPlan, TrackPlan } from './render-plan'
import { RegionSum } from './region-sum'
import { RENDER_BLOCK } from './render-block'
import type { SourceReader } from './source-reader'
import type { Stage, TrackMeter } from './stage'

/** What came out of the inserts of tracks, rendered elsewhere. */
export interface ChainSource {
  has(trackId: string): boolean
  take(trackId: string, from: number, count: number, into: readonly [Float64Array, Float64Array]): boolean
}

/** How a graph is rendered. */
export interface RenderOptions {
  /** Is told the id of an insert that put out what is no number, and was left out. */
  onFault?: ((insertId: string) => void) | undefined
  /** Has what need not be rendered here. */
  provided?: ChainSource | undefined
  /** By how many frames it may go back to states that were saved; at least a block. */
  slackFrames?: number | undefined
}

/** What strips add to: a bus, the mix, or the sum of a stage. */
interface Input {
  kernel: StripKernel
  fused: FusedTrack
  touched: boolean
  /** By how many frames what comes in lies ahead of the mix that comes out. */
  ahead: number
}

/** A way from a strip to what it feeds, or out, as it leaves its inserts or its fader. */
interface Feed {
  plan: Omit<FeedPlan, 'point'> & { point: FeedPlan['point'] | 'inserts' }
  to: Input
  /** Where the strip is ahead of what it feeds. */
  line: FeedLine | null
}

/** A track or a bus at work. */
interface Runner {
  plan: TrackPlan
  index: number
  chain: Chain
  /** null for a track. */
  input: Input | null
  feeds: Feed[]
  /** By how many frames what comes out, and what comes in, lie ahead of the mix that comes out. */
  ahead: number
  inputAhead: number
}

/** What a graph remembered at the quantum of a session frame, but for its lines. */
export interface GraphState {
  /** The session frame that comes out next. */
  cursor: number
  chains: Map<string, ChainState>
}

/** What a graph remembered, with its lines. */
export interface KeptGraph {
  cursor: number
  chains: ReadonlyMap<string, KeptChain>
  feeds: ReadonlyMap<string, KeptFeed>
}

export const newGraphState = (): GraphState => ({ cursor: 0, chains: new Map() })

const MIX = 'mix'
const MIX_LAST = 'mix last'
const rowKey = (id: string) => `row ${id}`

const pair = () => [new Float64Array(RENDER_BLOCK), new Float64Array(RENDER_BLOCK)] as const

/**
 * The strips of a plan, sorted so that each comes after all that feed it, rendered block by block. A strip whose sound needs
 * what comes later, because an insert looks ahead, is rendered ahead of the others: frame n of what every strip puts out
 * belongs to session frame n.
 */
export class Graph {
  private runners: Runner[] = []
  private mix: Input
  private readonly mixChain: Chain
  private readonly lastChain: Chain
  /** Chains and inputs by strip, kept while plans change. */
  private readonly chains = new Map<string, Chain>()
  private readonly inputs = new Map<string, Input>()
  private readonly lines = new Map<string, FeedLine>()
  /** The session frame that comes out next. */
  cursor = 0
  /** Whether nothing remembers: then any frames can be rendered in any order. */
  plain = true
  /** The most frames that something is rendered ahead. */
  mostAhead = 0
  private readonly fader = new Fader()
  private readonly regions: RegionSum
  /** Where processors work on it without copying. */
  private readonly sound = processingKernel().sound
  private readonly placed = pair()
  private readonly sent = pair()
  private readonly levels = new Float64Array(RENDER_BLOCK)
  private readonly measured = [
    { peak: 0, energy: 0 },
    { peak: 0, energy: 0 },
  ] as const

  constructor(
    private plan: RenderPlan,
    private readonly stage: Exclude<Stage, 'clip'>,
    private readonly reader: SourceReader,
    private readonly options: RenderOptions = {},
  ) {
    this.regions = new RegionSum(reader)
    this.mix = this.newInput()
    this.mixChain = new Chain(options.onFault, options.slackFrames)
    this.lastChain = new Chain(options.onFault, options.slackFrames)
    this.update(plan)
  }

  private newInput(): Input {
    const kernel = newStripKernel()
    return { kernel, fused: new FusedTrack(this.reader, this.fader, kernel), touched: false, ahead: 0 }
  }

  /** Another plan. What is still there keeps what it remembers; call `jump` or `resume` afterwards unless `plain`. */
  update(plan: RenderPlan): void {
    this.plan = plan
    const whole = this.stage === 'mix'
    this.mixChain.update(whole ? plan.mix.inserts : [])
    this.lastChain.update(whole ? plan.mix.lastInserts : [])
    this.mix.ahead = this.mixChain.latency + this.lastChain.latency
    const tracks = plan.order.map((index) => ({ index, plan: plan.tracks[index]! }))
    const byId = new Map<string, Input>()
    const runners = tracks
      .filter(({ plan }) => plan.audible || this.plan.only?.has(plan.id))
      .map(({ index, plan }): Runner => {
        const chain = kept(
          this.chains,
          plan.id,
          () => new Chain(this.options.onFault, this.options.slackFrames),
        )
        chain.update(plan.inserts)
        const input = plan.isBus ? kept(this.inputs, plan.id, () => this.newInput()) : null
        if (input) byId.set(plan.id, input)
        return { plan, index, chain, input, feeds: [], ahead: 0, inputAhead: 0 }
      })
    // From what comes last to what comes first: how far ahead each must be.
    const wanted = new Set<string>()
    for (const runner of [...runners].reverse()) {
      const feeds = this.feedsOf(runner, byId)
      runner.ahead = Math.max(0, ...feeds.map(({ to }) => to.ahead))
      runner.inputAhead = runner.ahead + runner.chain.latency
      if (runner.input) runner.input.ahead = runner.inputAhead
      runner.feeds = feeds.map(({ plan, to }): Feed => {
        const delay = runner.ahead - to.ahead
        if (delay === 0) return { plan, to, line: null }
        wanted.add(plan.key)
        const known = this.lines.get(plan.key)
        const line = known?.delay === delay ? known : new FeedLine(delay, this.options.slackFrames)
        this.lines.set(plan.key, line)
        return { plan, to, line }
      })
    }
    for (const key of this.lines.keys()) if (!wanted.has(key)) this.lines.delete(key)
    forgetOthers(this.chains, runners)
    forgetOthers(this.inputs, runners)
    this.runners = runners
    this.plain = [this.mixChain, this.lastChain, ...runners.map((r) => r.chain)].every((c) => c.tail === null)
    this.mostAhead = Math.max(this.mix.ahead, ...runners.map((r) => r.inputAhead))
  }

  /** Whether a strip is put out below the mix: the only one, or each that goes to the mix. */
  private isTapped(strip: TrackPlan): boolean {
    return isPutOut(this.plan, strip)
  }

  /** What a strip feeds. Below the mix nothing goes there: what is put out is tapped. */
  private feedsOf({ plan }: Runner, byId: ReadonlyMap<string, Input>): Omit<Feed, 'line'>[] {
    const feeds: Omit<Feed, 'line'>[] = []
    if (this.stage !== 'mix' && this.isTapped(plan)) {
      const point = this.stage === 'insert' ? ('inserts' as const) : ('post' as const)
      const tap = { key: `tap ${plan.id}`, isOutput: false, to: null, point, level: 1, lane: null } as const
      feeds.push({ plan: tap, to: this.mix })
    }
    for (const feed of plan.feeds) {
      const to = feed.to === null ? (this.stage === 'mix' ? this.mix : undefined) : byId.get(feed.to)
      if (to) feeds.push({ plan: feed, to })
    }
    return feeds
  }

  /** Begins empty: what comes in from the quantum of a session frame on is the first that is heard of. */
  jump(frame: number): void {
    const start = quantumOf(frame)
    for (const chain of this.allChains()) {
      chain.reset()
      chain.pos = start
    }
    for (const line of this.lines.values()) line.clear()
    this.cursor = start - this.mostAhead
  }

  private *allChains(): Generator<Chain> {
    yield this.mixChain
    yield this.lastChain
    for (const { chain } of this.runners) yield chain
  }

  /**
   * Renders `count` frames from `cursor` on into `left` and `right`, at most `RENDER_BLOCK`, whole quanta unless `plain`.
   */
  render(count: number, left: Float64Array, right: Float64Array, meter: TrackMeter | undefined): void {
    const from = this.cursor
    const out = [left, right] as const
    for (const input of [this.mix, ...this.inputs.values()]) {
      input.touched = false
      for (const side of input.kernel.mix) side.fill(0, 0, count)
    }
    for (const runner of this.runners) this.runStrip(runner, from, count, meter)
    if (this.stage === 'mix') this.runMix(from, count, out)
    else for (const side of [0, 1] as const) out[side].set(head(this.mix.kernel.mix[side], count))
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
    const quick = this.quickWay(runner)
    if (quick) {
      const only = onlyRegion(plan, first, count)
      if (only) {
        chain.pos = first + count
        quick.touched = true
        quick.fused.add(plan, runner.index, only, first, count, offset, meter)
        return
      }
    }
    const { sound, placed } = this
    const processed = chain.length > 0
    const elsewhere = processed && this.options.provided?.has(plan.id) === true
    const frame = first - chain.latency
    let silent: boolean
    if (elsewhere) {
      chain.pos = first + count
      silent = !this.options.provided!.take(plan.id, frame, count, sound)
    } else if (runner.input) {
      silent = !runner.input.touched
      if (!silent)
        for (const side of [0, 1] as const)
          sound[side].set(runner.input.kernel.mix[side].subarray(offset, offset + count))
    } else silent = !this.regions.sum(plan, plan.inputChannels, first, count, sound)
    if (processed && !elsewhere && !silent && plan.input !== 1)
      for (let c = 0; c < plan.inputChannels; c++) scaleSide(sound[c]!, plan.input, count)
    const heard = elsewhere ? !silent : chain.run(sound, plan.inputChannels, count, silent)
    if (!heard) {
      for (const { line } of feeds) line?.push(null, frame, count)
      return
    }
    const input = processed ? plan.centre : plan.input
    const direct = this.onlyFeed(feeds)
    if (direct && plan.afterPan.length === 0 && !(plan.channels === 2 && plan.panMode === 'pair')) {
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
    const { mix, mixChain, lastChain, sound, placed, fader } = this
    const plan = this.plan.mix
    if (mixChain.length === 0 && lastChain.length === 0) {
      mixChain.pos = lastChain.pos = from + count
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
      heard = mixChain.run(sound, 2, many, !mix.touched)
      if (heard) fader.place(plan, 1, sound, first + offset - mixChain.latency, many, placed)
    }
    const last = this.todo(lastChain, from + lastChain.latency, count)
    if (last === null) return
    // Both chains have had the same frames: what one puts out the other takes in.
    const shift = last - (offset ?? count)
    const many = count - last
    if (shift > 0) for (const side of placed) side.copyWithin(0, shift, shift + many)
    else if (shift < 0) heard = false
    if (lastChain.run(placed, 2, many, !heard))
      for (const side of [0, 1] as const) out[side].set(placed[side].subarray(0, many), last)
  }

  /** Writes what the graph remembers at its cursor. */
  save(into: GraphState): void {
    into.cursor = this.cursor
    const keys = new Set<string>()
    for (const [key, chain] of this.keyedChains()) {
      keys.add(key)
      const state = kept(into.chains, key, newChainState)
      chain.save(state)
    }
    for (const key of into.chains.keys()) if (!keys.has(key)) into.chains.delete(key)
  }

  /** The chains, with how far ahead of what comes out each one takes in. */
  private *keyedChains(): Generator<[key: string, chain: Chain, ahead: number]> {
    yield [MIX, this.mixChain, this.mix.ahead]
    yield [MIX_LAST, this.lastChain, this.lastChain.latency]
    for (const { plan, chain, inputAhead } of this.runners) yield [rowKey(plan.id), chain, inputAhead]
  }

  /** Goes back to what it remembered under the same plan, a little before. */
  goBack(state: GraphState): void {
    for (const [key, chain] of this.keyedChains()) {
      const known = state.chains.get(key)
      if (known) chain.restore(known)
    }
    this.cursor = state.cursor
  }

  /**
   * Goes back so far that the quantum of a session frame can be rendered as if it had come to it from before: every strip
   * takes up the latest of its states (oldest first) from which that is possible, and renders what lies between. The cursor
   * is then at or before that quantum. A strip of which nothing is known begins empty.
   */
  resume(states: readonly GraphState[], frame: number): void {
    const target = quantumOf(frame)
    for (const line of this.lines.values()) line.clear()
    const takeUp = (key: string, chain: Chain, need: number): number => {
      if (chain.tail === null) return (chain.pos = need)
      for (let i = states.length - 1; i >= 0; i--) {
        const state = states[i]!.chains.get(key)
        if (!state || state.pos > need - chain.newLatency(state)) continue
        chain.restore(state)
        return state.pos
      }
      chain.reset()
      return (chain.pos = need - chain.latency)
    }
    let cursor = target
    const last = takeUp(MIX_LAST, this.lastChain, target + this.lastChain.latency)
    cursor = Math.min(cursor, last - this.lastChain.latency)
    const first = takeUp(MIX, this.mixChain, last + this.mixChain.latency)
    cursor = Math.min(cursor, first - this.mix.ahead)
    const needs = new Map<Input, number>([[this.mix, this.stage === 'mix' ? first : target]])
    for (const { plan, chain, feeds, input, inputAhead } of [...this.runners].reverse()) {
      const need = feeds.reduce(
        (least, { to }) => Math.min(least, needs.get(to) ?? target),
        target + inputAhead - chain.latency,
      )
      const pos = takeUp(rowKey(plan.id), chain, need + chain.latency)
      if (input) needs.set(input, pos)
      cursor = Math.min(cursor, pos - inputAhead)
    }
    this.cursor = cursor
  }

  /** A copy of all that it remembers. */
  keep(): KeptGraph {
    return {
      cursor: this.cursor,
      chains: new Map([...this.keyedChains()].map(([key, chain]) => [key, chain.keep()])),
      feeds: new Map([...this.lines].map(([key, line]) => [key, line.keep()])),
    }
  }

  /** Goes on from what was kept, under the plan of then or a later one. */
  putBack(known: KeptGraph): void {
    let { cursor } = known
    for (const [key, chain, ahead] of this.keyedChains()) {
      const state = known.chains.get(key)
      if (state) chain.putBack(state)
      else {
        chain.reset()
        chain.pos = known.cursor + ahead
      }
      cursor = Math.min(cursor, chain.pos - ahead)
    }
    for (const [key, line] of this.lines) {
      const state = known.feeds.get(key)
      if (state) line.putBack(state)
      else line.clear()
    }
    this.cursor = cursor
  }
}

/** The beginning of the quantum of a frame. */
export const quantumOf = (frame: number): number => Math.floor(frame / QUANTUM_FRAMES) * QUANTUM_FRAMES

function kept<T>(map: Map<string, T>, key: string, make: () => T): T {
  const known = map.get(key) ?? make()
  map.set(key, known)
  return known
}

function forgetOthers(map: Map<string, unknown>, runners: readonly Runner[]): void {
  const there = new Set(runners.map((r) => r.plan.id))
  for (const key of map.keys()) if (!there.has(key)) map.delete(key)
}

/** A side times a gain, in place. */
export function scaleSide(side: Float64Array, gain: number, count: number): void {
  if (gain !== 1) for (let i = 0; i < count; i++) side[i] = side[i]! * gain
}
