import { QUANTUM_FRAMES } from '../../dsp/processors'
import type { Chain } from './chain'
import { newChainState, type ChainState, type KeptChain } from './chain-state'
import type { KeptFeed } from './feed-line'
import { TO_MIX } from '../../model/session'
import { keyName, kept, MIX, MIX_LAST, rowKey, type GraphStrips, type Input } from './graph-strips'

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

/** The beginning of the quantum of a frame. */
export const quantumOf = (frame: number): number => Math.floor(frame / QUANTUM_FRAMES) * QUANTUM_FRAMES

/** Begins empty: what comes in from the quantum of a session frame on is the first that is heard of. Returns the cursor. */
export function jumpTo(strips: GraphStrips, frame: number): number {
  const start = quantumOf(frame)
  for (const [, chain] of strips.keyedChains()) {
    chain.reset()
    chain.pos = start
  }
  for (const line of strips.lines.values()) line.clear()
  return start - strips.mostAhead
}

/** Writes what strips remember where `cursor` is the next frame that comes out. */
export function saveGraph(strips: GraphStrips, cursor: number, into: GraphState): void {
  into.cursor = cursor
  const keys = new Set<string>()
  for (const [key, chain] of strips.keyedChains()) {
    keys.add(key)
    const state = kept(into.chains, key, newChainState)
    chain.save(state)
  }
  for (const key of into.chains.keys()) if (!keys.has(key)) into.chains.delete(key)
}

/** Goes back to what was remembered under the same plan, a little before. Returns the cursor. */
export function goBackTo(strips: GraphStrips, state: GraphState): number {
  for (const [key, chain] of strips.keyedChains()) {
    const known = state.chains.get(key)
    if (known) chain.restore(known)
  }
  return state.cursor
}

/**
 * Goes back so far that the quantum of a session frame can be rendered as if it had come to it from before: every strip
 * takes up the latest of its states (oldest first) from which that is possible, and renders what lies between. The cursor
 * that is returned is at or before that quantum. A strip of which nothing is known begins empty; `whole` says that the mix is
 * rendered.
 */
export function resumeFrom(
  strips: GraphStrips,
  whole: boolean,
  states: readonly GraphState[],
  frame: number,
): number {
  const target = quantumOf(frame)
  for (const line of strips.lines.values()) line.clear()
  const takeUp = (key: string, chain: Chain, need: number): number => {
    if (chain.tail === null) return (chain.pos = need)
    // What an insert has ahead was rendered as things were before: from so far back it is rendered again, or where old sound ends
    // and new sound begins would be heard a latency later. Where nothing is known so far back, that much only of new inserts.
    for (const ahead of [() => chain.latency, (state: ChainState) => chain.newLatency(state)])
      for (let i = states.length - 1; i >= 0; i--) {
        const state = states[i]!.chains.get(key)
        if (!state || state.pos > need - ahead(state)) continue
        chain.restore(state)
        return state.pos
      }
    chain.reset()
    return (chain.pos = need - chain.latency)
  }
  let cursor = target
  const last = takeUp(MIX_LAST, strips.lastChain, target + strips.lastChain.latency)
  cursor = Math.min(cursor, last - strips.lastChain.latency)
  const first = takeUp(MIX, strips.mixChain, last + strips.mixChain.latency)
  cursor = Math.min(cursor, first - strips.mix.ahead)
  const needs = new Map<Input, number>([[strips.mix, whole ? first : target]])
  const keysFrom = (stripId: string, chain: Chain, pos: number) => {
    for (const { insertId } of chain.keys)
      needs.set(strips.keyInputs.get(keyName(stripId, insertId))!, pos - chain.delayBefore(insertId))
  }
  keysFrom(TO_MIX, strips.lastChain, last)
  keysFrom(TO_MIX, strips.mixChain, first)
  for (const { plan, chain, feeds, input, inputAhead } of [...strips.runners].reverse()) {
    const need = feeds.reduce(
      (least, { to }) => Math.min(least, needs.get(to) ?? target),
      target + inputAhead - chain.latency,
    )
    const pos = takeUp(rowKey(plan.id), chain, need + chain.latency)
    if (input) needs.set(input, pos)
    keysFrom(plan.id, chain, pos)
    cursor = Math.min(cursor, pos - inputAhead)
  }
  return cursor
}

/** A copy of all that strips remember; `last` says that they are not used any more, and may give it away. */
export function keepGraph(strips: GraphStrips, cursor: number, last?: boolean): KeptGraph {
  return {
    cursor,
    chains: new Map([...strips.keyedChains()].map(([key, chain]) => [key, chain.snapshot(last)])),
    feeds: new Map([...strips.lines].map(([key, line]) => [key, line.snapshot(last)])),
  }
}

/** Goes on from what was kept, under the plan of then or a later one. Returns the cursor. */
export function putBackGraph(strips: GraphStrips, known: KeptGraph): number {
  let { cursor } = known
  for (const [key, chain, ahead] of strips.keyedChains()) {
    const state = known.chains.get(key)
    if (state) chain.applySnapshot(state)
    else {
      chain.reset()
      chain.pos = known.cursor + ahead
    }
    cursor = Math.min(cursor, chain.pos - ahead)
  }
  for (const [key, line] of strips.lines) {
    const state = known.feeds.get(key)
    if (state) line.applySnapshot(state)
    else line.clear()
  }
  return cursor
}
