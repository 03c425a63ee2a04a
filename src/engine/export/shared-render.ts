import {
  fileStart,
  RELAY_SLICE,
  RelayLink,
  relayParts,
  renderedBlocks,
  type RenderedBlock,
} from '../../core/render'
import type { SoundCache } from '../storage'
import { sharedPlan, type SharedRender, type SliceMessage, type SliceReply } from './slice-render'

/** Frames of a slice. */
const SLICE_FRAMES = 32_768
/** Slices that lie between two parts of the strips at most. */
const SLOTS = 8
/** Slices that a worker has before it at a time. */
const AHEAD = 3
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
class RequestQueue {
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
 * Renders a range as `renderedBlocks` does, to the bit, shared by threads: where nothing remembers by slices of time; else each
 * renders some of the strips and hands on what has been added so far. `cache` must know the sources.
 *
 * Both earn their place. Of the sample session with its processing, the thread that has most to do when strips are shared takes a
 * part in 1.5 (2 threads) or 2.4 (4, and no less with 8) of the whole; without processing, sharing strips would gain 1.3 however many
 * threads there are, since each thread also adds up what it is handed, where slices of time gain nearly the number of threads.
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
  const { remembers } = plan.memory
  // Without memory that threads can share, sums cannot be handed on.
  const places = remembers && typeof SharedArrayBuffer === 'function' ? relayParts(plan, threads) : []
  if (!long || (remembers ? places.length < 3 : threads < 1)) {
    yield* renderedBlocks(plan, cache, { ...options, stage: options.stage, blockFrames: SLICE_FRAMES })
    return
  }
  const started = Array.from({ length: remembers ? places.length - 1 : threads }, startThread)
  try {
    const asked = started.map((thread) => new RequestQueue(thread, onFault))
    if (remembers) {
      render.start = fileStart(plan, from)
      const links = places.slice(2).map(() => new RelayLink(plan, SLOTS).buffer)
      const begun = asked.map((thread, n) => {
        const part = {
          from: places[n]!,
          to: places[n + 1]!,
          before: links[n - 1] ?? null,
          after: links[n] ?? null,
          slots: SLOTS,
          first: from,
          end: to,
        }
        return thread.ask({ type: 'begin', render, part })
      })
      const first = Math.min(...(await Promise.all(begun)).map((r) => (r.type === 'begun' ? r.first : from)))
      const slices = Math.ceil((to - first) / RELAY_SLICE)
      const warm = (from - first) / RELAY_SLICE
      let taken = 0
      for await (const block of handedOn(asked, slices)) {
        taken++
        if (block.left.length) yield block
        else await onWarm?.(Math.min(1, taken / warm))
      }
    } else {
      for (const thread of asked) thread.ask({ type: 'begin', render, part: null }).catch(() => undefined)
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
  asked: readonly RequestQueue[],
): AsyncGenerator<RenderedBlock> {
  const coming: Promise<SliceReply>[] = []
  let next = from
  const askNext = () => {
    if (next >= to) return
    const count = Math.min(SLICE_FRAMES, to - next)
    const reply = asked[Math.round((next - from) / SLICE_FRAMES) % asked.length]!.ask({
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

/**
 * What the last of the threads puts out, slice by slice. Each is asked for a slice as soon as the one before it has handed that on,
 * and while the one after it still has room.
 */
async function* handedOn(threads: readonly RequestQueue[], slices: number): AsyncGenerator<RenderedBlock> {
  const last = threads.length - 1
  const asked = threads.map(() => 0)
  const done = threads.map(() => 0)
  const out: RenderedBlock[] = []
  let taken = 0
  let failure: { error: unknown } | null = null
  let wake = () => {}
  const mayGoOn = (t: number) =>
    asked[t]! < slices &&
    asked[t]! < done[t]! + AHEAD &&
    (t === 0 || asked[t]! < done[t - 1]!) &&
    asked[t]! < SLOTS + (t === last ? taken : done[t + 1]!)
  const goOn = () => {
    for (let t = 0; t <= last; t++)
      while (mayGoOn(t)) {
        asked[t]!++
        threads[t]!.ask({ type: 'next' }).then(
          (reply) => {
            done[t]!++
            if (t === last && reply.type === 'frames')
              out.push({ from: reply.at, left: reply.left, right: reply.right })
            goOn()
            wake()
          },
          (error: unknown) => {
            failure = { error }
            wake()
          },
        )
      }
  }
  goOn()
  while (taken < slices) {
    if (!out.length && !failure) await new Promise<void>((resolve) => (wake = resolve))
    if (failure) throw (failure as { error: unknown }).error
    const block = out.shift()
    if (!block) continue
    taken++
    goOn()
    yield block
  }
}
