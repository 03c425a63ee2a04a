import { applyPatches, type Patch } from '../core/model/patch'
import type { Session } from '../core/model/session'
import { planSession, type Correlations } from '../core/render'
import { storeCache, soundsOf } from './audio-store'
import { correlationsOf } from './correlations'
import { createRing, READ, STATE, STOPPED, type RingMemory, type RingReport } from './ring'
import { Stream, type FrameRange } from './stream'

/** What the page tells the render worker. */
export type RenderMessage =
  | { type: 'ring'; ring: RingMemory }
  | { type: 'link'; link: MessagePort }
  | { type: 'session'; session: Session }
  | { type: 'patches'; patches: Patch[] }
  | { type: 'start'; frame: number }
  | { type: 'stop' }
  | { type: 'seek'; frame: number }
  | { type: 'loop'; loop: FrameRange | null }
  | { type: 'alone'; regionId: string | null }
  | { type: 'listen'; listening: Listening }

/** How it is listened: with or without the shaping, and at which linear gain. */
export interface Listening {
  unshaped: boolean
  gain: number
}

/** What the render worker tells the page. */
export type RenderReply = { type: 'ready' } | { type: 'failed'; message: string }

const reply = (message: RenderReply) => postMessage(message)

const cache = storeCache()
let ring: RingMemory | null = null
let link: MessagePort | null = null
let session: Session | null = null
let sourcesKnown: Session['sources'] | null = null
let stream: Stream | null = null
let loop: FrameRange | null = null
let alone: string | null = null
let listening: Listening = { unshaped: false, gain: 1 }
let running = false
/** Counts starts and stops; work begun for an earlier one ends when it sees that it is. */
let generation = 0
let wake: () => void = () => undefined

let correlations: Correlations = new Map()

const plan = () =>
  planSession(session!, {
    correlations,
    unshaped: listening.unshaped,
    listen: listening.gain,
    ...(alone !== null && session!.regions[alone] ? { regionId: alone } : {}),
  })

function useRing(memory: RingMemory, port: MessagePort | null): void {
  ring = memory
  link = port
  if (port)
    port.onmessage = (event: MessageEvent<RingReport>) => {
      if (event.data.epoch !== generation) return
      memory.control[READ] = event.data.read
      memory.control[STATE] = event.data.state
      wake()
    }
}

let sourcesReady: Promise<void> = Promise.resolve()

/** Finds out where the sounds of the session are. Whoever comes while that goes on waits for it too. */
function refreshSources(): Promise<void> {
  if (session && session.sources !== sourcesKnown) {
    const wanted = session.sources
    sourcesKnown = wanted
    sourcesReady = soundsOf(wanted).then((records) => {
      if (sourcesKnown === wanted) cache.setSources(records)
    })
    // What failed is tried again by the next one who asks.
    sourcesReady.catch(() => (sourcesKnown = null))
  }
  return sourcesReady
}

/** Measures what the level law needs to know; quick where nothing that it depends on has changed. */
async function refresh(): Promise<void> {
  await refreshSources()
  if (session) correlations = await correlationsOf(session, cache)
}

/** Frames ahead of the playing from which on messages are heard between blocks, and from which on there is no hurry. */
const SAFE = 4096
const RELAXED = 12288

const { port1: bell, port2: pull } = new MessageChannel()

/** Lets messages that have come be heard; an edit need not wait until the ring is full. */
async function listen(): Promise<void> {
  await new Promise<void>((resolve) => {
    bell.onmessage = () => resolve()
    pull.postMessage(null)
  })
}

/** Waits until the ring was read, a message came, or a few milliseconds passed. */
async function pause(): Promise<void> {
  const woken = new Promise<void>((resolve) => (wake = resolve))
  const timeout = new Promise<void>((resolve) => setTimeout(resolve, 10))
  const control = ring!.control
  const read =
    ring!.shared && 'waitAsync' in Atomics
      ? (
          Atomics as unknown as {
            waitAsync(
              a: Int32Array<ArrayBufferLike>,
              i: number,
              v: number,
              t: number,
            ): { value: Promise<unknown> | string }
          }
        ).waitAsync(control, READ, Atomics.load(control, READ), 50).value
      : 'none'
  await Promise.race([woken, timeout, ...(typeof read === 'string' ? [] : [read])])
}

/** The worklet ends a stop by itself; without a running audio clock nobody does, so the wait is bounded. */
async function untilStopped(): Promise<void> {
  for (let i = 0; i < 20 && Atomics.load(ring!.control, STATE) !== STOPPED; i++)
    await new Promise((resolve) => setTimeout(resolve, 5))
  Atomics.store(ring!.control, STATE, STOPPED)
}

async function start(frame: number): Promise<void> {
  const mine = ++generation
  running = false
  wake()
  if (!ring || !session) return
  await untilStopped()
  await refresh()
  if (mine !== generation) return
  link?.postMessage({ reset: mine })
  const made = new Stream(
    plan(),
    cache,
    ring,
    link &&
      ((message) =>
        link!.postMessage(message, [
          message.left.buffer,
          message.right.buffer,
          message.positions.buffer,
          message.meters.buffer,
        ])),
  )
  made.setLoop(loop)
  made.start(frame)
  stream = made
  running = true
  // A few blocks first, so that playing does not begin with an empty ring.
  for (let i = 0; i < 16; i++) await made.step()
  if (mine !== generation) return
  reply({ type: 'ready' })
  while (running && mine === generation) {
    if (!(await made.step())) await pause()
    // What is heard next comes before what somebody has to say; what is heard much later must not keep a processor from the hand and the audio thread.
    else if (made.ahead() > RELAXED) await new Promise((resolve) => setTimeout(resolve, 5))
    else if (made.ahead() > SAFE) await listen()
  }
}

async function receive(message: RenderMessage): Promise<void> {
  switch (message.type) {
    case 'ring':
      return useRing(message.ring, null)
    case 'link':
      return useRing(createRing(false), message.link)
    case 'session':
      session = message.session
      return
    case 'patches': {
      session = applyPatches(session!, message.patches)
      const current = stream
      await refresh()
      if (running && current === stream) current?.setPlan(plan())
      return wake()
    }
    case 'start':
      return start(message.frame)
    case 'stop':
      running = false
      generation++
      return wake()
    case 'seek':
      stream?.seek(message.frame)
      return wake()
    case 'alone':
      alone = message.regionId
      if (session) stream?.setPlan(plan())
      return wake()
    case 'listen':
      listening = message.listening
      if (session) stream?.setPlan(plan())
      return wake()
    case 'loop':
      loop = message.loop
      stream?.setLoop(loop)
      return wake()
  }
}

onmessage = (event: MessageEvent<RenderMessage>) => {
  receive(event.data).catch((error: unknown) => {
    running = false
    reply({ type: 'failed', message: error instanceof Error ? error.message : String(error) })
  })
}
