import type { TempoChange } from '../../units/tempo'
import type { ParameterReader } from './parameter-reader'
import type { Stateful } from './stateful'

/** Frames of a quantum: processors work from one multiple of it to another, counted from frame 0 of the session. */
export const QUANTUM_FRAMES = 64

/** Frames that processors work on at a time, at most. */
export const BLOCK_FRAMES = 1024

/** Frames from one computing of what moves slowly to the next; in between it runs straight. */
export const COEFFICIENT_FRAMES = 16

/** Frames by which a processor can be taken back where it plays: its lines keep so much beyond what they read. */
export const PLAYING_SLACK = 65_536 + 8192
/** The same where only the last block is ever rendered again. */
export const LEAST_SLACK = 2048

/** Both sides of a sound. */
export type Sides = readonly [Float64Array, Float64Array]

/** What a processor is made from. */
export interface ProcessorSetup {
  readonly sampleRate: number
  /** Channels of the sound that comes in. */
  readonly channels: 1 | 2
  readonly tempo: readonly TempoChange[]
  /** Whether another sound steers it, which `process` is given. */
  readonly keyed: boolean
  /** The readers of its parameters, by their keys. */
  readonly values: Readonly<Record<string, ParameterReader>>
}

/** How long a processor remembers, in frames. */
export interface Memory {
  /** After so many frames of silence that come in, what comes out is under -120 dBFS: then it may be reset. */
  tailFrames: number
  /** After so many frames it no longer matters (by more than 1e-7) what came in before. */
  settleFrames: number
  /**
   * After so many frames of silence that come in, nothing of what it puts out is heard: it is under -148 dB of what came in, so that
   * under -100 dBFS is left where 48 dB are added later. 0 for what only follows a level: its memory makes no sound of its own.
   */
  ringFrames: number
  /** Samples that it holds to repeat them, of all channels, where they are many. */
  heldSamples?: number
}

/**
 * A processor at work. It changes sound in place: two arrays of 64-bit samples of which the first `setup.channels` are
 * filled, and after it `channels`. It never puts out a sample that is not finite.
 */
export interface Processor {
  /** Channels that come out. */
  readonly channels: 1 | 2
  /** By how many frames what comes out lies behind what comes in; a multiple of `QUANTUM_FRAMES`. */
  readonly latencyFrames: number
  /**
   * Works on `count` frames from index 0 on. `from` is the session frame of the first that comes out (`latencyFrames` before
   * that of the first that comes in); both are multiples of `QUANTUM_FRAMES` for what remembers. `key` are both sides of what
   * steers it, of the same frames as what comes in, for a setup that says so.
   */
  process(sound: Sides, from: number, count: number, key?: Sides): void
  /** Other values for the same processor: what it remembers stays. Only called with the same channels and latency. */
  update(setup: ProcessorSetup): void
  /**
   * Of what turns down: by how many dB (≥ 0) at the last frame, in one of its bands from low to high; 0 for a band that it does
   * not have.
   */
  reductionDb?(band: number): number
  /**
   * All that it remembers; of its lines, which are among it, the places. It can be taken back to what was saved by up to as many
   * frames that it has worked on since as it was made with slack for.
   */
  readonly state: readonly Stateful[]
  /** Its lines, to be kept as they are for longer than that. */
  readonly lines: readonly Line[]
  /**
   * Of what lets sound be heard again later: what it writes in the next frames goes over from what it wrote there before it was
   * taken back; `done` frames of that have passed (see `DelayLine.goOver`).
   */
  goOver?(done: number): void
}

/** Something that keeps past samples. */
export interface Line {
  /** A copy of what it may still read; `last` says that it is not used any more, and what it holds may be given away. */
  snapshot(last?: boolean): KeptLine
  /** Puts back what was kept, after what it holds now: what was there before stays within reach of `restore`. */
  applySnapshot(kept: KeptLine): void
}

/** What a line may still read: a ring in which the newest sample lies before index `end`. */
export interface KeptLine {
  samples: Float64Array | Float32Array
  end: number
  /** How many of the newest of them are not just silence from before a reset. */
  valid: number
}

/** What steady levels are made into, in dB, and how much of it is the same for all of them. */
export interface SteadyCurve {
  of(db: number): number
  makeupDb: number
}

/** A kind of processor. What it is asked is about the parameters over all of the session. */
export interface ProcessorKind {
  channels(setup: ProcessorSetup): 1 | 2
  latencyFrames(setup: ProcessorSetup): number
  /** null for what remembers nothing: every sample depends on its own frame alone. */
  memory(setup: ProcessorSetup): Memory | null
  /** Of what turns a whole sound down: what steady levels come out as, by the values of a frame. */
  steadyCurve?(setup: ProcessorSetup, frame: number): SteadyCurve
  /** `slackFrames` is by how much it can be taken back. */
  create(setup: ProcessorSetup, slackFrames?: number): Processor
}

/** Frames rounded up to whole quanta. */
export const wholeQuanta = (frames: number): number => Math.ceil(frames / QUANTUM_FRAMES) * QUANTUM_FRAMES
