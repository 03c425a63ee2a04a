import {
  processorKind,
  type DelayLine,
  type KeptLine,
  type Processor,
  type Stateful,
} from '../../dsp/processors'
import type { InsertPlan } from '../plan/render-plan'

/** An insert at work. */
export interface Entry {
  plan: InsertPlan
  processor: Processor
  /** The sound that came in, for an insert that a lane bypasses and that has latency. */
  dry: readonly DelayLine[]
  /** All that it remembers. */
  state: readonly Stateful[]
  /** By how many frames what comes out of the whole chain lies behind what comes out of this insert. */
  ahead: number
}

/** What a chain remembered at a moment, but for its lines. Made once and written again and again. */
export interface ChainState {
  pos: number
  quiet: number
  idle: boolean
  entries: readonly Entry[]
  data: Float64Array
}

/** What a chain remembered at a moment, with its lines. */
export interface KeptChain extends ChainState {
  lines: readonly (readonly KeptLine[])[]
}

export const newChainState = (): ChainState => ({
  pos: 0,
  quiet: 0,
  idle: true,
  entries: [],
  data: new Float64Array(0),
})

export const linesOf = ({ processor, dry }: Entry): readonly DelayLine[] => [
  ...(processor.lines as readonly DelayLine[]),
  ...dry,
]

/** Whether what an entry remembered, perhaps in another graph of the same session, can be taken up by another one. */
export const sameInsert = (old: Entry, entry: Entry) =>
  old.processor === entry.processor || (fits(old, entry.plan) && old.dry.length === entry.dry.length)

/** Whether two inserts can be worked on by one processor: what it was made for is the same. */
export function fits(entry: Entry, plan: InsertPlan): boolean {
  const kind = processorKind(plan.kind)
  return (
    entry.plan.id === plan.id &&
    entry.plan.kind === plan.kind &&
    entry.plan.setup.channels === plan.setup.channels &&
    entry.plan.setup.keyed === plan.setup.keyed &&
    entry.plan.setup.sampleRate === plan.setup.sampleRate &&
    entry.processor.channels === kind.channels(plan.setup) &&
    entry.processor.latencyFrames === kind.latencyFrames(plan.setup) &&
    (entry.plan.bypass === null) === (plan.bypass === null)
  )
}
