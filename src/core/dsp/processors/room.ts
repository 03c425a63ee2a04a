import { exp, exp10, LN10, sinHalfPi } from '../../units/exact'
import { head } from '../kernels/head'
import { decayFrames, ringingMemory } from './decay'
import { DelayLine, LINE_SCALARS, restoreLine, saveLine } from './delay-line'
import {
  BLOCK_FRAMES,
  COEFFICIENT_FRAMES,
  QUANTUM_FRAMES,
  type Processor,
  type ProcessorKind,
  type ProcessorSetup,
} from './processor'

/** Times of the lines of a room of size 0.5, in ms; those of other sizes are 0.4 to 1.6 times as long. */
const LINE_MS = [29.7, 37.1, 41.1, 43.7, 53.3, 61.7, 67.9, 73.1] as const
const LINES = LINE_MS.length
/** At this frequency the decay is that which is asked for. */
const AT_HZ = 1000
/** What lies below it may sound on so many times as long, where damping is low. */
const LONGEST_PART = 4
/** What comes out of the lines, as a part. */
const LEVEL = 0.35

const lineFrames = ({ values, sampleRate }: ProcessorSetup) =>
  LINE_MS.map((ms) =>
    Math.max(QUANTUM_FRAMES, Math.round((ms / 1000) * (0.4 + 1.2 * values.size!.still) * sampleRate)),
  )
const preDelayFrames = ({ values, sampleRate }: ProcessorSetup) =>
  Math.round((values.preDelayMs!.still / 1000) * sampleRate)

function fallFrames(setup: ProcessorSetup, to: number): number {
  const decay = setup.values.decaySeconds!.range().max * LONGEST_PART
  return (
    decayFrames((3 * LN10) / decay, setup.sampleRate, to) +
    Math.max(...lineFrames(setup)) +
    preDelayFrames(setup)
  )
}

/**
 * A feedback delay network of eight lines (J.-M. Jot, A. Chaigne, AES 90th Convention, 1991) whose ends are mixed by a Hadamard matrix. Each
 * line loses as much as a decay of 60 dB in `decaySeconds` asks for at 1 kHz; above `dampingHz` (a low pass of first order in each line) sound
 * dies sooner. Stereo comes out; the left goes into every second line, the right into the others.
 */
export const roomKind: ProcessorKind = {
  channels: () => 2,
  latencyFrames: () => 0,
  memory: (setup) =>
    ringingMemory(
      (to) => fallFrames(setup, to),
      (to) => (setup.values.mix!.everOther(0) ? fallFrames(setup, to) : 0),
    ),
  create: (setup, slackFrames) => new Room(setup, slackFrames),
}

class Room implements Processor {
  readonly channels = 2
  readonly latencyFrames = 0
  readonly lines: readonly DelayLine[]
  readonly scalars: number
  private readonly loops: readonly DelayLine[]
  private readonly before: readonly DelayLine[]
  private readonly frames: readonly number[]
  private readonly preDelay: number
  private readonly damped = new Float64Array(LINES)
  private readonly ends = new Float64Array(LINES)
  private readonly gains = new Float64Array(LINES)
  private readonly mixes = new Float64Array(BLOCK_FRAMES)
  private readonly late = [new Float64Array(BLOCK_FRAMES), new Float64Array(BLOCK_FRAMES)] as const

  constructor(
    private setup: ProcessorSetup,
    slackFrames?: number,
  ) {
    this.frames = lineFrames(setup)
    this.preDelay = preDelayFrames(setup)
    this.loops = this.frames.map((frames) => new DelayLine(frames, false, slackFrames))
    this.before = [0, 1].map(() => new DelayLine(this.preDelay + BLOCK_FRAMES, true, slackFrames))
    this.lines = [...this.loops, ...this.before]
    this.scalars = LINES + this.lines.length * LINE_SCALARS
  }

  update(setup: ProcessorSetup): void {
    this.setup = setup
  }

  process(sound: readonly [Float64Array, Float64Array], from: number, count: number): void {
    const { setup, before, late, preDelay } = this
    if (setup.channels === 1) sound[1].set(head(sound[0], count))
    for (const c of [0, 1] as const) {
      before[c]!.append(sound[c], count)
      before[c]!.copy(preDelay + count, count, late[c])
    }
    for (let at = 0; at < count; at += COEFFICIENT_FRAMES) {
      const damping = this.place(from + at)
      this.run(at, Math.min(count, at + COEFFICIENT_FRAMES), damping)
    }
    const { mixes } = this
    setup.values.mix!.fill(from, count, mixes)
    for (const c of [0, 1] as const)
      for (let i = 0; i < count; i++) sound[c][i] = (1 - mixes[i]!) * sound[c][i]! + mixes[i]! * late[c][i]!
  }

  /** Sets the gains of the lines at a frame; returns the coefficient of the damping. */
  private place(frame: number): number {
    const { values, sampleRate } = this.setup
    const decay = values.decaySeconds!.at(frame) * sampleRate
    const damping = 1 - exp((-2 * Math.PI * values.dampingHz!.at(frame)) / sampleRate)
    // What the low pass leaves at 1 kHz is made up for, as far as what lies below it still dies.
    const rest = 1 - damping
    const sine = sinHalfPi((2 * AT_HZ) / sampleRate)
    const cos = 1 - 2 * sine * sine
    const kept = damping / Math.sqrt(1 - 2 * rest * cos + rest * rest)
    for (let n = 0; n < LINES; n++) {
      const asked = exp10((-3 * this.frames[n]!) / decay) / kept
      const most = exp10((-3 * this.frames[n]!) / (decay * LONGEST_PART))
      this.gains[n] = Math.min(asked, most)
    }
    return damping
  }

  private run(from: number, to: number, damping: number): void {
    const { loops, frames, damped, ends, gains, late } = this
    for (let i = from; i < to; i++) {
      const [left, right] = [late[0][i]!, late[1][i]!]
      for (let n = 0; n < LINES; n++) {
        const x = loops[n]!.read(frames[n]!)
        let low = damped[n]! + damping * (x - damped[n]!)
        if (low < 1e-30 && low > -1e-30) low = 0
        damped[n] = low
        ends[n] = low * gains[n]!
      }
      late[0][i] = LEVEL * (ends[0]! - ends[2]! + ends[4]! - ends[6]!)
      late[1][i] = LEVEL * (ends[1]! - ends[3]! + ends[5]! - ends[7]!)
      hadamard(ends)
      for (let n = 0; n < LINES; n++) loops[n]!.write(ends[n]! + (n % 2 ? right : left))
    }
  }

  goOver(done: number): void {
    for (const line of this.lines) line.goOver(done)
  }

  reset(): void {
    this.damped.fill(0)
    for (const line of this.lines) line.clear()
  }

  save(into: Float64Array, at: number): void {
    into.set(this.damped, at)
    this.lines.forEach((line, n) => saveLine(line, into, at + LINES + n * LINE_SCALARS))
  }

  restore(from: Float64Array, at: number): void {
    for (let n = 0; n < LINES; n++) this.damped[n] = from[at + n]!
    this.lines.forEach((line, n) => restoreLine(line, from, at + LINES + n * LINE_SCALARS))
  }
}

/** Mixes eight numbers in place by an orthogonal matrix of ±1/√8. */
function hadamard(x: Float64Array): void {
  for (let step = 1; step < LINES; step *= 2)
    for (let n = 0; n < LINES; n += 2 * step)
      for (let k = n; k < n + step; k++) {
        const [a, b] = [x[k]!, x[k + step]!]
        x[k] = a + b
        x[k + step] = a - b
      }
  for (let n = 0; n < LINES; n++) x[n] = x[n]! * 0.3535533905932738
}
