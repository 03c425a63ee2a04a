import { head } from '../../dsp/kernels/head'
import {
  DelayLine,
  OVER_FRAMES,
  processorKind,
  QUANTUM_FRAMES,
  resetState,
  restoreState,
  saveState,
  scalarsOf,
  type Sides,
} from '../../dsp/processors'
import { hasFaults, isFiniteSide, isZero, withoutFaults } from './block-checks'
import {
  fits,
  linesOf,
  newChainState,
  sameInsert,
  type ChainState,
  type Entry,
  type KeptChain,
} from './chain-state'
import type { ProbedChain } from './probe'
import type { InsertPlan } from '../plan/render-plan'
import { blockSides, RENDER_BLOCK } from '../render-block'

type Sound = Sides

/** What steers an insert: both sides, of the same frames as what comes into the insert. */
export interface Key {
  insertId: string
  sides: Sides
  /** Whether the sides hold anything but silence. */
  readonly touched: boolean
}

const NO_KEYS: readonly Key[] = []
const SILENCE = blockSides()

/**
 * Room that all chains work in, one after the other; nothing in it is remembered. Of their own they would not stay in the processor's
 * cache.
 */
const room = {
  aside: blockSides(),
  dry: blockSides(),
  keyed: blockSides(),
  blend: new Float64Array(RENDER_BLOCK),
}

/**
 * The inserts of a strip, one after the other. What came in was silence for as long as they remember: then they are reset,
 * and rest until something comes in.
 */
export class Chain {
  private entries: readonly Entry[] = []
  /** By how many frames what comes out lies behind what comes in. */
  latency = 0
  /** How long the chain remembers, in frames; null for one that remembers nothing. */
  tail: number | null = null
  /** The session frame that comes in next. */
  pos = 0
  /** What steers its inserts. */
  keys: readonly Key[] = NO_KEYS
  private quiet = 0
  private idle = true
  /** How many frames of going over from what came in before are done. */
  private over = OVER_FRAMES
  private scalars = 0

  /** Is told the id of an insert that put out something that is no number; it was reset and left out. */
  constructor(
    private readonly onFault: (insertId: string) => void = () => undefined,
    private readonly slackFrames?: number,
    private readonly probed: ProbedChain | null = null,
  ) {}

  get length(): number {
    return this.entries.length
  }

  /** Other inserts. Those that are still there keep what they remember. */
  update(inserts: readonly InsertPlan[]): void {
    const before = this.entries
    let latency = 0
    let tail: number | null = null
    const entries = inserts.map((plan): Entry => {
      const kind = processorKind(plan.kind)
      const known = before.find((entry) => fits(entry, plan))
      if (known && known.plan.setup !== plan.setup) known.processor.update(plan.setup)
      const processor = known?.processor ?? kind.create(plan.setup, this.slackFrames)
      const { latencyFrames, channels } = processor
      const dry =
        known?.dry ??
        (plan.bypass && latencyFrames
          ? Array.from(
              { length: channels },
              () => new DelayLine(latencyFrames + RENDER_BLOCK, true, this.slackFrames),
            )
          : [])
      const memory = kind.memory(plan.setup)
      latency += latencyFrames
      if (memory) tail = (tail ?? 0) + memory.tailFrames
      return { plan, processor, dry, state: known?.state ?? [...processor.state, ...dry], ahead: 0 }
    })
    let ahead = 0
    for (const entry of [...entries].reverse()) {
      entry.ahead = ahead
      ahead += entry.processor.latencyFrames
    }
    this.entries = entries
    this.latency = latency
    this.tail = tail
    this.scalars = entries.reduce((sum, { state }) => sum + scalarsOf(state), 0)
  }

  /** By how many frames what comes into an insert lies behind what comes into the chain. */
  delayBefore(insertId: string): number {
    const entry = this.entries.find(({ plan }) => plan.id === insertId)
    return entry ? this.latency - entry.ahead - entry.processor.latencyFrames : 0
  }

  /** Whether it would put out silence for silence. */
  get resting(): boolean {
    return this.idle || this.tail === null
  }

  /**
   * Takes in `count` frames, in place; `silent` says that the arrays hold nothing of use and silence is meant. What goes with
   * them of its keys lies at `keysAt`. Returns whether anything comes out: else the arrays are left as they are.
   */
  run(sound: Sound, channels: 1 | 2, count: number, silent: boolean, keysAt = 0): boolean {
    const heard = this.runFrames(sound, channels, count, silent, keysAt)
    this.over = Math.min(OVER_FRAMES, this.over + count)
    return heard
  }

  private runFrames(sound: Sound, channels: 1 | 2, count: number, silent: boolean, keysAt: number): boolean {
    const from = this.pos
    this.pos += count
    if (this.entries.length === 0) return !silent
    if (silent && this.resting && this.keysRest()) return false
    if (silent) for (const side of sound) side.fill(0, 0, count)
    else if (hasFaults(sound, channels, count))
      for (let c = 0; c < channels; c++) withoutFaults(sound[c]!, count)
    if (this.tail === null) {
      this.process(sound, from, 0, count, keysAt, OVER_FRAMES)
      return true
    }
    let any = false
    for (let at = 0; at < count;) {
      // Stretches of quanta in which all work, or all rest.
      let to = at
      while (to < count) {
        const many = Math.min(QUANTUM_FRAMES, count - to)
        // While a key sounds, what it steers has to follow it, also where there is nothing to be steered yet.
        const zero = (silent || isZero(sound, channels, to, many)) && this.keysRest(keysAt + to, many)
        if (!this.idle && this.quiet >= this.tail) {
          if (to > at) break
          this.reset()
        }
        if (this.idle && !zero) {
          if (to > at) break
          this.idle = false
        } else if (this.idle) {
          to += QUANTUM_FRAMES
          // What an insert would have put on a second side.
          if (channels === 1) sound[1].fill(0, at, to)
          at = to
          continue
        }
        this.quiet = zero ? this.quiet + QUANTUM_FRAMES : 0
        to += QUANTUM_FRAMES
      }
      to = Math.min(to, count)
      if (to > at) {
        this.process(sound, from + at, at, to - at, keysAt + at, this.over + at)
        any = true
      }
      at = to
    }
    return any
  }

  /** Whether no key sounds, or not in some frames. Without closures: it is asked for every quantum. */
  private keysRest(at?: number, count = 0): boolean {
    for (const key of this.keys)
      if (key.touched && (at === undefined || !isZero(key.sides, 2, at, count))) return false
    return true
  }

  private process(sound: Sound, from: number, at: number, count: number, keysAt: number, over: number): void {
    if (at > 0) {
      // Processors work from index 0 on: what lies there steps aside.
      for (const c of [0, 1] as const) {
        room.aside[c].set(sound[c].subarray(0, count))
        sound[c].copyWithin(0, at, at + count)
      }
      this.process(sound, from, 0, count, keysAt, over)
      for (const c of [0, 1] as const) {
        sound[c].copyWithin(at, 0, count)
        sound[c].set(room.aside[c].subarray(0, Math.min(at, count)))
      }
      return
    }
    let { latency } = this
    const probed = this.probed?.probe.watches(this.probed.stripId) ? this.probed : null
    const first = this.entries[0]!.plan.setup.channels
    if (probed) probed.probe.note(probed.stripId, probed.incoming, sound, first, count, null, from, 0)
    for (const entry of this.entries) {
      const { processor, plan } = entry
      latency -= processor.latencyFrames
      // The frame of what comes out of this insert.
      const out = from - (this.latency - latency)
      const { channels } = plan.setup
      for (let c = 0; c < processor.channels; c++)
        room.dry[c]!.set(head(sound[Math.min(c, channels - 1)]!, count))
      if (over < OVER_FRAMES) processor.goOver?.(over)
      const began = probed?.probe.now?.() ?? 0
      processor.process(sound, out, count, plan.setup.keyed ? this.keyOf(plan.id, keysAt, count) : undefined)
      const took = probed?.probe.now ? probed.probe.now() - began : 0
      if (hasFaults(sound, processor.channels, count)) {
        resetState(processor.state)
        for (let c = 0; c < processor.channels; c++)
          if (processor.latencyFrames) sound[c]!.fill(0, 0, count)
          else sound[c]!.set(head(room.dry[c]!, count))
        this.onFault(plan.id)
      }
      if (plan.bypass) this.blendDry(entry, sound, out, count)
      if (probed)
        probed.probe.note(probed.stripId, plan.id, sound, processor.channels, count, processor, out, took)
    }
  }

  /** What steers an insert: silence where nothing does. */
  private keyOf(insertId: string, at: number, count: number): Sides {
    const key = this.keys.find((k) => k.insertId === insertId)
    if (!key?.touched) return SILENCE
    for (const side of [0, 1] as const) {
      const taken = room.keyed[side]
      taken.set(key.sides[side].subarray(at, at + count))
      if (!isFiniteSide(taken, count)) withoutFaults(taken, count)
    }
    return room.keyed
  }

  /** Goes over to the sound that came in where a lane bypasses an insert. */
  private blendDry({ plan, processor, dry }: Entry, sound: Sound, from: number, count: number): void {
    const bypass = plan.bypass!
    dry.forEach((line, c) => {
      line.append(room.dry[c]!, count)
      line.copy(processor.latencyFrames + count, count, room.dry[c]!)
    })
    const same = bypass.constant(from, count)
    if (same === 0) return
    if (same === null) bypass.fill(from, count, room.blend)
    for (let c = 0; c < processor.channels; c++) {
      const [wet, plain] = [sound[c]!, room.dry[c]!]
      if (same === 1) wet.set(head(plain, count))
      else
        for (let i = 0; i < count; i++)
          wet[i] = wet[i]! + (plain[i]! - wet[i]!) * (same === null ? room.blend[i]! : same)
    }
  }

  /** What repeats goes over from what it wrote before, where the chain is now, to what comes in from here on. */
  crossfadeState(): void {
    this.over = 0
  }

  /** Forgets everything. */
  reset(): void {
    this.quiet = 0
    this.idle = true
    for (const { state } of this.entries) resetState(state)
  }

  /** Writes what it remembers. */
  save(into: ChainState): void {
    into.pos = this.pos
    into.quiet = this.quiet
    into.idle = this.idle
    into.entries = this.entries
    if (into.data.length < this.scalars) into.data = new Float64Array(this.scalars)
    let at = 0
    for (const { state } of this.entries) at = saveState(state, into.data, at)
  }

  /** The latency of the inserts that are not in a state: what they look ahead at, they have to be given. */
  newLatency(state: ChainState): number {
    let latency = 0
    for (const entry of this.entries)
      if (!state.entries.some((old) => sameInsert(old, entry))) latency += entry.processor.latencyFrames
    return latency
  }

  /** Goes back to what it remembered. Inserts that were not there then begin empty. */
  restore(state: ChainState): void {
    this.pos = state.pos
    this.quiet = state.quiet
    this.idle = state.idle
    for (const entry of this.entries) this.restoreEntry(entry, state)
  }

  private restoreEntry(entry: Entry, state: ChainState): boolean {
    let at = 0
    for (const old of state.entries) {
      if (sameInsert(old, entry)) {
        restoreState(entry.state, state.data, at)
        return true
      }
      at += scalarsOf(old.state)
    }
    resetState(entry.state)
    return false
  }

  /** A copy of all that it remembers, for longer than `restore` reaches back; `last` says that it is not used any more. */
  snapshot(last?: boolean): KeptChain {
    const state = newChainState()
    this.save(state)
    return { ...state, lines: this.entries.map((entry) => linesOf(entry).map((line) => line.snapshot(last))) }
  }

  /** Remembers what was kept; what is remembered of the time before stays within reach of `restore`. */
  applySnapshot(kept: KeptChain): void {
    // What was written where it was before has nothing to do with what it goes on from.
    this.over = OVER_FRAMES
    const places = this.entries.map((entry) => linesOf(entry).map((line) => line.at))
    this.restore(kept)
    this.entries.forEach((entry, e) => {
      const at = kept.entries.findIndex((old) => sameInsert(old, entry))
      linesOf(entry).forEach((line, l) => {
        line.at = places[e]![l]!
        if (at < 0) line.reset()
        else line.applySnapshot(kept.lines[at]![l]!)
      })
    })
  }
}
