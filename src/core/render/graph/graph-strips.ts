import { TO_MIX } from '../../model/session'
import { newStripKernel, plainStripKernel, type StripKernel } from '../../dsp/kernels/strip'
import { Chain, type Key } from './chain'
import type { Fader } from '../fader/fader'
import { FeedLine } from './feed-line'
import { FusedTrack } from '../fader/fused-track'
import { isPutOut } from '../state/memory'
import type { FeedPlan, InsertPlan, RenderPlan, TrackPlan } from '../plan/render-plan'
import { LAST_IN, type Probe, type ProbedChain } from './probe'
import type { SourceReader } from '../region/source-reader'
import type { Stage } from '../stage'

/** A part of a graph's strips that is rendered by itself, between those before it and those after it. */
export interface GraphPart {
  /** Its places among the strips that are rendered (see `renderedStrips`): `from` ≤ n < `to`. */
  from: number
  to: number
  /** Puts into all that is added to what the strips before the part have added; null for the first part. */
  takeOver: ((inputs: readonly Input[], frame: number, count: number) => void) | null
  /** Takes what has been added now; null for the last part, which renders the mix. */
  handOn: ((inputs: readonly Input[], frame: number, count: number) => void) | null
}

/** How a graph is rendered. */
export interface RenderOptions {
  /** Is told the id of an insert that output NaN, and was left out. */
  onFault?: ((insertId: string) => void) | undefined
  /** Only this part of it is rendered. */
  part?: GraphPart | undefined
  /** Is told of the sound at inserts. */
  probe?: Probe | undefined
  /** By how many frames it may go back to states that were saved; at least a block. */
  slackFrames?: number | undefined
}

/** What strips add to: a bus, the mix, the sum of a stage, or what steers an insert. */
export interface Input {
  kernel: StripKernel
  fused: FusedTrack
  touched: boolean
  /** By how many frames what comes in lies ahead of the mix that comes out. */
  ahead: number
}

/** A way from a strip to what it feeds, or out, as it leaves its inserts or its fader. */
export interface Feed {
  plan: FeedPlan
  to: Input
  /** Where the strip is ahead of what it feeds. */
  line: FeedLine | null
}

/** A track or a bus at work. */
export interface Runner {
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

export const MIX = 'mix'
export const MIX_LAST = 'mix last'
export const rowKey = (id: string) => `row ${id}`

/** The places in `tracks` of the strips of a plan that are rendered, each after all that feed it. */
export const renderedStrips = ({ order, tracks, only }: RenderPlan): number[] =>
  order.filter((index) => tracks[index]!.feeds.length > 0 || only?.has(tracks[index]!.id))

/**
 * The strips of a plan at work, sorted so that each comes after all that feed it, with how far ahead of what comes out each is
 * rendered. What is still there in another plan stays.
 */
export class GraphStrips {
  runners: Runner[] = []
  readonly mix: Input
  readonly mixChain: Chain
  readonly lastChain: Chain
  /** Inputs of buses, and lines between strips. */
  readonly inputs = new Map<string, Input>()
  /** What steers inserts. */
  readonly keyInputs = new Map<string, Input>()
  /** All that is added to, anew with every block. */
  allInputs: readonly Input[] = []
  readonly lines = new Map<string, FeedLine>()
  /** Whether nothing remembers: then any frames can be rendered in any order. */
  plain = true
  /** The most frames that something is rendered ahead. */
  mostAhead = 0
  private readonly chains = new Map<string, Chain>()

  constructor(
    public plan: RenderPlan,
    private readonly stage: Exclude<Stage, 'clip'>,
    private readonly reader: SourceReader,
    private readonly fader: Fader,
    private readonly options: RenderOptions,
  ) {
    this.mix = this.newInput()
    this.mixChain = this.newChain(null)
    this.lastChain = this.newChain(null, LAST_IN)
    this.update(plan)
  }

  private newInput(kernel = newStripKernel()): Input {
    return { kernel, fused: new FusedTrack(this.reader, this.fader, kernel), touched: false, ahead: 0 }
  }

  private newChain(stripId: string | null, incoming: ProbedChain['incoming'] = null): Chain {
    const { onFault, slackFrames, probe } = this.options
    return new Chain(onFault, slackFrames, probe ? { probe, stripId, incoming } : null)
  }

  /** Another plan. What is still there keeps what it remembers. */
  update(plan: RenderPlan): void {
    this.plan = plan
    const whole = this.stage === 'mix'
    this.mixChain.update(whole ? plan.mix.inserts : [])
    this.lastChain.update(whole ? plan.mix.lastInserts : [])
    this.mix.ahead = this.mixChain.latency + this.lastChain.latency
    const steered = new Set<string>()
    this.steer(this.mixChain, whole ? plan.mix.inserts : [], TO_MIX, this.mix.ahead, steered)
    this.steer(this.lastChain, whole ? plan.mix.lastInserts : [], TO_MIX, this.lastChain.latency, steered)
    const byId = new Map<string, Input>()
    const runners = renderedStrips(plan).map((index): Runner => {
      const strip = plan.tracks[index]!
      const chain = kept(this.chains, strip.id, () => this.newChain(strip.id))
      chain.update(strip.inserts)
      const input = strip.isBus ? kept(this.inputs, strip.id, () => this.newInput()) : null
      if (input) byId.set(strip.id, input)
      return { plan: strip, index, chain, input, feeds: [], ahead: 0, inputAhead: 0 }
    })
    // From what comes last to what comes first: how far ahead each must be.
    const wanted = new Set<string>()
    for (const runner of [...runners].reverse()) {
      const feeds = this.feedsOf(runner, byId)
      runner.ahead = Math.max(0, ...feeds.map(({ to }) => to.ahead))
      runner.inputAhead = runner.ahead + runner.chain.latency
      if (runner.input) runner.input.ahead = runner.inputAhead
      this.steer(runner.chain, runner.plan.inserts, runner.plan.id, runner.inputAhead, steered)
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
    const there = new Set(runners.map((r) => r.plan.id))
    forgetOthers(this.chains, there)
    forgetOthers(this.inputs, there)
    forgetOthers(this.keyInputs, steered)
    this.runners = runners
    this.allInputs = [this.mix, ...this.inputs.values(), ...this.keyInputs.values()]
    this.plain = [this.mixChain, this.lastChain, ...runners.map((r) => r.chain)].every((c) => c.tail === null)
    this.mostAhead = Math.max(this.mix.ahead, ...runners.map((r) => r.inputAhead))
  }

  /** Makes what steers the inserts of a chain, whose sound comes in so far ahead; of the same frames as what they hear. */
  private steer(
    chain: Chain,
    inserts: readonly InsertPlan[],
    stripId: string,
    ahead: number,
    steered: Set<string>,
  ): void {
    chain.keys = inserts
      .filter((insert) => insert.setup.keyed)
      .map(({ id }): Key => {
        const name = keyName(stripId, id)
        steered.add(name)
        // Nothing is added to it in one loop: it needs no memory of its own.
        const input = kept(this.keyInputs, name, () => this.newInput(plainStripKernel()))
        input.ahead = ahead - chain.delayBefore(id)
        return {
          insertId: id,
          sides: input.kernel.mix,
          get touched() {
            return input.touched
          },
        }
      })
  }

  /** What a strip feeds. Below the mix nothing goes there: what is put out is tapped. */
  private feedsOf({ plan }: Runner, byId: ReadonlyMap<string, Input>): Omit<Feed, 'line'>[] {
    const feeds: Omit<Feed, 'line'>[] = []
    if (this.stage !== 'mix' && isPutOut(this.plan, plan)) {
      const point = this.stage === 'insert' ? ('inserts' as const) : ('post' as const)
      const key = `tap ${plan.id}`
      const tap: FeedPlan = { key, isOutput: false, to: null, point, sidechainOf: null, level: 1, lane: null }
      feeds.push({ plan: tap, to: this.mix })
    }
    for (const feed of plan.feeds) {
      const to = this.targetOf(feed, byId)
      if (to) feeds.push({ plan: feed, to })
    }
    return feeds
  }

  private targetOf({ to, sidechainOf }: FeedPlan, byId: ReadonlyMap<string, Input>): Input | undefined {
    if (sidechainOf !== null) return this.keyInputs.get(keyName(to ?? TO_MIX, sidechainOf))
    return to === null ? (this.stage === 'mix' ? this.mix : undefined) : byId.get(to)
  }

  /** The chains, with how far ahead of what comes out each one takes in. */
  *keyedChains(): Generator<[key: string, chain: Chain, ahead: number]> {
    yield [MIX, this.mixChain, this.mix.ahead]
    yield [MIX_LAST, this.lastChain, this.lastChain.latency]
    for (const { plan, chain, inputAhead } of this.runners) yield [rowKey(plan.id), chain, inputAhead]
  }
}

/** What a map has under a key, made where it has nothing. */
export function kept<T>(map: Map<string, T>, key: string, make: () => T): T {
  const known = map.get(key) ?? make()
  map.set(key, known)
  return known
}

/** A word for what steers an insert of a strip; ids may have any characters in them. */
export const keyName = (stripId: string, insertId: string) => JSON.stringify([stripId, insertId])

function forgetOthers(map: Map<string, unknown>, there: ReadonlySet<string>): void {
  for (const key of map.keys()) if (!there.has(key)) map.delete(key)
}
