import { clamp } from '../../units/clamp'
import { head } from '../kernels/head'
import { LEAST_SLACK, type KeptLine, type Line } from './processor'
import type { Stateful } from './stateful'

/** Samples that may be written between two readings. */
const LINE_BLOCK_FRAMES = 2048

/** Samples over which a line goes over from what lay there before. */
export const OVER_FRAMES = 256

/** What a line goes on from since something was put back: it lies before the sample `from`, and is only read. */
interface Epoch {
  from: number
  kept: KeptLine
}

/**
 * Past samples of one channel, in a ring. `write` and `append` add to them, `copy` looks back. It holds so much more than it needs
 * to look back that its place can be taken back (`at`, `validFrom`) by its slack, over everything that was put back meanwhile:
 * that is not copied into the ring, but read where it lies. Forgetting is moving `validFrom`: nothing is erased.
 */
export class DelayLine implements Line, Stateful {
  /** Of its place: what it holds stays where it is. */
  readonly scalars = 2
  private samples: Float64Array | Float32Array
  private written = 0
  /** Where in the ring the next sample is put. */
  private head = 0
  /** The first sample that counts; those before are silence. */
  validFrom = 0
  /** What was put back, in order, and which of it is the last before `at`; -1 for none. */
  private readonly epochs: Epoch[] = []
  private epoch = -1
  /** The first sample that lies in the ring. */
  private ringFrom = 0
  /** Up to here samples were written since it was cleared, and lie in the ring after `at` where it was taken back. */
  private top = 0
  /** How many samples of going over are done. */
  private over = OVER_FRAMES

  /** `windowFrames` is how far back it is looked; `wide` keeps 64 bits a sample, else 32. */
  constructor(
    private windowFrames: number,
    private readonly wide: boolean,
    /** By how many frames its place can be taken back. */
    private readonly slackFrames = LEAST_SLACK,
  ) {
    this.samples = this.room()
  }

  private room(): Float64Array | Float32Array {
    const length = this.windowFrames + this.slackFrames + LINE_BLOCK_FRAMES
    return this.wide ? new Float64Array(length) : new Float32Array(length)
  }

  /** Samples written so far. Taken back, it goes on from there. */
  get at(): number {
    return this.written
  }

  set at(at: number) {
    this.written = at
    this.head = ((at % this.samples.length) + this.samples.length) % this.samples.length
    let epoch = this.epochs.length - 1
    while (epoch >= 0 && this.epochs[epoch]!.from > at) epoch--
    this.goOnFrom(epoch)
  }

  private goOnFrom(epoch: number): void {
    this.epoch = epoch
    this.ringFrom = this.epochs[epoch]?.from ?? Number.NEGATIVE_INFINITY
  }

  /** What came after the place to which it was taken back is over as soon as something else is written there. */
  private goOn(): void {
    if (this.epochs.length > this.epoch + 1) this.epochs.length = this.epoch + 1
  }

  /** Looks further back from now on; what it holds stays. */
  widen(windowFrames: number): void {
    if (windowFrames <= this.windowFrames) return
    this.windowFrames = windowFrames
    const { samples, written } = this
    const held = clamp(written, 0, samples.length)
    const start = this.indexOf(held)
    const parts = [samples.subarray(start), samples.subarray(0, start)]
    this.samples = this.room()
    this.at = written - held
    let left = held
    for (const part of parts) {
      const count = Math.min(left, part.length)
      this.put(part.subarray(0, count))
      left -= count
    }
    this.at = written
  }

  private indexOf(back: number): number {
    const index = this.head - back
    return index < 0 ? index + this.samples.length : index
  }

  /** The sample that was written so many before the next one. */
  read(back: number): number {
    const place = this.written - back
    if (place < this.validFrom) return 0
    return place < this.ringFrom ? this.putBackAt(place) : this.samples[this.indexOf(back)]!
  }

  private putBackAt(place: number): number {
    const { kept, from } = this.epochs[this.epoch]!
    const { samples, end } = kept
    const [back, index] = [from - place, end - (from - place)]
    if (back > samples.length) return 0
    return samples[index < 0 ? index + samples.length : index]!
  }

  /**
   * Goes over from what was written here before it was taken back: the next `OVER_FRAMES` samples that are written, `done` of
   * which have been, lead from those, or from silence where there are none, to what is written. Without that a step between
   * what was and what is now would be heard in every repeat.
   */
  goOver(done: number): void {
    this.over = done
  }

  /** What is put instead of a sample while it goes over. */
  private between(sample: number): number {
    const before = this.written < this.top ? this.samples[this.head]! : 0
    return before + (sample - before) * (this.over++ / OVER_FRAMES)
  }

  /** Appends a sample. */
  write(sample: number): void {
    this.goOn()
    this.samples[this.head] = this.over < OVER_FRAMES ? this.between(sample) : sample
    if (++this.head === this.samples.length) this.head = 0
    this.top = Math.max(this.top, ++this.written)
  }

  /** Appends `count` samples. */
  append(from: Float64Array | Float32Array, count: number): void {
    let done = 0
    while (done < count && this.over < OVER_FRAMES) this.write(from[done++]!)
    if (done === count) return
    this.goOn()
    this.put(done === 0 ? head(from, count) : from.subarray(done, count))
  }

  private put(from: Float64Array | Float32Array): void {
    const { samples } = this
    const first = Math.min(from.length, samples.length - this.head)
    if (first === from.length) samples.set(from, this.head)
    else {
      samples.set(from.subarray(0, first), this.head)
      samples.set(from.subarray(first), 0)
    }
    this.head += from.length
    if (this.head >= samples.length) this.head -= samples.length
    this.written += from.length
    this.top = Math.max(this.top, this.written)
  }

  /** Takes the last samples back: they are about to be written anew. Also those that were put back, which stay as they are. */
  takeBack(count: number): void {
    const at = this.written - count
    if (at >= this.ringFrom) this.at = at
    else {
      const { from, kept } = this.epochs[this.epoch]!
      const { samples, end } = kept
      const back = Math.min(samples.length, from - at)
      const valid = Math.min(samples.length - back, Math.max(0, at - this.validFrom))
      this.applySnapshot({ samples, end: end < back ? end - back + samples.length : end - back, valid })
    }
  }

  /** Goes on by `count` samples, where all that may still be read is silence: nothing is written. */
  restFor(count: number): void {
    this.goOn()
    this.at += count
    this.reset()
  }

  /** Copies `count` samples, the first of them `back` before the next one to be written. */
  copy(back: number, count: number, into: Float64Array | Float32Array): void {
    const place = this.written - back
    const silent = clamp(this.validFrom - place, 0, count)
    if (silent > 0) into.fill(0, 0, silent)
    let done = silent
    for (const last = Math.min(count, this.ringFrom - place); done < last; done++)
      into[done] = this.putBackAt(place + done)
    if (done === count) return
    const { samples } = this
    const start = this.indexOf(back - done)
    const length = count - done
    const first = Math.min(length, samples.length - start)
    into.set(samples.subarray(start, start + first), done)
    if (first < length) into.set(samples.subarray(0, length - first), done + first)
  }

  /** Forgets all samples. */
  reset(): void {
    this.validFrom = this.top = this.at
    this.over = OVER_FRAMES
  }

  /** `last` says that the line is not used any more: then what it holds need not be copied. */
  snapshot(last = false): KeptLine {
    if (last && this.epochs.length === 0) {
      const { samples } = this
      return { samples, end: this.head, valid: Math.min(samples.length, this.at - this.validFrom) }
    }
    const length = clamp(this.at, 0, this.windowFrames)
    const samples = this.wide ? new Float64Array(length) : new Float32Array(length)
    const part = new Float64Array(Math.min(LINE_BLOCK_FRAMES, length))
    for (let done = 0; done < length; done += part.length) {
      const count = Math.min(part.length, length - done)
      this.copy(length - done, count, part)
      samples.set(head(part, count), done)
    }
    return { samples, end: length, valid: Math.min(length, this.at - this.validFrom) }
  }

  /** Goes on from what was kept. It is not copied: nobody may change it. */
  applySnapshot(kept: KeptLine): void {
    this.goOn()
    // One sample further on, so that places before and after are not the same.
    const from = this.written + 1
    while (this.epochs.length > 1 && this.epochs[1]!.from < from - this.slackFrames - LINE_BLOCK_FRAMES)
      this.epochs.shift()
    this.epochs.push({ from, kept })
    this.at = from
    this.validFrom = from - kept.valid
  }

  save(into: Float64Array, at: number): void {
    into[at] = this.at
    into[at + 1] = this.validFrom
  }

  restore(from: Float64Array, at: number): void {
    this.at = from[at]!
    this.validFrom = from[at + 1]!
  }
}
