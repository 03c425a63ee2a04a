import { clamp } from '../../units/clamp'
import { DelayLine, type KeptLine } from '../../dsp/processors'
import { RENDER_BLOCK } from '../render-block'

/** What a line held at a moment. */
export interface KeptFeed {
  lines: readonly KeptLine[]
  end: number
  loudUntil: number
}

/**
 * What a strip has put out for another strip that is behind it, because other ways have more latency: both sides, by session
 * frames.
 */
export class FeedLine {
  private readonly sides: readonly [DelayLine, DelayLine]
  /** The session frame after the last one that it holds. */
  private end = -Infinity
  /** From this session frame on it holds silence. */
  private loudUntil = -Infinity

  constructor(
    readonly delay: number,
    slackFrames?: number,
  ) {
    const side = () => new DelayLine(delay + 2 * RENDER_BLOCK, true, slackFrames)
    this.sides = [side(), side()]
  }

  /** Appends the frames from session frame `from` on. */
  push(sound: readonly [Float64Array, Float64Array] | null, from: number, count: number): void {
    if (from > this.end) this.clear(from)
    // The last quantum is rendered again where rendering went back to its beginning.
    if (from < this.end) for (const line of this.sides) line.takeBack(this.end - from)
    for (const [side, line] of this.sides.entries()) line.append(sound ? sound[side]! : SILENCE, count)
    this.end = from + count
    this.loudUntil = Math.min(this.loudUntil, from)
    if (sound) this.loudUntil = this.end
  }

  /** Copies the frames from session frame `from` on; false where they are silence, and then nothing is copied. */
  read(from: number, count: number, into: readonly [Float64Array, Float64Array]): boolean {
    if (from >= this.loudUntil) return false
    const there = clamp(this.end - from, 0, count)
    for (const [side, line] of this.sides.entries()) {
      line.copy(this.end - from, there, into[side]!)
      into[side]!.fill(0, there, count)
    }
    return true
  }

  /** Forgets all; what is pushed next may begin anywhere. */
  clear(from = -Infinity): void {
    for (const line of this.sides) line.reset()
    this.end = from
    this.loudUntil = -Infinity
  }

  /** A copy of what it holds; `last` says that it is not used any more. */
  snapshot(last?: boolean): KeptFeed {
    return { lines: this.sides.map((line) => line.snapshot(last)), end: this.end, loudUntil: this.loudUntil }
  }

  applySnapshot({ lines, end, loudUntil }: KeptFeed): void {
    this.sides.forEach((line, i) => line.applySnapshot(lines[i]!))
    this.end = end
    this.loudUntil = loudUntil
  }
}

const SILENCE = new Float64Array(RENDER_BLOCK)
