import { Renderer, spansNeeded, type RenderPlan, type SourceSpan, type TrackMeter } from '../core/render'
import type { ChunkCache } from './audio-store'
import { copyRing, METER_CHANNELS, METER_FRAMES, meterRow, QUANTUM, READ, RING_FRAMES, WRITE, type RingMemory, type RingMessage } from './ring'

/** A range of session frames, `from` ≤ n < `to`. */
export interface FrameRange {
  from: number
  to: number
}

/** Frames rendered at a time; a block never crosses a row of meters. */
const BLOCK = METER_FRAMES
/** Frames ahead of the playing position that a rewrite leaves alone, since they may be playing already. */
const MARGIN = 1024
/** Frames over which old and new sound are blended where a rewrite begins and where a loop turns (5 ms at 48 kHz). */
const BLEND = 256

/** Sound that goes on for a moment under what replaces it, from an index of the block on. */
interface Tail {
  at: number
  left: Float32Array
  right: Float32Array
}

/**
 * Fills the ring with the session from a frame on, following a loop, and rewrites what was not played yet when the session or the
 * position changes. Each `step` does a bounded piece of work.
 */
export class Stream {
  private readonly renderer: Renderer
  private next = 0
  private stale = false
  private jumpTo: number | null = null
  private loop: FrameRange | null = null
  private readonly left = new Float32Array(BLOCK)
  private readonly right = new Float32Array(BLOCK)

  /** `send` gets every block written, for a ring whose memory is not shared. */
  constructor(plan: RenderPlan, private readonly cache: ChunkCache, private readonly ring: RingMemory, private readonly send: ((message: RingMessage) => void) | null) {
    this.renderer = new Renderer(plan, cache)
  }

  /** Starts anew at a session frame; the ring must be stopped. */
  start(frame: number): void {
    Atomics.store(this.ring.control, READ, 0)
    Atomics.store(this.ring.control, WRITE, 0)
    this.next = frame
    this.stale = false
    this.jumpTo = null
  }

  setPlan(plan: RenderPlan): void {
    this.renderer.plan = plan
    this.stale = true
  }

  setLoop(loop: FrameRange | null): void {
    this.loop = loop
    this.stale = true
  }

  /** Goes on from another session frame as soon as the ring allows. */
  seek(frame: number): void {
    this.jumpTo = frame
    this.stale = true
  }

  /** Renders the next block if there is room. Resolves to whether it did; rejects when the storage fails. */
  async step(): Promise<boolean> {
    if (this.stale) {
      await this.rewrite()
      return true
    }
    const write = Atomics.load(this.ring.control, WRITE)
    if (write + BLOCK > Atomics.load(this.ring.control, READ) + RING_FRAMES) return false
    const wait = this.cache.ensure(this.spans(this.next))
    // While waiting an edit or a seek may come; it goes first.
    if (wait) await wait
    else this.renderInto(write, this.next, null)
    return true
  }

  private spans(frame: number): SourceSpan[] {
    const { plan } = this.renderer
    const spans = spansNeeded(plan, frame, BLOCK + BLEND)
    return this.loop ? [...spans, ...spansNeeded(plan, this.loop.from, BLOCK), ...spansNeeded(plan, this.loop.to, BLEND)] : spans
  }

  /** Cuts the ring off a little after what is playing and goes on from there with what is true now. */
  private async rewrite(): Promise<void> {
    for (;;) {
      this.stale = false
      const write = Atomics.load(this.ring.control, WRITE)
      const read = Atomics.load(this.ring.control, READ)
      const from = Math.min(write, Math.ceil((read + MARGIN) / QUANTUM) * QUANTUM)
      const frame = this.jumpTo ?? (from < write ? this.ring.positions[(from % RING_FRAMES) / QUANTUM]! : this.next)
      const wait = this.cache.ensure(this.spans(frame))
      if (wait) {
        // Time passes while sound is fetched, so everything is looked at again after it.
        await wait
        continue
      }
      this.jumpTo = null
      const length = Math.min(BLEND, write - from)
      const tail = { at: 0, left: new Float32Array(length), right: new Float32Array(length) }
      copyRing(this.ring.left, from, tail.left, 'read')
      copyRing(this.ring.right, from, tail.right, 'read')
      Atomics.store(this.ring.control, WRITE, from)
      this.renderInto(from, frame, length ? tail : null)
      return
    }
  }

  /** Renders from session frame `start` up to the end of the meter row into the ring at stream frame `write`. */
  private renderInto(write: number, start: number, old: Tail | null): void {
    const count = BLOCK - (write % BLOCK)
    const { loop, left, right, renderer } = this
    const meter = this.meterInto(write)
    const positions: number[] = []
    let tail = old
    let frame = start
    for (let done = 0; done < count;) {
      if (loop && frame === loop.to) {
        tail ??= this.tailAfter(loop.to, done, count)
        frame = loop.from
      }
      const take = loop && frame < loop.to ? Math.min(count - done, loop.to - frame) : count - done
      renderer.render(frame, left.subarray(done, done + take), right.subarray(done, done + take), meter)
      for (let q = Math.ceil(done / QUANTUM); q * QUANTUM < done + take; q++) positions[q] = frame + q * QUANTUM - done
      done += take
      frame += take
    }
    this.next = frame
    if (tail) this.blend(tail)
    this.publish(write, count, positions)
  }

  private tailAfter(frame: number, at: number, count: number): Tail {
    const length = Math.min(BLEND, count - at)
    const tail = { at, left: new Float32Array(length), right: new Float32Array(length) }
    this.renderer.render(frame, tail.left, tail.right)
    return tail
  }

  private blend(tail: Tail): void {
    for (let i = 0; i < tail.left.length; i++) {
      const u = i / tail.left.length
      const n = tail.at + i
      this.left[n] = tail.left[i]! + (this.left[n]! - tail.left[i]!) * u
      this.right[n] = tail.right[i]! + (this.right[n]! - tail.right[i]!) * u
    }
  }

  private meterInto(write: number): TrackMeter {
    const { meters } = this.ring
    const row = meterRow(write)
    if (write % METER_FRAMES === 0) meters.fill(0, row, row + METER_CHANNELS * 2)
    return (index, left, right) => {
      if (index + 1 >= METER_CHANNELS) return
      const at = row + (index + 1) * 2
      meters[at] = Math.max(meters[at]!, left)
      meters[at + 1] = Math.max(meters[at + 1]!, right)
    }
  }

  private publish(write: number, count: number, positions: readonly number[]): void {
    const { ring } = this
    const left = this.left.subarray(0, count)
    const right = this.right.subarray(0, count)
    const row = meterRow(write)
    let [peakLeft, peakRight] = [ring.meters[row]!, ring.meters[row + 1]!]
    for (let i = 0; i < count; i++) {
      peakLeft = Math.max(peakLeft, Math.abs(left[i]!))
      peakRight = Math.max(peakRight, Math.abs(right[i]!))
    }
    ring.meters[row] = peakLeft
    ring.meters[row + 1] = peakRight
    copyRing(ring.left, write, left, 'write')
    copyRing(ring.right, write, right, 'write')
    const first = (write % RING_FRAMES) / QUANTUM
    positions.forEach((frame, q) => (ring.positions[first + q] = frame))
    Atomics.store(ring.control, WRITE, write + count)
    this.send?.({ from: write, left: left.slice(), right: right.slice(), positions: Float64Array.from(positions), meters: ring.meters.slice(row, row + METER_CHANNELS * 2) })
  }
}
