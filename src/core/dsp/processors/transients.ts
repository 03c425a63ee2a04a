import { clamp } from '../../units/clamp'
import { exp2Quick, log2Quick } from '../../units/exact'
import { DB_PER_OCTAVE } from '../kernels/dynamics'
import { copyOut, processingKernel, copyIn } from '../kernels/processing'
import {
  BLOCK_FRAMES,
  QUANTUM_FRAMES,
  type Processor,
  type ProcessorKind,
  type ProcessorSetup,
} from './processor'
import { StateArray } from './stateful'
import { decayFrames, memoryOf, perFrame } from './decay'

/** The times of the three envelopes, in ms. */
const TIMES = [1, 30, 300] as const
/** Differences between two envelopes, in dB: up to the first there is no effect (waves of low tones differ by as much), from the second on all of it. */
const NONE_DB = 3
const WHOLE_DB = 12
/** Below so much there is nothing to shape: -120 dBFS, as a square. */
const FLOOR = 1e-12

const memoryFrames = ({ sampleRate }: ProcessorSetup, to: number) =>
  // Squares are followed: they fall from full scale to under the floor, and further by as much as it matters.
  decayFrames(1000 / TIMES[2], sampleRate, FLOOR * to)

/**
 * Shapes attacks and what follows them, whatever their level: three envelopes follow the mean square of the louder side with time
 * constants of 1, 30 and 300 ms. Where the first is above the second by 12 dB or more the whole of `attackDb` is added; where the third
 * is above the second by 12 dB or more, the whole of `sustainDb`; from 3 dB on in proportion.
 */
export const transientsKind: ProcessorKind = {
  channels: ({ channels }) => channels,
  latencyFrames: () => 0,
  memory: (setup) => memoryOf((to) => memoryFrames(setup, to)),
  create: (setup) => new Transients(setup),
}

/** The part of an effect for a difference of two envelopes in dB. */
const part = (db: number) => clamp((db - NONE_DB) / (WHOLE_DB - NONE_DB), 0, 1)

class Transients implements Processor {
  readonly channels: 1 | 2
  readonly latencyFrames = 0
  readonly lines = []
  private readonly envelopes = new Float64Array(TIMES.length)
  readonly state = [new StateArray(this.envelopes)]
  private readonly attacks = new Float64Array(BLOCK_FRAMES)
  private readonly sustains = new Float64Array(BLOCK_FRAMES)
  private readonly kernel = processingKernel()

  constructor(private setup: ProcessorSetup) {
    this.channels = setup.channels
  }

  update(setup: ProcessorSetup): void {
    this.setup = setup
  }

  process(sound: readonly [Float64Array, Float64Array], from: number, count: number): void {
    const { kernel, channels, attacks, sustains, setup, envelopes } = this
    const { dynamics } = kernel
    copyIn(kernel, sound, channels, count)
    dynamics.hearPeaks(channels, count)
    setup.values.attackDb!.fill(from, count, attacks)
    setup.values.sustainDb!.fill(from, count, sustains)
    const [quick, middle, slow] = TIMES.map((ms) => perFrame(ms, setup.sampleRate)) as [
      number,
      number,
      number,
    ]
    let [a, b, c] = [envelopes[0]!, envelopes[1]!, envelopes[2]!]
    const { levels } = dynamics
    for (let i = 0; i < count; i++) {
      const square = levels[i]! * levels[i]!
      if (i % QUANTUM_FRAMES === 0) {
        if (a < 1e-30) a = 0
        if (b < 1e-30) b = 0
        if (c < 1e-30) c = 0
      }
      a += quick * (square - a)
      b += middle * (square - b)
      c += slow * (square - c)
      const between = log2Quick(b + FLOOR)
      const rises = ((log2Quick(a + FLOOR) - between) * DB_PER_OCTAVE) / 2
      const falls = ((log2Quick(c + FLOOR) - between) * DB_PER_OCTAVE) / 2
      const gainDb = attacks[i]! * part(rises) + sustains[i]! * part(falls)
      levels[i] = gainDb === 0 ? 1 : exp2Quick(gainDb / DB_PER_OCTAVE)
    }
    envelopes[0] = a
    envelopes[1] = b
    envelopes[2] = c
    dynamics.apply(channels, count)
    copyOut(kernel, sound, channels, count)
  }
}
