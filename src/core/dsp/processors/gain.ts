import { dbToGain } from '../../units/decibel'
import { tanPi } from '../../units/exact'
import { head } from '../kernels/head'
import { filterFrames, ringingMemory } from './decay'
import type { ParameterReader } from './parameter-reader'
import {
  BLOCK_FRAMES,
  QUANTUM_FRAMES,
  type Processor,
  type ProcessorKind,
  type ProcessorSetup,
} from './processor'
import { StateArray } from './stateful'

/** Corner of the filter that removes DC, in Hz. */
const DC_HZ = 5

/** Whether a parameter of one side does anything, which a mono sound has no sides for. */
const ofSides = ['leftDb', 'rightDb', 'invertLeft', 'invertRight'] as const

const removesDc = ({ values }: ProcessorSetup) => values.removeDc!.everOther(0)

/** A mono sound stays mono unless its sides are to differ. */
const channelsOf = ({ channels, values }: ProcessorSetup): 1 | 2 =>
  channels === 2 || ofSides.some((key) => values[key]!.everOther(0)) ? 2 : 1

/**
 * Gain, gain of each side and polarity of each side; then the sides are swapped; then a filter of first order at 5 Hz against DC (bilinear
 * transform of s/(s + ω)). Switches that move blend over their step.
 */
export const gainKind: ProcessorKind = {
  channels: channelsOf,
  latencyFrames: () => 0,
  memory: (setup) =>
    removesDc(setup) ? ringingMemory((to) => filterFrames(DC_HZ, setup.sampleRate, to)) : null,
  create: (setup) => new Gain(setup),
}

class Gain implements Processor {
  readonly channels: 1 | 2
  readonly latencyFrames = 0
  readonly lines = []
  private readonly states = new Float64Array(2)
  readonly state = [new StateArray(this.states)]
  private readonly scratch = new Float64Array(BLOCK_FRAMES)
  private readonly blends = new Float64Array(BLOCK_FRAMES)

  constructor(private setup: ProcessorSetup) {
    this.channels = channelsOf(setup)
  }

  update(setup: ProcessorSetup): void {
    this.setup = setup
  }

  process(sound: readonly [Float64Array, Float64Array], from: number, count: number): void {
    const { values, channels, sampleRate } = this.setup
    const [left, right] = sound
    if (channels === 1 && this.channels === 2) right.set(head(left, count))
    for (let c = 0; c < this.channels; c++) {
      const side = c === 0 ? 'Left' : 'Right'
      this.scale(sound[c]!, values.gainDb!, values[side === 'Left' ? 'leftDb' : 'rightDb']!, from, count)
      this.invert(sound[c]!, values[`invert${side}`]!, from, count)
    }
    if (this.channels === 2) this.swap(left, right, from, count)
    if (removesDc(this.setup)) {
      const g = tanPi(DC_HZ / sampleRate)
      for (let c = 0; c < this.channels; c++) this.removeDc(sound[c]!, c, g / (1 + g), from, count)
    }
  }

  private scale(
    samples: Float64Array,
    gain: ParameterReader,
    side: ParameterReader,
    from: number,
    count: number,
  ) {
    const [one, other] = [gain.constant(from, count), side.constant(from, count)]
    if (one !== null && other !== null) {
      const factor = dbToGain(one + other)
      if (factor !== 1) for (let i = 0; i < count; i++) samples[i] = samples[i]! * factor
      return
    }
    gain.fill(from, count, this.scratch)
    side.fill(from, count, this.blends)
    for (let i = 0; i < count; i++) samples[i] = samples[i]! * dbToGain(this.scratch[i]! + this.blends[i]!)
  }

  private invert(samples: Float64Array, inverts: ParameterReader, from: number, count: number) {
    const same = inverts.constant(from, count)
    if (same === 0) return
    if (same === 1) for (let i = 0; i < count; i++) samples[i] = -samples[i]!
    else {
      inverts.fill(from, count, this.blends)
      for (let i = 0; i < count; i++) samples[i] = samples[i]! * (1 - 2 * this.blends[i]!)
    }
  }

  private swap(left: Float64Array, right: Float64Array, from: number, count: number) {
    const { swap } = this.setup.values
    const same = swap!.constant(from, count)
    if (same === 0) return
    swap!.fill(from, count, this.blends)
    for (let i = 0; i < count; i++) {
      const [l, r, b] = [left[i]!, right[i]!, this.blends[i]!]
      left[i] = l + (r - l) * b
      right[i] = r + (l - r) * b
    }
  }

  private removeDc(samples: Float64Array, channel: number, g: number, from: number, count: number) {
    const { removeDc } = this.setup.values
    removeDc!.fill(from, count, this.blends)
    let state = this.states[channel]!
    for (let i = 0; i < count; i++) {
      if (i % QUANTUM_FRAMES === 0 && Math.abs(state) < 1e-30) state = 0
      const x = samples[i]!
      const v = (x - state) * g
      const low = v + state
      state = low + v
      samples[i] = x - low * this.blends[i]!
    }
    this.states[channel] = state
  }
}
