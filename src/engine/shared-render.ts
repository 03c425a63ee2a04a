import {
  fileStart,
  ProvidedChains,
  renderedBlocks,
  Renderer,
  spansNeeded,
  type RenderedBlock,
  type RenderPlan,
} from '../core/render'
import type { SoundCache } from './audio-store'
import { sharedPlan, type SharedRender, type SliceMessage, type SliceReply } from './slice-render'

/** Frames of a slice. */
const SLICE = 32_768
/** Frames of what comes out of inserts that are handed over at a time: of all tracks they fit into a near memory. */
const CHAIN_SLICE = 8192
/** Slices that a worker has before it at a time. */
const AHEAD = 2
/** Shorter ranges are rendered on one thread, in seconds: starting others takes longer than they save. */
const WORTH_SHARING = 5

/** What a thread of a shared render is to it; in a browser a worker. */
export interface SliceThread {
  tell(message: SliceMessage): void
  onReply: (reply: SliceReply) => void
  close(): void
}

export interface SharedOptions extends Omit<SharedRender, 'start'> {
  from: number
  to: number
  /** How many threads besides this one; 0 renders here alone. */
  threads: number
  onWarm?(part: number): Promise<void> | void
  onFault?(insertId: string): void
}

/** A thread with what it has been asked for and not answered yet, in order. */
class Asked {
  private readonly waiting: ((reply: SliceReply) => void)[] = []
  private failure: Error | null = null

  constructor(
    private readonly thread: SliceThread,
    onFault: (insertId: string) => void,
  ) {
    thread.onReply = (reply) => {
      if (reply.type === 'fault') return onFault(reply.insertId)
      if (reply.type === 'failed') this.failure = new Error(reply.message)
      this.waiting.shift()?.(reply)
    }
  }

  ask(message: SliceMessage): Promise<SliceReply> {
    return new Promise((resolve, reject) => {
      this.waiting.push((reply) => (this.failure ? reject(this.failure) : resolve(reply)))
      this.thread.tell(message)
    })
  }
}

/**
 * Renders a range as `renderedBlocks` does, to the bit, shared by threads: where nothing remembers by slices of time; else what
 * comes out of the inserts of tracks is rendered by them, and this one places and adds it. `cache` must know the sources.
 */
export async function* sharedBlocks(
  options: SharedOptions,
  cache: SoundCache,
  startThread: () => SliceThread,
): AsyncGenerator<RenderedBlock> {
  const { from, to, threads, onWarm, onFault = () => undefined, ...rest } = options
  const render: SharedRender = { ...rest, start: from }
  const plan = sharedPlan(render)
  const long = to - from > WORTH_SHARING * plan.sampleRate
  // What a key steers needs the sound of another strip.
  const processed = plan.tracks.filter(
    ({ feeds, inserts, isBus }) =>
      feeds.length > 0 && inserts.length > 0 && !isBus && !inserts.some((insert) => insert.setup.keyed),
  )
  if (threads < 1 || !long || (plan.memory.remembers && processed.length === 0)) {
    yield* renderedBlocks(plan, cache, { ...options, stage: options.stage, blockFrames: SLICE })
    return
  }
  const started = Array.from({ length: threads }, startThread)
  try {
    const asked = started.map((thread) => new Asked(thread, onFault))
    if (plan.memory.remembers) {
      render.start = fileStart(plan, from)
      const parts = asked.map((_, t) =>
        processed.filter((__, i) => i % threads === t).map((track) => track.id),
      )
      started.forEach((thread, t) => thread.tell({ type: 'begin', render, part: parts[t]! }))
      yield* withProvidedChains(plan, render, { from, to, onWarm, onFault }, cache, asked, parts)
    } else {
      for (const thread of started) thread.tell({ type: 'begin', render, part: [] })
      yield* slicesOfTime(from, to, asked)
    }
  } finally {
    for (const thread of started) thread.close()
  }
}

/** Slices from all threads in turn, in the order of time. */
async function* slicesOfTime(
  from: number,
  to: number,
  asked: readonly Asked[],
): AsyncGenerator<RenderedBlock> {
  const coming: Promise<SliceReply>[] = []
  let next = from
  const askNext = () => {
    if (next >= to) return
    const count = Math.min(SLICE, to - next)
    const reply = asked[Math.round((next - from) / SLICE) % asked.length]!.ask({
      type: 'frames',
      at: next,
      count,
    })
    // Awaited later; a failure is met there.
    reply.catch(() => undefined)
    coming.push(reply)
    next += count
  }
  for (let i = 0; i < asked.length * AHEAD; i++) askNext()
  while (coming.length) {
    const reply = await coming.shift()!
    askNext()
    if (reply.type === 'frames') yield { from: reply.at, left: reply.left, right: reply.right }
  }
}

/** Renders here what comes after the inserts of tracks, which the threads render. */
async function* withProvidedChains(
  plan: RenderPlan,
  { stage, start }: SharedRender,
  { from, to, onWarm, onFault }: Pick<SharedOptions, 'from' | 'to' | 'onWarm' | 'onFault'>,
  cache: SoundCache,
  asked: readonly Asked[],
  parts: readonly (readonly string[])[],
): AsyncGenerator<RenderedBlock> {
  const provided = new ProvidedChains(parts.flat())
  const renderer = new Renderer(plan, cache, { onFault, provided })
  const coming: Promise<SliceReply>[][] = asked.map(() => [])
  /** Up to this session frame all threads have taken in sound. */
  let had = start
  const askNext = () =>
    asked.forEach((thread, t) => {
      const reply = thread.ask({ type: 'chains', count: CHAIN_SLICE })
      reply.catch(() => undefined)
      coming[t]!.push(reply)
    })
  for (let i = 0; i < AHEAD; i++) askNext()
  const until = async (frame: number) => {
    while (had < frame) {
      for (const replies of coming) {
        const reply = await replies.shift()!
        if (reply.type === 'chains') for (const [id, slice] of reply.slices) provided.add(id, slice)
      }
      had += CHAIN_SLICE
      askNext()
    }
  }
  for (let at = start; at < to;) {
    const count = Math.min(CHAIN_SLICE, (at < from ? from : to) - at)
    // Whole quanta are rendered, and what looks ahead takes in what comes later.
    await until(at + count + 64 + plan.memory.aheadFrames)
    const block = { from: at, left: new Float32Array(count), right: new Float32Array(count) }
    await cache.using(spansNeeded(plan, at, count, provided), () =>
      renderer.renderStage(stage, at, block.left, block.right),
    )
    at += count
    if (at > from) yield block
    else await onWarm?.((at - start) / (from - start))
  }
}
