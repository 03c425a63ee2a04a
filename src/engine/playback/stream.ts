import { clamp } from '../../core/units/clamp'
import {
  CHUNK_FRAMES,
  newGraphState,
  Renderer,
  type KeptRender,
  spansNeeded,
  type RenderPlan,
  type SourceSpan,
  type TrackMeter,
  PLAYING_SLACK,
} from '../../core/render'
import { firstNotFinite } from '../../core/measure/finite'
import type { SoundCache } from '../storage'
import { LoopStartState } from './loop-start-state'
import { RingProbe, type Watch } from './probes'
import { StateHistory, reachBack } from './state-history'
import { RewriteMargin } from './rewrite-margin'
import {
  copyRing,
  METER_FRAMES,
  positionAt,
  AUDIO_QUANTUM,
  framesRead,
  framesWritten,
  AHEAD_FRAMES,
  setFramesRead,
  setFramesWritten,
  type RingMemory,
  type RingMessage,
} from './ring'
import { RingWriter, type Block } from './ring-writer'
import { Preroller } from './preroll'

/** A range of session frames, `from` ≤ n < `to`. */
export interface FrameRange {
  from: number
  to: number
}

/** Frames rendered at a time; a block never crosses a row of meters. */
const STREAM_BLOCK_FRAMES = METER_FRAMES
/** More frames behind the playing position a rewrite begins again, ahead of it: that is quicker than rendering all of them. */
const MOST_BEHIND = 512
/**
 * How far ahead of what is rendered sound is fetched, in frames. Not further: what is rendered is far ahead of what is played
 * already, and after an edit that needs the chunks before once more, which would have given way.
 */
const SOON = CHUNK_FRAMES / 4
/** With less than this to play, in frames, nothing is made that can wait. */
const HURRY = 8192
/**
 * Frames over which old and new sound are blended where a rewrite begins and ends and where a loop turns (5
 * ms at 48 kHz).
 */
const BLEND = 256

/**
 * What filling the ring is at. A part of it that comes to nothing, since another edit or seek came, is begun again under the same phase.
 */
type Phase =
  /** Before the start, and after the end. */
  | { kind: 'stopped' }
  /** After a start: what comes before the session frame at which playing begins is rendered, and not heard. */
  | { kind: 'prerolling'; target: number; preroller: Preroller | null }
  /** Block after block follows. */
  | { kind: 'steady' }
  /**
   * What is in the ring is out of date, after an edit. `begun`: nothing of the rewrite has come in yet, since playback was as quick as
   * the rendering. `outdated`: what was begun is, too.
   */
  | { kind: 'rewriting'; begun: boolean; outdated: boolean }
  /** It goes on from session frame `target` soon; what comes before that is rendered, and not heard. */
  | { kind: 'seeking'; target: number; preroller: Preroller | null }

/** Sound that continues briefly under its replacement, from an index of the block on; `done` frames of it have passed. */
interface Tail {
  at: number
  left: Float32Array
  right: Float32Array
  done: number
}

/** Writes a linear crossfade from one sound to another over the length of the one, of which `done` frames have passed. */
function crossOver(out: Float32Array, from: Float32Array, to: Float32Array, done = 0): void {
  for (let i = 0; i < out.length && done + i < from.length; i++)
    out[i] = from[done + i]! + (to[i]! - from[done + i]!) * ((done + i) / from.length)
}

/**
 * Fills the ring with the session from a frame on, following a loop. When the session changes, what has not
 * been played is rewritten in place from shortly after the playing position, so that there is always
 * something to play; a seek cuts the ring off there. Each `step` does a bounded amount of work.
 */
export class Stream {
  private readonly renderer: Renderer
  private readonly probe: RingProbe
  private readonly writer: RingWriter
  private readonly margin: RewriteMargin
  /** Up to this stream frame the ring is up to date; and the session frame there. */
  private renderedUntil = 0
  private next = 0
  /** The session frame at the end of the ring. */
  private end = 0
  private phase: Phase = { kind: 'stopped' }
  /** Whether rendering was taken back after a block, so that the next one begins with the quantum that it ends in. */
  private rewoundLastBlock = false
  /** Ends a wait for sound. */
  private changed: () => void = () => undefined
  private readonly stateHistory = new StateHistory()
  private readonly loopStart: LoopStartState
  /** What the last turn went on from. */
  private lastLoopState: KeptRender | null = null
  private readonly beforeBlend = newGraphState()
  private loop: FrameRange | null = null
  /** What goes on from the block before into the next one. */
  private tails: readonly Tail[] = []
  private readonly left = new Float32Array(STREAM_BLOCK_FRAMES + BLEND)
  private readonly right = new Float32Array(STREAM_BLOCK_FRAMES + BLEND)

  /** `send` gets every block written, for a ring whose memory is not shared. */
  constructor(
    plan: RenderPlan,
    private readonly cache: SoundCache,
    private readonly ring: RingMemory,
    send: ((message: RingMessage) => void) | null,
    private readonly faults: {
      /** An insert output NaN, and was left out. */
      onFault?(insertId: string): void
      /** What was to be heard at a session frame is no number, and is silent. */
      onTooLarge?(frame: number): void
    } = {},
    /** The time in milliseconds. */
    private readonly now: () => number = () => performance.now(),
  ) {
    this.probe = new RingProbe(ring.meters, plan.sampleRate)
    this.writer = new RingWriter(ring, this.probe, send)
    this.writer.setPlan(plan)
    this.margin = new RewriteMargin(send ? 'message' : 'shared')
    this.renderer = new Renderer(plan, cache, {
      onFault: faults.onFault,
      slackFrames: PLAYING_SLACK,
      probe: this.probe,
    })
    this.loopStart = new LoopStartState(cache)
  }

  /** Restarts at a session frame; the ring must be stopped. */
  start(frame: number): void {
    setFramesRead(this.ring, 0)
    setFramesWritten(this.ring, 0)
    this.renderedUntil = 0
    this.next = this.end = frame
    this.phase = { kind: 'prerolling', target: frame, preroller: null }
  }

  /** What has been rendered is out of date: it is rewritten from near the playing position. */
  private outdate(): void {
    const { phase } = this
    if (phase.kind === 'steady' || phase.kind === 'rewriting')
      this.phase = { kind: 'rewriting', begun: phase.kind === 'rewriting' && phase.begun, outdated: true }
  }

  /** What a preroll has made its renderer remember is out of date. */
  private prerollAgain(): void {
    const { phase } = this
    if (phase.kind === 'prerolling' || phase.kind === 'seeking') phase.preroller = null
  }

  setPlan(plan: RenderPlan): void {
    this.renderer.plan = plan
    this.writer.setPlan(plan)
    this.outdate()
    this.prerollAgain()
    this.changed()
  }

  get plan(): RenderPlan {
    return this.renderer.plan
  }

  setLoop(loop: FrameRange | null): void {
    this.loop = loop
    this.loopStart.setFrom(loop && loop.from)
    this.outdate()
    this.changed()
  }

  /** Watches other places from now on. */
  setWatch(watch: Watch): void {
    this.probe.setWatch(watch)
  }

  /** Ends it: nothing is written into the ring any more. */
  close(): void {
    this.phase = { kind: 'stopped' }
    this.changed()
  }

  /** Continues from another session frame as soon as the ring allows. */
  seek(frame: number): void {
    if (this.phase.kind !== 'stopped') this.phase = { kind: 'seeking', target: frame, preroller: null }
    this.changed()
  }

  /** Waits for something that needs sound, but not beyond an edit or a seek: that needs other sound, which may be there. */
  private untilChanged<T>(waited: Promise<T>): Promise<T | undefined> {
    return Promise.race([
      waited,
      new Promise<undefined>((resolve) => (this.changed = () => resolve(undefined))),
    ])
  }

  /** How many frames after the playing position are up to date. */
  ahead(): number {
    return this.renderedUntil - framesRead(this.ring)
  }

  /** Whether the next block is the first one of a rewrite or a seek. */
  private get beginsAnew(): boolean {
    const { phase } = this
    return phase.kind === 'seeking' || (phase.kind === 'rewriting' && phase.outdated)
  }

  /** Renders the next block if there is room. Resolves to whether it did; rejects when the storage fails. */
  async step(): Promise<boolean> {
    if (this.phase.kind === 'stopped') return false
    const write = framesWritten(this.ring)
    const read = framesRead(this.ring)
    // What was played is not rendered any more, but for a little that lies before what is to be heard.
    if (
      this.renderedUntil < write &&
      this.renderedUntil + MOST_BEHIND < read &&
      this.phase.kind !== 'seeking'
    )
      this.phase = { kind: 'rewriting', begun: false, outdated: true }
    if (!this.beginsAnew && this.renderedUntil === write && write + STREAM_BLOCK_FRAMES > read + AHEAD_FRAMES)
      return this.refreshLoop()
    if (await this.preroll()) return true
    const anew = this.beginsAnew
    // A rewrite that nothing was heard of goes on where it is, with what has changed since.
    const goesOn = this.phase.kind === 'rewriting' && this.phase.begun
    const at = anew && !goesOn ? Math.min(write, this.firstAfter(read)) : this.renderedUntil
    const frame = this.frameAt(at, write)
    if (this.turnsSoon(frame) && !this.mayTurn()) return this.refreshLoop()
    const wait = this.cache.ensure(this.spans(frame, anew), this.soon(frame))
    // Time passes while sound is fetched, and an edit or a seek may come: everything is looked at again after it.
    if (wait) await this.untilChanged(wait)
    else this.renderInto(at, frame, write, anew)
    return true
  }

  /**
   * Renders a slice of what comes before the place where rendering begins anew, so that everything remembers what it should
   * there. Resolves to whether there was any, or sound had to be fetched for it.
   */
  private async preroll(): Promise<boolean> {
    const { phase } = this
    if ((phase.kind !== 'prerolling' && phase.kind !== 'seeking') || !this.plan.memory.remembers) return false
    phase.preroller ??= new Preroller(this.renderer, this.cache, phase.target)
    if (phase.preroller.isDone) return false
    const wait = phase.preroller.step()
    if (wait) await this.untilChanged(wait)
    return true
  }

  /**
   * Whether there is something to turn to: best what is remembered under this plan; in a hurry, and after an edit, what was
   * remembered before it serves, and the turn is rewritten afterwards.
   */
  private mayTurn(): boolean {
    const { loopStart, plan } = this
    return loopStart.isFor(plan) || (loopStart.kept !== null && (this.beginsAnew || this.ahead() < HURRY))
  }

  /** Makes a slice of what is remembered where the loop begins. Resolves to whether there was anything to do. */
  private async refreshLoop(): Promise<boolean> {
    const { loopStart } = this
    const before = loopStart.kept
    const worked = await this.untilChanged(loopStart.step(this.plan))
    if (before && loopStart.kept !== before && this.lastLoopState === before) this.outdate()
    return worked ?? true
  }

  /** Whether the next block follows what was rendered and not heard, not what lies in the ring. */
  private get prerolls(): boolean {
    return this.phase.kind === 'prerolling' || this.phase.kind === 'seeking'
  }

  /** Whether a loop turns in the block from a session frame on, and something has to be remembered for that. */
  private turnsSoon(frame: number): boolean {
    const { loop, plan } = this
    return loop !== null && plan.memory.remembers && frame <= loop.to && frame + STREAM_BLOCK_FRAMES > loop.to
  }

  /**
   * The stream frame at which a rewrite begins: a quantum's start that leaves room in its row of meters for a
   * blend.
   */
  private firstAfter(read: number): number {
    const at = Math.ceil((read + this.margin.frames) / AUDIO_QUANTUM) * AUDIO_QUANTUM
    const left = STREAM_BLOCK_FRAMES - (at % STREAM_BLOCK_FRAMES)
    return left < BLEND ? at + left : at
  }

  /** The session frame that belongs at a stream frame. */
  private frameAt(at: number, write: number): number {
    if (!this.beginsAnew) return this.next
    if (this.phase.kind === 'seeking') return this.phase.target
    return at < write ? positionAt(this.ring, at) : this.end
  }

  private spans(frame: number, anew: boolean): SourceSpan[] {
    const { plan } = this.renderer
    const reach = anew ? reachBack(plan.memory.remembers) : this.rewoundLastBlock ? AUDIO_QUANTUM : 0
    const back = this.prerolls ? 0 : Math.min(frame, reach)
    const spans = spansNeeded(plan, frame - back, back + STREAM_BLOCK_FRAMES + BLEND)
    return this.loop
      ? [
          ...spans,
          ...spansNeeded(plan, this.loop.from, STREAM_BLOCK_FRAMES + BLEND),
          ...spansNeeded(plan, this.loop.to, BLEND),
        ]
      : spans
  }

  /** What will be read soon, for fetching it ahead. */
  private soon(frame: number): SourceSpan[] {
    const { plan } = this.renderer
    const from = frame + STREAM_BLOCK_FRAMES
    if (!this.loop || from >= this.loop.to) return spansNeeded(plan, from, SOON)
    const straight = Math.min(SOON, this.loop.to - from)
    const turned = Math.min(SOON - straight, this.loop.to - this.loop.from)
    return [...spansNeeded(plan, from, straight), ...spansNeeded(plan, this.loop.from, turned)]
  }

  /**
   * Renders from session frame `start` up to the end of the meter row for the stream frame `at` and puts it
   * into the ring, whose end is `write`.
   */
  private renderInto(at: number, start: number, write: number, anew: boolean): void {
    const count = STREAM_BLOCK_FRAMES - (at % STREAM_BLOCK_FRAMES)
    const { renderer, ring } = this
    const begun = this.now()
    const meter = this.writer.beginMeters(at)
    const remembers = this.plan.memory.remembers
    if (remembers) {
      if (this.prerolls) this.stateHistory.clear()
      else if (anew) {
        const fresh = this.loopStart.isFor(this.plan) ? this.loopStart.kept : null
        if (this.stateHistory.resume(renderer, at, start, fresh)) renderer.crossfadeToOld()
      }
      this.stateHistory.mark(at, renderer)
    }
    const tails = anew ? [] : [...this.tails]
    const { positions, frame } = this.renderFrames(at, start, count, meter, tails)
    this.probe.active = false
    this.tails = tails.flatMap((tail) => this.blend(tail, count) ?? [])
    const { phase } = this
    const jumps = phase.kind === 'seeking'
    const block = { at, count, positions }
    // Of what runs after, and still is behind, nothing is heard: not even how it goes over to what follows.
    const goesOn = phase.kind === 'rewriting' && phase.begun
    const behind = goesOn && !anew && this.firstWritableFrame(block, write) === null
    const after = jumps ? at + count : Math.max(write, at + count)
    const over = after > at + count && !behind ? this.goOver(at + count, count, frame) : 0
    this.rewoundLastBlock = remembers && over > 0
    if (!this.prerolls) {
      const took = ((this.now() - begun) * this.plan.sampleRate) / 1000
      if (anew) this.margin.noteRewrite(took)
      else this.margin.noteBlock(took)
    }
    if (jumps && at < write && framesRead(ring) + this.margin.lead > at) {
      // The playing has come so far meanwhile: it is begun again, further ahead, so that all of the place is heard.
      this.margin.noteSeek(true)
      this.prerollAgain()
      return
    }
    const entry = jumps ? 0 : this.firstWritableFrame(block, write)
    this.renderedUntil = at + count
    this.next = frame
    if (entry === null) {
      // Played over while it was made. What follows runs after the playing, and comes in as soon as it is ahead.
      this.phase = { kind: 'rewriting', begun: true, outdated: false }
      this.writer.meterMix(block, this.left, this.right)
      if (remembers) this.stateHistory.mark(this.renderedUntil, renderer)
      return
    }
    if (at < write && (anew || goesOn || entry > 0))
      this.blendFromOld(at, entry, Math.min(BLEND, count - entry, write - at - entry))
    this.writer.meterMix(block, this.left, this.right)
    this.writer.put(
      block,
      entry,
      this.left.subarray(0, count + over),
      this.right.subarray(0, count + over),
      after,
    )
    if (after === this.renderedUntil) this.end = frame
    if (jumps) this.margin.noteSeek(false)
    this.phase = { kind: 'steady' }
  }

  /**
   * Renders so many frames for a stream frame from session frame `start` on, following the loop; what continues where it turns is
   * added to `tails`. Returns the session frames of the quanta, and the one that comes next.
   */
  private renderFrames(at: number, start: number, count: number, meter: TrackMeter, tails: Tail[]) {
    const { loop, left, right, renderer } = this
    const positions: number[] = []
    let frame = start
    for (let done = 0; done < count;) {
      if (loop && frame === loop.to) {
        tails.push(this.tailAfter(loop.to, done))
        frame = loop.from
        const { kept } = this.loopStart
        if (this.plan.memory.remembers && kept) {
          renderer.applySnapshot(kept)
          this.lastLoopState = kept
          this.stateHistory.turn(at + done, kept, this.loopStart.aheadFrames)
        }
      }
      const take = loop && frame < loop.to ? Math.min(count - done, loop.to - frame) : count - done
      this.render(frame, left.subarray(done, done + take), right.subarray(done, done + take), meter)
      for (let q = Math.ceil(done / AUDIO_QUANTUM); q * AUDIO_QUANTUM < done + take; q++)
        positions[q] = frame + q * AUDIO_QUANTUM - done
      done += take
      frame += take
    }
    return { positions, frame }
  }

  /**
   * From which of its frames on a block can still be written: so that the old sound can go over to it within the block, and that
   * the next one is there when it ends, where blocks are made twice as quickly as they play. Null if from none. What ends the ring
   * is written in any case: no old sound follows that could go over to the new.
   */
  private firstWritableFrame({ at, count }: Block, write: number): number | null {
    if (at >= write) return 0
    const entry = Math.max(0, framesRead(this.ring) + this.margin.lead - at)
    if (at + count >= write) return clamp(write - at - BLEND, 0, entry)
    const takes = this.margin.block
    const next = takes < STREAM_BLOCK_FRAMES / 2 ? takes : 0
    return entry === 0 || entry + Math.max(BLEND, next) <= count ? entry : null
  }

  /** Goes over from what the ring holds to the block at a stream frame, from one of its frames on. */
  private blendFromOld(at: number, entry: number, length: number): void {
    const old = this.oldFrom(at + entry, length)
    for (const side of ['left', 'right'] as const) {
      const sound = this[side].subarray(entry, entry + length)
      crossOver(sound, old[side], sound)
    }
  }

  /** What the ring holds from a stream frame on. */
  private oldFrom(at: number, length: number): Tail {
    const tail = { at: 0, left: new Float32Array(length), right: new Float32Array(length), done: 0 }
    copyRing(this.ring.left, at, tail.left, 'read')
    copyRing(this.ring.right, at, tail.right, 'read')
    return tail
  }

  /**
   * Blends from a rewritten block into the old sound that follows it at `at`, in case that is played before
   * it is rewritten too.
   */
  private goOver(at: number, count: number, frame: number): number {
    const old = this.oldFrom(at, BLEND)
    const [left, right] = [
      this.left.subarray(count, count + BLEND),
      this.right.subarray(count, count + BLEND),
    ]
    const { remembers } = this.plan.memory
    if (remembers) this.renderer.save(this.beforeBlend)
    this.render(frame, left, right)
    if (remembers) this.renderer.goBack(this.beforeBlend, frame)
    crossOver(left, left, old.left)
    crossOver(right, right, old.right)
    return BLEND
  }

  /** Renders what is to be heard; where that is no number there is silence, and it is told. */
  private render(frame: number, left: Float32Array, right: Float32Array, meter?: TrackMeter): void {
    this.renderer.render(frame, left, right, meter)
    const bad = firstNotFinite([left, right])
    if (bad < 0) return
    for (const side of [left, right])
      for (let i = 0; i < side.length; i++) if (!Number.isFinite(side[i])) side[i] = 0
    this.faults.onTooLarge?.(frame + bad)
  }

  private tailAfter(frame: number, at: number): Tail {
    const tail = { at, left: new Float32Array(BLEND), right: new Float32Array(BLEND), done: 0 }
    this.probe.active = false
    this.render(frame, tail.left, tail.right)
    this.probe.active = true
    return tail
  }

  /** Blends a tail into the block; what of it reaches beyond, to go on in the next one. */
  private blend(tail: Tail, count: number): Tail | null {
    const { at, left, right, done } = tail
    const length = Math.min(left.length - done, count - at)
    const [newLeft, newRight] = [this.left.subarray(at, at + length), this.right.subarray(at, at + length)]
    crossOver(newLeft, left, newLeft, done)
    crossOver(newRight, right, newRight, done)
    return done + length < left.length ? { ...tail, at: 0, done: done + length } : null
  }
}
