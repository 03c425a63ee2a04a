import type { Knot } from '../model/session'
import { raisedCosine } from '../units/exact'
import { scaledTop } from '../units/taper'
import { newCubics, pieceAt, setCubics, type Cubics } from './cubics'
import { stretchProgress } from './progress'

/** Length of the raised-cosine transition that every step is rendered with, in seconds. */
export const STEP_SECONDS = 0.001

/** How far the stretch that begins at a knot has come at `u` in 0…1, where it may be a piece of a longer shape. */
export function knotProgress(knot: Knot, u: number): number {
  const { shape, bend, part } = knot
  if (!part || (shape === 'line' && bend === 0)) return stretchProgress(shape, bend, u)
  const first = stretchProgress(shape, bend, part[0])
  const rise = stretchProgress(shape, bend, part[1]) - first
  return rise === 0 ? 0 : (stretchProgress(shape, bend, part[0] + (part[1] - part[0]) * u) - first) / rise
}

/** Index of the last knot at or before `frame`, -1 before the first. */
export function knotBefore(knots: readonly Knot[], frame: number): number {
  let low = 0
  let high = knots.length
  while (low < high) {
    const middle = (low + high) >>> 1
    if (knots[middle]!.frame <= frame) low = middle + 1
    else high = middle
  }
  return low - 1
}

/**
 * The drawn value of a thread at a frame (a real number), steps sharp: before the first knot its value, after
 * the last its value. Throws a RangeError for a thread without knots, which has no value of its own.
 */
export function threadValue(knots: readonly Knot[], frame: number): number {
  if (knots.length === 0) throw new RangeError('a thread with 0 knots has no value; at least 1 is needed')
  const at = knotBefore(knots, frame)
  return at < 0 ? knots[0]!.value : valueFrom(knots, at, frame)
}

/**
 * The value to which a thread comes at a frame from before it, where it may step. Throws a RangeError for a
 * thread without knots.
 */
export function arrivingValue(knots: readonly Knot[], frame: number): number {
  const next = knots.findIndex((k) => k.frame >= frame)
  if (next === 0) return knots[0]!.value
  return next > 0 ? valueFrom(knots, next - 1, frame) : threadValue(knots, frame)
}

function valueFrom(knots: readonly Knot[], at: number, frame: number): number {
  const knot = knots[at]!
  const next = knots[at + 1]
  if (!next || next.value === knot.value) return knot.value
  const progress = knotProgress(knot, (frame - knot.frame) / (next.frame - knot.frame))
  return knot.value + (next.value - knot.value) * progress
}

/** Stretches shorter than this (frames) are computed frame by frame, whatever their shape. */
const SHORT = 512

const isStraight = ({ shape, bend }: Knot) => shape === 'line' && bend === 0

/**
 * A thread over some frames: at frame `n` it is `c0 + t·(c1 + t·(c2 + t·c3))` with `t = n - origin`, for all frames up to
 * `end` (excluded). `cubic` false says that c2 and c3 are 0, `exact` that it has to be asked frame by frame instead.
 */
export interface ThreadSegment {
  end: number
  origin: number
  c0: number
  c1: number
  c2: number
  c3: number
  cubic: boolean
  exact: boolean
}

export const newSegment = (): ThreadSegment => ({
  end: 0,
  origin: 0,
  c0: 0,
  c1: 0,
  c2: 0,
  c3: 0,
  cubic: false,
  exact: false,
})

/** A sudden change of a thread's value: by `size` at `frame`. */
interface Step {
  frame: number
  size: number
}

/** Where a thread steps: at the end of a hold, and where knots share a frame. */
export function stepsOf(knots: readonly Knot[]): Step[] {
  const steps: Step[] = []
  for (let i = 1; i < knots.length; i++) {
    const from = knots[i - 1]!
    const to = knots[i]!
    const size = to.value - from.value
    if (size !== 0 && (from.shape === 'hold' || from.frame === to.frame))
      steps.push({ frame: to.frame, size })
  }
  return steps
}

/** Curved stretches whose cubics a reader keeps. */
const MOST_CURVED = 8

/**
 * A thread made ready for rendering at one sample rate (Hz). `fill` writes the value at every frame; each
 * step becomes a raised cosine of 1 ms, or of `stepSeconds`, that starts at the step. The transitions of steps closer than that add
 * up, so the value never jumps.
 */
export class ThreadReader {
  private readonly steps: Step[]
  private readonly transition: number
  /** The cubics of some stretches, and the knots at which they begin. */
  private readonly curved: Cubics[] = []
  private readonly curvedAt: number[] = []
  private nextSlot = 0
  private readonly scratch = newSegment()
  private lastKnot = -1
  private lastCurved = -1
  private lastCubics: Cubics | null = null
  private lastPiece = 0

  constructor(
    readonly knots: readonly Knot[],
    sampleRate: number,
    stepSeconds = STEP_SECONDS,
  ) {
    this.steps = stepsOf(knots)
    this.transition = Math.max(1, Math.round(sampleRate * stepSeconds))
  }

  /** The value where it is the same over all of `count` frames from `from`; null where it changes. */
  constant(from: number, count: number): number | null {
    const knots = this.knots
    const at = knotBefore(knots, from)
    if (at === knots.length - 1 || knots[at + 1]!.frame >= from + count) {
      const knot = knots[Math.max(0, at)]!
      const next = knots[at + 1]
      const flat = at < 0 || !next || next.value === knot.value || knot.shape === 'hold'
      if (flat && !this.stepsWithin(from, count)) return knot.value
    }
    return null
  }

  /**
   * Writes the value at the frames `from`, `from + 1`, … into `out[0…count-1]`. The result does not depend on
   * how calls are cut.
   */
  fill(from: number, count: number, out: Float64Array): void {
    const segment = this.scratch
    for (let done = 0; done < count;) {
      this.drawn(from + done, segment)
      const { origin, c0, c1, c2, c3 } = segment
      const end = Math.min(count, segment.end - from)
      if (segment.exact) for (let i = done; i < end; i++) out[i] = threadValue(this.knots, from + i)
      else if (segment.cubic)
        for (let i = done, t = from + done - origin; i < end; i++, t++)
          out[i] = c0 + t * (c1 + t * (c2 + t * c3))
      else if (c1 === 0) out.fill(c0, done, end)
      else for (let i = done, t = from + done - origin; i < end; i++, t++) out[i] = c0 + t * c1
      done = end
    }
    this.smoothSteps(from, count, out)
  }

  /**
   * Writes `factor` times the gains of the taper for the heights at the frames `from`, `from + 1`, …; `scaledTop(factor)·h³`, in one
   * pass.
   */
  fillGains(from: number, count: number, factor: number, out: Float64Array): void {
    const segment = this.scratch
    const top = scaledTop(factor)
    for (let done = 0; done < count;) {
      this.segment(from + done, segment)
      const { origin, c0, c1, c2, c3 } = segment
      const end = Math.min(count, segment.end - from)
      if (segment.exact) {
        this.fill(from + done, end - done, out.subarray(done, end))
        for (let i = done; i < end; i++) out[i] = out[i]! * out[i]! * out[i]! * top
      } else if (segment.cubic)
        for (let i = done, t = from + done - origin; i < end; i++, t++) {
          const height = c0 + t * (c1 + t * (c2 + t * c3))
          out[i] = height * height * height * top
        }
      else if (c1 === 0) out.fill(c0 * c0 * c0 * top, done, end)
      else
        for (let i = done, t = from + done - origin; i < end; i++, t++) {
          const height = c0 + t * c1
          out[i] = height * height * height * top
        }
      done = end
    }
  }

  /**
   * What the thread is from a frame on, as a formula; the same values as `fill` writes, to the bit. Around steps, and in
   * short curved stretches, it is `exact`: to be filled.
   */
  segment(frame: number, into: ThreadSegment): void {
    this.drawn(frame, into)
    const step = this.steps[this.firstStep(frame)]
    if (!step) return
    if (step.frame > frame) into.end = Math.min(into.end, step.frame)
    else {
      into.exact = true
      into.end = Math.min(into.end, step.frame + this.transition)
    }
  }

  /** The same with sharp steps. */
  private drawn(frame: number, into: ThreadSegment): void {
    const { knots } = this
    const at = this.knotAt(frame)
    const knot = knots[Math.max(0, at)]!
    const next = knots[at + 1]
    into.end = next ? next.frame : Infinity
    into.origin = knot.frame
    into.c0 = knot.value
    into.c1 = into.c2 = into.c3 = 0
    into.cubic = into.exact = false
    if (at < 0 || !next || next.value === knot.value || knot.shape === 'hold') return
    const length = next.frame - knot.frame
    if (isStraight(knot)) into.c1 = (next.value - knot.value) / length
    else if (length < SHORT) into.exact = true
    else {
      const { factors, starts, count } = at === this.lastCurved ? this.lastCubics! : this.cubics(at)
      const piece = this.piece(frame - knot.frame)
      into.origin = knot.frame + starts[piece]!
      into.c0 = factors[4 * piece]!
      into.c1 = factors[4 * piece + 1]!
      into.c2 = factors[4 * piece + 2]!
      into.c3 = factors[4 * piece + 3]!
      into.cubic = true
      if (piece + 1 < count) into.end = knot.frame + starts[piece + 1]!
    }
  }

  /** Index of the last knot at or before a frame: mostly the one of before, or the next. */
  private knotAt(frame: number): number {
    const { knots } = this
    let at = this.lastKnot
    if (at >= knots.length || (at >= 0 && knots[at]!.frame > frame)) at = knotBefore(knots, frame)
    else {
      for (let steps = 0; steps < 4 && at + 1 < knots.length && knots[at + 1]!.frame <= frame; steps++) at++
      if (at + 1 < knots.length && knots[at + 1]!.frame <= frame) at = knotBefore(knots, frame)
    }
    return (this.lastKnot = at)
  }

  private cubics(at: number): Cubics {
    let slot = this.curvedAt.indexOf(at)
    if (slot < 0) {
      slot = this.nextSlot
      this.nextSlot = (slot + 1) % MOST_CURVED
      setCubics(this.knots[at]!, this.knots[at + 1]!, (this.curved[slot] ??= newCubics()))
      this.curvedAt[slot] = at
    }
    this.lastCurved = at
    this.lastPiece = 0
    return (this.lastCubics = this.curved[slot]!)
  }

  /** The piece of the last cubics that covers a frame of them: mostly the one of before, or the next. */
  private piece(frame: number): number {
    const { count, starts } = this.lastCubics!
    let at = this.lastPiece
    if (at + 1 < count && starts[at + 1]! <= frame) at++
    if (starts[at]! > frame || (at + 1 < count && starts[at + 1]! <= frame))
      at = pieceAt(this.lastCubics!, frame)
    return (this.lastPiece = at)
  }

  private firstStep(from: number): number {
    let low = 0
    let high = this.steps.length
    while (low < high) {
      const middle = (low + high) >>> 1
      if (this.steps[middle]!.frame + this.transition <= from) low = middle + 1
      else high = middle
    }
    return low
  }

  private stepsWithin(from: number, count: number): boolean {
    const step = this.steps[this.firstStep(from)]
    return step !== undefined && step.frame < from + count
  }

  private smoothSteps(from: number, count: number, out: Float64Array): void {
    for (let s = this.firstStep(from); s < this.steps.length; s++) {
      const step = this.steps[s]!
      if (step.frame >= from + count) break
      const first = Math.max(0, step.frame - from)
      const last = Math.min(count, step.frame + this.transition - from)
      for (let i = first; i < last; i++)
        out[i] = out[i]! - step.size * (1 - raisedCosine((from + i - step.frame) / this.transition))
    }
  }
}
