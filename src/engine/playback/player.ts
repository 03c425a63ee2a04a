import type { Patch } from '../../core/model/patch'
import type { Session } from '../../core/model/session'
import { playbackBegins } from '../worker'
import type { Captured, WorkletMessage } from './player.worklet'
import workletUrl from './player.worklet?worker&url'
import type { Listening, RenderMessage, RenderReply } from './render-loop'
import {
  copyRing,
  createRing,
  framesRead,
  framesWritten,
  METER_FRAMES,
  METER_ROW,
  meterRow,
  PLAYING,
  SOUND_AFTER,
  SOUND_BEFORE,
  positionAt,
  AUDIO_QUANTUM,
  HEARD_FRAMES,
  SCOPE_LEFT,
  SCOPE_RIGHT,
  STATE,
  STOPPED,
  STOPPING,
  UNDERRUNS,
  type RingMemory,
  type RingReport,
} from './ring'
import { MonitorPath, type Monitor } from './monitor'
import type { Watch } from './probes'
import { SignsOfLife } from './signs-of-life'
import type { FrameRange } from './stream'
import { WorkerLost } from '../worker'

/** What the worklet reports where memory is not shared. */
type PlayedReport = RingReport & { sessionFrame: number; meters: Float32Array }

/** A place in what was heard: the start of playing, and frames since it. */
export interface HeardPlace {
  run: number
  frame: number
}

/** What was heard, up to a place; `goesOn` says whether it follows what was asked for without a gap. */
export interface HeardSound {
  left: Float32Array
  right: Float32Array
  at: HeardPlace
  goesOn: boolean
}

/** What was heard longer ago than this may be written over, by a block in the making. */
const KEPT_FRAMES = HEARD_FRAMES - 4 * METER_FRAMES

/** Something about playing that a person has to know. */
export type PlayerNotice =
  | 'no-audio-device'
  | 'no-shared-memory'
  | 'gaps'
  | { failed: string }
  | { fault: string }
  | { tooLargeAt: number }

/** What the player tells whoever made it. */
export interface PlayerEvents {
  /** Called before rendering starts: pass on all changes that the player does not have yet. */
  onStarting(): void
  onPlaying(playing: boolean): void
  onNotice(notice: PlayerNotice): void
  /** The render worker is gone, or the browser has stopped the sound, while it played: nothing comes of this player any more. */
  onLost(what: 'worker' | 'audio'): void
}

/**
 * Plays a session: the render worker fills a ring, the worklet plays it. Positions are session frames. One
 * player serves one session at a time; `close` ends its worker and its audio.
 */
export class Player {
  protected readonly worker = new Worker(new URL('./render.worker.ts', import.meta.url), { type: 'module' })
  protected readonly ring: RingMemory
  private context: AudioContext | null = null
  protected node: AudioWorkletNode | null = null
  private readonly link: MessageChannel | null
  private report: PlayedReport | null = null
  private wanted = false
  private heard = false
  private cue = 0
  /** Counts the starts of playback; replies that belong to an earlier start are ignored. */
  protected run = 0
  private sampleRate = 48000
  private loop: FrameRange | null = null
  private alone = false
  private readonly monitor = new MonitorPath()
  private readonly signs = new SignsOfLife({
    ask: () => this.tell({ type: 'ping' }),
    progress: () => (this.link ? (this.report?.sessionFrame ?? 0) : framesWritten(this.ring)),
    runsDry: () => !this.link && framesRead(this.ring) >= framesWritten(this.ring),
    audio: () => (this.heard ? (this.context?.state ?? null) : null),
    gaps: () => this.underruns,
    onLost: (what) => this.events.onLost(what),
    onGaps: () => this.events.onNotice('gaps'),
  })

  constructor(protected readonly events: PlayerEvents) {
    const shared = typeof SharedArrayBuffer !== 'undefined' && globalThis.crossOriginIsolated
    this.ring = createRing(shared)
    this.link = shared ? null : new MessageChannel()
    this.worker.onmessage = (event: MessageEvent<RenderReply>) => this.onReply(event.data)
    this.worker.onerror = ({ message }) =>
      // Without a message it could not be loaded, which another one could not, either.
      message
        ? this.events.onLost('worker')
        : this.onReply({ type: 'failed', message: new WorkerLost('').message })
    if (this.link) this.tell({ type: 'link', link: this.link.port1 }, [this.link.port1])
    else this.tell({ type: 'ring', ring: this.ring })
    if (!shared) events.onNotice('no-shared-memory')
  }

  protected tell(message: RenderMessage, transfer: Transferable[] = []): void {
    this.worker.postMessage(message, transfer)
  }

  protected tellWorklet(message: WorkletMessage, transfer: Transferable[] = []): void {
    this.node?.port.postMessage(message, transfer)
  }

  /** Sets a whole session; later changes are passed as patches. */
  setSession(session: Session): void {
    this.sampleRate = session.sampleRate
    this.tell({ type: 'session', session })
  }

  patch(patches: Patch[]): void {
    this.tell({ type: 'patches', patches })
  }

  setLoop(loop: FrameRange | null): void {
    this.loop = loop
    this.tell({ type: 'loop', loop })
  }

  /** Listens with or without the shaping, at a linear gain; switched without a click and without losing time. */
  setListening(listening: Listening): void {
    this.tell({ type: 'listen', listening })
  }

  /** Notes the levels at some places of the Path from now on (see `probe`). */
  setWatch(watch: Watch): void {
    this.tell({ type: 'watch', watch })
  }

  /**
   * What came to the watched insert, or left it, in the last frames that were heard, at most so many, both sides averaged; null
   * while nothing plays.
   */
  watchedSound(which: 'before' | 'after', frames: number): Float32Array | null {
    if (!this.wanted || !this.heard) return null
    const at = which === 'before' ? SOUND_BEFORE : SOUND_AFTER
    if (this.link) return this.report?.meters.slice(at, at + METER_FRAMES) ?? null
    const end = framesRead(this.ring)
    const rows = Math.min(Math.ceil(frames / METER_FRAMES), Math.floor(end / METER_FRAMES))
    const sound = new Float32Array(rows * METER_FRAMES)
    for (let r = 0; r < rows; r++) {
      const row = meterRow(end - (rows - r) * METER_FRAMES) + at
      sound.set(this.ring.meters.subarray(row, row + METER_FRAMES), r * METER_FRAMES)
    }
    return sound
  }

  /**
   * What was heard since the place `since` of the same start of playing, or for null from now on: the mix as it went out, or the
   * sound at the place that is measured; null while nothing plays, or where memory is not shared.
   */
  heardSince(what: 'mix' | 'scope', since: HeardPlace | null): HeardSound | null {
    if (!this.wanted || !this.heard || this.link) return null
    const whole = (frame: number) => frame - (frame % METER_FRAMES)
    const end = what === 'mix' ? framesRead(this.ring) : whole(framesRead(this.ring))
    const goesOn = since?.run === this.run && since.frame <= end && end - since.frame < KEPT_FRAMES
    const from = goesOn ? since.frame : end
    const [left, right] = [new Float32Array(end - from), new Float32Array(end - from)]
    if (what === 'mix') {
      copyRing(this.ring.left, from, left, 'read')
      copyRing(this.ring.right, from, right, 'read')
    } else
      for (let at = whole(from); at < end; at += METER_FRAMES) {
        const row = meterRow(at)
        for (const [into, base] of [
          [left, SCOPE_LEFT],
          [right, SCOPE_RIGHT],
        ] as const)
          into.set(this.ring.meters.subarray(row + base, row + base + METER_FRAMES), at - from)
      }
    return { left, right, at: { run: this.run, frame: end }, goesOn }
  }

  /** How what is heard is led to the ears; no part of what is rendered. */
  setMonitor(monitor: Monitor): void {
    this.monitor.set(monitor)
  }

  /** The sample rate at which the device plays now; null before anything was played. */
  get deviceRate(): number | null {
    return this.context?.sampleRate ?? null
  }

  /** Whether sound is playing or about to. */
  get playing(): boolean {
    return this.wanted
  }

  /** The session frame that is heard now, or at which playing will begin. */
  position(): number {
    if (!this.wanted || !this.heard) return this.cue
    if (this.link) return this.report?.sessionFrame ?? this.cue
    const read = framesRead(this.ring)
    // What is read next is not there yet: it will go on from what was played last.
    if (read > 0 && read >= framesWritten(this.ring))
      return positionAt(this.ring, read - AUDIO_QUANTUM) + AUDIO_QUANTUM
    return positionAt(this.ring, read)
  }

  /**
   * The slots (see `METER_NUMBERS`) of the mix and then of every track, as they are heard now; null while nothing
   * plays.
   */
  meters(): Float32Array<ArrayBufferLike> | null {
    if (!this.wanted || !this.heard) return null
    if (this.link) return this.report?.meters ?? null
    const row = meterRow(framesRead(this.ring))
    return this.ring.meters.subarray(row, row + METER_ROW)
  }

  /** How often the audio thread found the ring empty since the page was opened. */
  get underruns(): number {
    return this.link ? (this.report?.underruns ?? 0) : Atomics.load(this.ring.control, UNDERRUNS)
  }

  /**
   * Starts playing at the cue; a person's gesture must have come first. Resolves when it was asked for, not
   * when it is heard.
   */
  async play(): Promise<void> {
    if (this.wanted) return
    this.events.onStarting()
    playbackBegins()
    this.wanted = true
    this.heard = false
    this.events.onPlaying(true)
    if (!(await this.openAudio())) return this.pause(this.cue)
    if (this.wanted) this.tell({ type: 'start', run: ++this.run, frame: this.cue })
  }

  /** Stops where it is, or at a given frame. */
  pause(at = this.position()): void {
    if (!this.wanted) return
    this.cue = Math.max(0, at)
    this.wanted = false
    this.signs.end()
    if (this.heard) this.setState(STOPPING)
    this.tell({ type: 'stop' })
    this.endAlone()
    this.events.onPlaying(false)
  }

  /** Plays one region by itself from its start to its end, whatever is muted or soloed; anything else ends that. */
  async playAlone(regionId: string, from: number): Promise<void> {
    this.pause()
    this.alone = true
    this.cue = from
    this.tell({ type: 'loop', loop: null })
    this.tell({ type: 'alone', regionId })
    await this.play()
  }

  private endAlone(): void {
    if (!this.alone) return
    this.alone = false
    this.tell({ type: 'alone', regionId: null })
    this.tell({ type: 'loop', loop: this.loop })
  }

  /** The session frame at which playing began, or was moved to last. */
  get cuedAt(): number {
    return this.cue
  }

  /** Moves to a session frame; playing goes on from there. */
  seek(frame: number): void {
    this.endAlone()
    this.cue = Math.max(0, Math.round(frame))
    if (this.wanted) this.tell({ type: 'seek', frame: this.cue })
  }

  private setState(state: number): void {
    if (this.link) this.tellWorklet({ state })
    else Atomics.store(this.ring.control, STATE, state)
  }

  private onReply(reply: RenderReply): void {
    if (reply.type === 'pong') return this.signs.answered()
    if (reply.type === 'failed') {
      this.pause(this.cue)
      return this.events.onNotice({ failed: reply.message })
    }
    if (reply.type === 'fault') return this.events.onNotice({ fault: reply.insertId })
    if (reply.type === 'too-large') return this.events.onNotice({ tooLargeAt: reply.frame / this.sampleRate })
    if (!this.wanted || reply.run !== this.run) return
    if (reply.type === 'ended') return this.pause(reply.frame)
    this.heard = true
    this.signs.begin()
    this.setState(PLAYING)
    this.expectClock()
  }

  /** Checks that the audio clock advances soon after playback starts; if not, there is no audio device. */
  private expectClock(): void {
    const context = this.context
    const before = context?.currentTime
    setTimeout(() => {
      if (!this.wanted || this.context !== context || !context || context.currentTime !== before) return
      this.pause(this.cue)
      this.setState(STOPPED)
      this.events.onNotice('no-audio-device')
    }, 3000)
  }

  private async openAudio(): Promise<boolean> {
    if (this.context && this.context.sampleRate === this.sampleRate && this.context.state !== 'closed') {
      void this.context.resume()
      return true
    }
    try {
      const context = new AudioContext({ sampleRate: this.sampleRate, latencyHint: 'interactive' })
      this.context = context
      await context.audioWorklet.addModule(workletUrl)
      const node = new AudioWorkletNode(context, 'ring-player', {
        numberOfInputs: 0,
        outputChannelCount: [2],
      })
      node.port.onmessage = ({ data }: MessageEvent<Captured | PlayedReport>) => {
        if ('captured' in data) this.onCaptured(data)
        else this.report = data
      }
      this.monitor.connect(context, node)
      this.node = node
      if (this.link) this.tellWorklet({ link: this.link.port2 }, [this.link.port2])
      else this.tellWorklet({ ring: this.ring })
      // Not awaited: without a device it never settles.
      void context.resume()
      return true
    } catch {
      this.events.onNotice('no-audio-device')
      return false
    }
  }

  /** Called with captured output when capturing is on. */
  protected onCaptured(_played: Captured): void {}

  close(): void {
    this.pause()
    this.worker.terminate()
    void this.context?.close()
  }
}
