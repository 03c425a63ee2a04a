import { regionEnd, sessionLength } from '../../core/model/queries'
import { applyPatches, type Patch } from '../../core/model/patch'
import type { Session } from '../../core/model/session'
import { heardSession, planSession, soundingEnd, type Correlations, type Heard } from '../../core/render'
import type { SoundCache, StoredSound } from '../storage'
import { correlationsOf } from '../storage'
import {
  createRing,
  framesRead,
  positionAt,
  READ,
  setFramesRead,
  STATE,
  STOPPED,
  type RingMemory,
  type RingReport,
} from './ring'
import { NOTHING_WATCHED, type Watch } from './probes'
import { Stream, type FrameRange } from './stream'

/** How the session is heard: with or without its shaping, at which linear gain, and at which place of it. */
export interface Listening {
  unshaped: boolean
  gain: number
  heard: Heard | null
}

/** What the page tells the render worker. `run` numbers the times that playing was begun, from 1 on. */
export type RenderMessage =
  | { type: 'ring'; ring: RingMemory }
  | { type: 'link'; link: MessagePort }
  | { type: 'session'; session: Session }
  | { type: 'patches'; patches: Patch[] }
  | { type: 'start'; run: number; frame: number }
  | { type: 'stop' }
  | { type: 'seek'; frame: number }
  | { type: 'loop'; loop: FrameRange | null }
  | { type: 'alone'; regionId: string | null }
  | { type: 'listen'; listening: Listening }
  | { type: 'watch'; watch: Watch }
  /** Asks for a sign of life. */
  | { type: 'ping' }

/**
 * What the render worker tells the page: that the ring is filled for a run, that what there was to play has been played
 * (`frame` is where the playhead then stands), that rendering failed, or that an insert output NaN and was left
 * out.
 */
export type RenderReply =
  | { type: 'ready'; run: number }
  | { type: 'ended'; run: number; frame: number }
  | { type: 'failed'; message: string }
  | { type: 'fault'; insertId: string }
  /** What was to be heard at a session frame is no number; it was left silent. */
  | { type: 'too-large'; frame: number }
  | { type: 'pong' }

/** The loop's access to storage and to the page. */
export interface RenderLoopHost {
  cache: SoundCache
  findSounds(sources: Session['sources']): Promise<Map<string, StoredSound>>
  reply(message: RenderReply): void
}

/** Frames rendered before playback starts. */
const PRIMED = 8192
/**
 * Lead over playback, in frames, from which messages are handled between blocks, and from which there is no
 * hurry.
 */
const SAFE = 4096
const RELAXED = 12288
/**
 * How often what was rendered first is rewritten as after an edit, with the same sound: the code for that is compiled then, which takes
 * tens of milliseconds, before the first edit has to be heard.
 */
const REHEARSALS = 3
/** How long playback continues after the last region, in seconds. */
const RUN_OUT_SECONDS = 0.25

const after = (ms: number) => new Promise<void>((resolve) => setTimeout(resolve, ms))

/**
 * Renders ahead of playback: everything that the render worker does, without the worker. `receive` handles
 * messages in order; they may overlap, because fetching sound takes time. After every wait the loop checks
 * that its run is still current, so that nothing of an earlier run reaches the ring of a later one.
 */
export class RenderLoop {
  private ring: RingMemory | null = null
  private link: MessagePort | null = null
  private session: Session | null = null
  private sourcesKnown: Session['sources'] | null = null
  private sourcesReady: Promise<void> = Promise.resolve()
  private stream: Stream | null = null
  private loop: FrameRange | null = null
  private alone: string | null = null
  private listening: Listening = { unshaped: false, gain: 1, heard: null }
  private watch = NOTHING_WATCHED
  private transformed: { of: Session; heard: Heard; session: Session } | null = null
  private correlations: Correlations = new Map()
  /** The run that plays; 0 while nothing does. */
  private run = 0
  /** Where playing begins; a seek may come before there is a stream to tell. */
  private from = 0
  private ended = false
  private rehearsals = REHEARSALS
  private wake: () => void = () => undefined
  private readonly bell = new MessageChannel()

  constructor(private readonly host: RenderLoopHost) {}

  /** Handles a message. Rejects when sound cannot be read; playback then stops. */
  async receive(message: RenderMessage): Promise<void> {
    try {
      await this.handle(message)
    } catch (error) {
      this.end()
      this.host.reply({ type: 'failed', message: error instanceof Error ? error.message : String(error) })
    }
  }

  private handle(message: RenderMessage): Promise<void> | void {
    switch (message.type) {
      case 'ping':
        return this.host.reply({ type: 'pong' })
      case 'ring':
        return this.useRing(message.ring, null)
      case 'link':
        return this.useRing(createRing(false), message.link)
      case 'session':
        this.session = message.session
        return
      case 'patches':
        this.session = applyPatches(this.session!, message.patches)
        return this.replan()
      case 'start':
        return this.start(message.run, message.frame)
      case 'stop':
        return this.end()
      case 'seek':
        this.ended = false
        this.from = message.frame
        this.stream?.seek(message.frame)
        return this.wake()
      case 'alone':
        this.alone = message.regionId
        return this.replan()
      case 'listen':
        this.listening = message.listening
        return this.replan()
      case 'watch':
        this.watch = message.watch
        this.stream?.setWatch(message.watch)
        return
      case 'loop':
        this.loop = message.loop
        this.stream?.setLoop(message.loop)
        return this.wake()
    }
  }

  private useRing(memory: RingMemory, link: MessagePort | null): void {
    this.ring = memory
    this.link = link
    if (!link) return
    link.onmessage = ({ data }: MessageEvent<RingReport>) => {
      if (data.epoch !== this.run) return
      setFramesRead(memory, data.read)
      memory.control[STATE] = data.state
      this.wake()
    }
  }

  /** Ends everything; the loop cannot be used any more. */
  close(): void {
    this.end()
    this.bell.port1.close()
  }

  private end(): void {
    this.run = 0
    this.stream?.close()
    this.stream = null
    this.wake()
  }

  /** Looks up the session's sounds in the store. Concurrent callers share one lookup. */
  private refreshSources(): Promise<void> {
    const wanted = this.session?.sources
    if (wanted && wanted !== this.sourcesKnown) {
      this.sourcesKnown = wanted
      this.sourcesReady = this.host.findSounds(wanted).then((sounds) => {
        if (this.sourcesKnown === wanted) this.host.cache.setSources(sounds)
      })
      // What failed is tried again by the next one who asks.
      this.sourcesReady.catch(() => (this.sourcesKnown = null))
    }
    return this.sourcesReady
  }

  /** Measures the correlations that the level law needs; quick when nothing relevant has changed. */
  private async refresh(): Promise<void> {
    await this.refreshSources()
    const { session, listening } = this
    if (session)
      this.correlations = await correlationsOf(this.heard(session), this.host.cache, listening.unshaped)
  }

  /** The session as it is listened to: the same as long as neither changes. */
  private heard(session: Session): Session {
    const { heard } = this.listening
    if (!heard) return session
    const known = this.transformed
    if (known?.of === session && known.heard === heard) return known.session
    this.transformed = { of: session, heard, session: heardSession(session, heard) }
    return this.transformed.session
  }

  private plan() {
    const { listening, correlations, alone } = this
    const session = this.heard(this.session!)
    const only = alone !== null && Object.hasOwn(session.regions, alone) ? { regionId: alone } : {}
    return planSession(session, {
      correlations,
      unshaped: listening.unshaped,
      listen: listening.gain,
      ...only,
    })
  }

  /** Applies the current session, solo region and listening mode. */
  private async replan(): Promise<void> {
    if (!this.session) return
    const { stream } = this
    await this.refresh()
    if (stream && stream === this.stream) stream.setPlan(this.plan())
    this.wake()
  }

  private async start(run: number, frame: number): Promise<void> {
    this.end()
    this.run = run
    this.from = frame
    this.ended = false
    if (!this.ring || !this.session) return
    await this.untilStopped(this.ring)
    if (this.run !== run) return
    await this.refresh()
    if (this.run !== run) return
    const stream = this.openStream(this.ring, run)
    stream.start(this.from)
    while (stream.ahead() < PRIMED) {
      await stream.step()
      if (this.run !== run) return
    }
    this.host.reply({ type: 'ready', run })
    await this.keepFilled(stream, run)
  }

  private openStream(ring: RingMemory, run: number): Stream {
    const { link } = this
    link?.postMessage({ reset: run })
    const stream = new Stream(
      this.plan(),
      this.host.cache,
      ring,
      link &&
        ((message) =>
          link.postMessage(message, [
            message.left.buffer,
            message.right.buffer,
            message.positions.buffer,
            message.meters.buffer,
          ])),
      {
        onFault: (insertId) => this.host.reply({ type: 'fault', insertId }),
        onTooLarge: (frame) => this.host.reply({ type: 'too-large', frame }),
      },
    )
    stream.setLoop(this.loop)
    stream.setWatch(this.watch)
    this.stream = stream
    return stream
  }

  private async keepFilled(stream: Stream, run: number): Promise<void> {
    while (this.run === run) {
      const rendered = await stream.step()
      if (this.run !== run) return
      this.noticeEnd(run)
      if (!rendered) await this.pause()
      // What is heard next comes before what somebody has to say; what is heard much later must not keep a
      // processor from the hand and the audio thread.
      else if (stream.ahead() > RELAXED) {
        if (this.rehearsals > 0) {
          this.rehearsals--
          stream.setPlan(this.plan())
        } else await this.rest(5)
      } else if (stream.ahead() > SAFE) await this.listen()
    }
  }

  /** Reports once that everything has been played. The page may be hidden and cannot poll. */
  private noticeEnd(run: number): void {
    const { ring, session } = this
    if (this.ended || !ring || !session || framesRead(ring) === 0) return
    const heard = positionAt(ring, framesRead(ring))
    const region = this.alone === null ? undefined : session.regions[this.alone]
    if (!region && this.loop) return
    const length = sessionLength(session)
    const dying = this.stream ? soundingEnd(this.stream.plan).end : length
    const last = region ? Math.max(regionEnd(region), dying) : dying + RUN_OUT_SECONDS * session.sampleRate
    if (heard < last) return
    this.ended = true
    this.host.reply({ type: 'ended', run, frame: region ? region.start : length })
  }

  /** Yields so that pending messages are handled; an edit need not wait for a full ring. */
  private listen(): Promise<void> {
    return new Promise((resolve) => {
      this.bell.port1.onmessage = () => resolve()
      this.bell.port2.postMessage(null)
    })
  }

  /** Waits until a message arrived, or some milliseconds passed. */
  private rest(ms: number): Promise<void> {
    const woken = new Promise<void>((resolve) => (this.wake = resolve))
    return Promise.race([woken, after(ms)])
  }

  /** Waits until the ring was read, a message arrived, or a few milliseconds passed. */
  private async pause(): Promise<void> {
    const { control, shared } = this.ring!
    const waits: Promise<unknown>[] = [this.rest(10)]
    const { waitAsync } = Atomics as unknown as { waitAsync?: WaitAsync }
    if (shared && waitAsync) {
      const { value } = waitAsync(control, READ, Atomics.load(control, READ), 50)
      if (typeof value !== 'string') waits.push(value)
    }
    await Promise.race(waits)
  }

  /** The worklet ends a stop by itself; without a running audio clock nobody does, so the wait is bounded. */
  private async untilStopped({ control }: RingMemory): Promise<void> {
    for (let i = 0; i < 20 && Atomics.load(control, STATE) !== STOPPED; i++) await after(5)
    Atomics.store(control, STATE, STOPPED)
  }
}

type WaitAsync = (
  array: Int32Array<ArrayBufferLike>,
  index: number,
  value: number,
  ms: number,
) => { value: Promise<unknown> | string }
