import { head } from '../kernels/head'
import { LEAST_SLACK, PLAYING_SLACK, type KeptLine, type Line } from './processor'

const nextPowerOfTwo = (n: number) => 2 ** Math.ceil(Math.log2(n))

/** Samples that may be written between two readings. */
const BLOCK = 2048

/**
 * Past samples of one channel. `write` and `append` add to them, `copy` looks back. It holds so much more than it needs to look back that its
 * place can be taken back (`at`, `validFrom`) by its slack. Forgetting is moving `validFrom`: nothing is erased.
 */
export class DelayLine implements Line {
  private samples: Float64Array | Float32Array
  private mask: number
  /** Samples written so far. */
  at = 0
  /** The first of them that counts; those before are silence. */
  validFrom = 0

  /** `windowFrames` is how far back it is looked; `wide` keeps 64 bits a sample, else 32. */
  constructor(
    private windowFrames: number,
    private readonly wide: boolean,
    /** By how many frames its place can be taken back; with that of playing, also after something was put back. */
    private readonly slackFrames = LEAST_SLACK,
  ) {
    this.samples = this.room(windowFrames)
    this.mask = this.samples.length - 1
  }

  private room(windowFrames: number): Float64Array | Float32Array {
    // Twice the window where something may be put back, which is appended.
    const windows = this.slackFrames >= PLAYING_SLACK ? 2 : 1
    const length = nextPowerOfTwo(windows * windowFrames + this.slackFrames + BLOCK)
    return this.wide ? new Float64Array(length) : new Float32Array(length)
  }

  /** Looks further back from now on; what it holds stays. */
  widen(windowFrames: number): void {
    if (windowFrames <= this.windowFrames) return
    const { samples, mask, at } = this
    this.windowFrames = windowFrames
    const wider = this.room(windowFrames)
    if (wider.length === samples.length) return
    this.samples = wider
    this.mask = wider.length - 1
    for (let i = Math.max(0, at - samples.length); i < at; i++) wider[i & this.mask] = samples[i & mask]!
  }

  /** The sample that was written so many before the next one. */
  read(back: number): number {
    const place = this.at - back
    return place < this.validFrom ? 0 : this.samples[place & this.mask]!
  }

  /** Appends a sample. */
  write(sample: number): void {
    this.samples[this.at++ & this.mask] = sample
  }

  /** Appends `count` samples. */
  append(from: Float64Array, count: number): void {
    const { samples, mask } = this
    const start = this.at & mask
    const first = Math.min(count, samples.length - start)
    samples.set(head(from, first), start)
    if (first < count) samples.set(from.subarray(first, count), 0)
    this.at += count
  }

  /** Goes on by `count` samples, where all that may still be read is silence: nothing is written. */
  restFor(count: number): void {
    this.at += count
    this.validFrom = this.at
  }

  /** Copies `count` samples, the first of them `back` before the next one to be written. */
  copy(back: number, count: number, into: Float64Array): void {
    const { samples, mask, validFrom } = this
    const place = this.at - back
    const silent = Math.max(0, Math.min(count, validFrom - place))
    if (silent > 0) into.fill(0, 0, silent)
    if (silent === count) return
    const start = (place + silent) & mask
    const length = count - silent
    const first = Math.min(length, samples.length - start)
    into.set(samples.subarray(start, start + first), silent)
    if (first < length) into.set(samples.subarray(0, length - first), silent + first)
  }

  /** Its memory, for loops that are too busy to ask: a ring of a power of two, sample n at `n & mask`. */
  get ring(): { samples: Float64Array | Float32Array; mask: number } {
    return { samples: this.samples, mask: this.mask }
  }

  /** Forgets all samples. */
  clear(): void {
    this.validFrom = this.at
  }

  keep(): KeptLine {
    const length = Math.min(this.windowFrames, this.at)
    const samples = this.wide ? new Float64Array(length) : new Float32Array(length)
    for (let i = 0; i < length; i++) samples[i] = this.samples[(this.at - length + i) & this.mask]!
    return { samples, valid: Math.min(length, this.at - this.validFrom) }
  }

  putBack({ samples, valid }: KeptLine): void {
    for (let i = 0; i < samples.length; i++) this.samples[(this.at + i) & this.mask] = samples[i]!
    this.at += samples.length
    this.validFrom = this.at - valid
  }
}

/** Numbers that the places of a line take. */
export const LINE_SCALARS = 2

/** Writes the place of a line, or takes it back to there. */
export function saveLine(line: DelayLine, into: Float64Array, at: number): void {
  into[at] = line.at
  into[at + 1] = line.validFrom
}

export function restoreLine(line: DelayLine, from: Float64Array, at: number): void {
  line.at = from[at]!
  line.validFrom = from[at + 1]!
}
