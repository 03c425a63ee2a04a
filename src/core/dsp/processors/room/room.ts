import { head } from '../../kernels/head'
import { copyOut, processingKernel } from '../../kernels/processing'
import { LINES, MOST_TAP_FRAMES, NUMBERS, TILE_FRAMES } from '../../kernels/room'
import { decayFrames, filterFrames, ringingMemory } from '../decay'
import { DelayLine } from '../delay-line'
import { FilterSections, SECTION_SCALARS, type SectionSource } from '../filters/filter-sections'
import {
  BLOCK_FRAMES,
  COEFFICIENT_FRAMES,
  QUANTUM_FRAMES,
  wholeQuanta,
  type Processor,
  type ProcessorKind,
  type ProcessorSetup,
  type Sides,
} from '../processor'
import { StateArray, type Stateful } from '../stateful'
import {
  decayRate,
  leftAfter,
  lineCutHz,
  lineFilter,
  longestDecay,
  reachBetween,
  roomDecay,
  roomReach,
  sameReach,
  tapWeight,
  TONE_RINGS,
  toneOf,
  type RoomReach,
} from './room-design'

/** How much of what is spread is heard at once: it is shorter than the lines, and as loud as they are so. */
const EARLY_LEVEL = 0.76
/** By how much what is heard is multiplied. */
const LEVEL = 1.68

function fallFrames(setup: ProcessorSetup, to: number): number {
  const { sampleRate } = setup
  const { preDelay, lines, holds, taps } = roomReach(setup)
  const cutHz = Math.min(...lines.map((line) => lineCutHz(line, sampleRate)))
  return (
    decayFrames(decayRate(longestDecay(setup, lines)), sampleRate, to) +
    filterFrames(cutHz, sampleRate, to) +
    filterFrames(TONE_RINGS.hz, sampleRate, to, TONE_RINGS.damping) +
    Math.max(...lines) +
    Math.max(...holds) +
    Math.max(...taps) +
    preDelay
  )
}

/**
 * A feedback delay network of sixteen lines (J.-M. Jot, A. Chaigne, AES 90th Convention, 1991) behind a network that spreads what comes in
 * over sixteen channels: each takes a tap of both sides, a Hadamard matrix mixes them, and each is held for a time of its own. The ends of
 * the lines are mixed by the same matrix. All that sounds at one moment has lost as much as a decay of 60 dB in `decaySeconds` asks for at
 * 1 kHz, by whichever way it came; a low pass of first order in each line makes sound at `dampingHz` die twice as fast as low sound, and
 * a low cut keeps 0 Hz out. Stereo comes out.
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
  readonly state: readonly Stateful[]
  private readonly loops: readonly DelayLine[]
  private readonly before: readonly DelayLine[]
  /** What is spread, held. It can be worked out again from what came in before, and is where that was taken back. */
  private readonly held: readonly DelayLine[]
  private heldTo = -1
  private readonly heldAgain: Stateful = {
    scalars: 0,
    save: () => undefined,
    restore: () => (this.heldTo = -1),
    reset: () => (this.heldTo = -1),
  }
  private reach: RoomReach
  /** Where everything lies from the next block on, if somewhere else. */
  private next: RoomReach | null = null
  /** What the low passes of the lines remember, then their low cuts. */
  private readonly states = new Float32Array(2 * LINES)
  private readonly toneStates = new Float64Array(2 * SECTION_SCALARS)
  private readonly tone = new FilterSections([0, 1], this.toneStates)
  private readonly toneSource: SectionSource
  private readonly kernel = processingKernel()

  constructor(
    private setup: ProcessorSetup,
    slackFrames?: number,
  ) {
    this.reach = roomReach(setup)
    const { lines, holds } = this.reach
    this.loops = lines.map((frames) => new DelayLine(frames, false, slackFrames))
    this.held = holds.map((frames) => new DelayLine(frames + BLOCK_FRAMES, false, 0))
    this.before = [0, 1].map(() => new DelayLine(windowOf(this.reach), false, slackFrames))
    this.lines = [...this.loops, ...this.before]
    this.state = [new StateArray(this.states), new StateArray(this.toneStates), ...this.lines, this.heldAgain]
    const sections = toneOf(setup.sampleRate)
    this.toneSource = { stays: () => true, sectionsAt: () => sections }
  }

  update(setup: ProcessorSetup): void {
    this.setup = setup
    const reach = roomReach(setup)
    this.next = sameReach(reach, this.reach) ? null : reach
    if (!this.next) return
    this.loops.forEach((line, n) => line.widen(reach.lines[n]!))
    this.held.forEach((line, n) => line.widen(reach.holds[n]! + BLOCK_FRAMES))
    for (const line of this.before) line.widen(windowOf(reach))
  }

  process(sound: Sides, from: number, count: number): void {
    const { setup, before, kernel } = this
    if (setup.channels === 1) sound[1].set(head(sound[0], count))
    if (this.heldTo !== before[0]!.at) this.heldTo = -1
    for (const c of [0, 1] as const) {
      kernel.room.dry[c].set(head(sound[c], count))
      before[c]!.append(sound[c], count)
    }
    const old = this.reach
    this.spread(from, count)
    if (this.next) this.goOn(this.next, from, count)
    this.turn(old, from, count)
    this.tone.process(this.toneSource, from, count)
    setup.values.mix!.fill(from, count, kernel.room.mixes)
    kernel.room.mix(count, LEVEL)
    copyOut(kernel, sound, 2, count)
  }

  /** Spreads what came in at last, and puts what is to go into the lines now into the kernel. */
  private spread(from: number, count: number): void {
    const { held, reach, before } = this
    const { spread } = this.kernel.room
    if (this.heldTo < 0) {
      for (const line of held) line.reset()
      for (let behind = wholeQuanta(Math.max(...reach.holds)); behind > 0;) {
        const many = Math.min(behind, BLOCK_FRAMES)
        this.diffuse(from - behind, many, behind + count)
        behind -= many
      }
    }
    this.diffuse(from, count, count)
    this.heldTo = before[0]!.at
    held.forEach((line, n) => line.copy(reach.holds[n]! + count, count, spread[n]!))
  }

  /** Spreads frames that came in `behind` frames ago. */
  private diffuse(from: number, count: number, behind: number): void {
    const { reach, before, held, setup } = this
    const { input, taps, weights, spread } = this.kernel.room
    const decaySeconds = setup.values.decaySeconds!
    const back = Math.max(...reach.taps)
    for (const c of [0, 1] as const)
      before[c]!.copy(reach.preDelay + back + behind, back + count, input[c].subarray(MOST_TAP_FRAMES - back))
    this.kernel.room.flush(back, count)
    taps.set(reach.taps)
    const many = decaySeconds.constant(from, count) === null ? QUANTUM_FRAMES : count
    for (let at = 0; at < count; at += many) {
      const decay = decaySeconds.at(from + at) * setup.sampleRate
      reach.taps.forEach((frames, n) => (weights[n] = 0.25 * tapWeight(n, frames, decay)))
      this.kernel.room.diffuse(at, many / TILE_FRAMES)
    }
    held.forEach((line, n) => line.append(spread[n]!, count))
  }

  /** Goes over to another size or pre-delay within a block: what is spread leads from where it lay to where it lies now. */
  private goOn(next: RoomReach, from: number, count: number): void {
    const { spread } = this.kernel.room
    const old = spread.map((channel) => channel.slice(0, count))
    this.reach = next
    this.next = null
    this.heldTo = -1
    this.spread(from, count)
    spread.forEach((channel, n) => goOver(old[n]!, channel, 0, count, count))
  }

  /** Turns the lines; what comes out of them leads from where it lay to where it lies now. */
  private turn(old: RoomReach, from: number, count: number): void {
    const { loops, reach, setup, states, kernel } = this
    const { lines } = kernel.room
    const goesOver = old !== reach
    const longest = Math.min(...reach.lines, ...old.lines)
    kernel.room.numbers.set(states, NUMBERS.low)
    for (let at = 0; at < count;) {
      const many = Math.min(count - at, longest - (longest % QUANTUM_FRAMES))
      loops.forEach((loop, n) => {
        loop.copy(reach.lines[n]!, many, lines[n]!)
        if (!goesOver) return
        const before = new Float32Array(many)
        loop.copy(old.lines[n]!, many, before)
        goOver(before, lines[n]!, at, many, count)
      })
      const { decaySeconds, dampingHz } = setup.values
      const moves =
        decaySeconds!.constant(from + at, many) === null || dampingHz!.constant(from + at, many) === null
      const step = moves || goesOver ? COEFFICIENT_FRAMES : many
      for (let i = 0; i < many; i += step) {
        this.place(from + at + i, goesOver ? reachBetween(old, reach, (at + i) / count) : reach)
        kernel.room.turn(at + i, i, step / TILE_FRAMES, 1 - EARLY_LEVEL)
      }
      loops.forEach((loop, n) => loop.append(lines[n]!, many))
      at += many
    }
    states.set(kernel.room.numbers.subarray(NUMBERS.low))
  }

  /** Puts the filters of the lines into the kernel, at a frame. */
  private place(frame: number, reach: RoomReach): void {
    const { values, sampleRate } = this.setup
    const { cuts } = reach
    const { numbers, weights } = this.kernel.room
    const decay = roomDecay(values.decaySeconds!.at(frame), values.dampingHz!.at(frame), sampleRate)
    for (let n = 0; n < LINES; n++) {
      const { keep, take } = lineFilter(reach.lines[n]!, decay)
      const cut = cuts[n]!
      numbers[NUMBERS.keep + n] = keep
      // A quarter of each is what makes the matrix of ±1 an orthogonal one.
      numbers[NUMBERS.take + n] = 0.25 * take
      numbers[NUMBERS.cutKeep + n] = 1 - cut
      numbers[NUMBERS.cutTake + n] = cut
      weights[2 * LINES + n] = 0.25 * leftAfter(reach.holds[n]!, decay.frames)
    }
  }

  goOver(done: number): void {
    for (const line of this.lines) line.goOver(done)
  }
}

/** How far back what came in is needed, in frames. */
const windowOf = ({ preDelay, taps, holds }: RoomReach) =>
  preDelay + Math.max(...taps) + wholeQuanta(Math.max(...holds)) + BLOCK_FRAMES

/** Leads from one sound to another over `whole` frames, `done` of which have passed, in place of the other. */
function goOver(from: Float32Array, to: Float32Array, done: number, count: number, whole: number): void {
  for (let i = 0; i < count; i++) to[i] = from[i]! + (to[i]! - from[i]!) * ((done + i) / whole)
}
