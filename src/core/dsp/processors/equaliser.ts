import { head } from '../kernels/head'
import { EQUALISER_BANDS } from '../../model/inserts/kinds/equaliser'
import { dbToGain } from '../../units/decibel'
import { copyOut, processingKernel, copyIn } from '../kernels/processing'
import { filterFrames, ringingMemory } from './decay'
import {
  bell,
  HIGHEST_PART,
  highCut,
  highShelf,
  IDENTITY,
  lowCut,
  lowShelf,
  notch,
  type SectionNumbers,
} from './filters/filter-design'
import {
  allStay,
  FilterSections,
  SECTION_SCALARS,
  type SectionPair,
  type SectionSource,
} from './filters/filter-sections'
import { scaleByDb } from './gain-values'
import type { ParameterReader } from './parameter-reader'
import {
  BLOCK_FRAMES,
  type Memory,
  type Processor,
  type ProcessorKind,
  type ProcessorSetup,
} from './processor'
import { StateArray } from './stateful'
import { softFrames, softness } from './soft-jump'

/** What a band is, in the order in which the choices of its parameters stand. */
const KINDS = ['low-cut', 'low-shelf', 'bell', 'notch', 'high-shelf', 'high-cut'] as const
const CHANNELS = ['stereo', 'left', 'right', 'mid', 'side'] as const

/** A band that may sound. */
interface Band {
  index: number
  kind: (typeof KINDS)[number]
  channel: (typeof CHANNELS)[number]
  /** Of a cut: its order. */
  order: number
  sections: number
  on: ParameterReader
  frequencyHz: ParameterReader
  gainDb: ParameterReader
  q: ParameterReader
}

const usesGain = (kind: Band['kind']) => kind === 'bell' || kind === 'low-shelf' || kind === 'high-shelf'
const isCut = (kind: Band['kind']) => kind === 'low-cut' || kind === 'high-cut'

/** The bands that ever do anything, in the order of the chain. */
function bandsOf({ values }: ProcessorSetup): Band[] {
  const bands: Band[] = []
  EQUALISER_BANDS.forEach((name, index) => {
    const value = (key: string) => values[`${name}.${key}`]!
    const kind = KINDS[value('kind').still]!
    const order = value('slope').still + 1
    if (!value('on').everOther(0)) return
    if (usesGain(kind) && !value('gainDb').everOther(0)) return
    bands.push({
      index,
      kind,
      channel: CHANNELS[value('channel').still]!,
      order,
      sections: isCut(kind) ? Math.ceil(order / 2) : 1,
      on: value('on'),
      frequencyHz: value('frequencyHz'),
      gainDb: value('gainDb'),
      q: value('q'),
    })
  })
  return bands
}

/** The sections of a band at a frame, of which a part is heard. */
function sectionsAt(band: Band, frame: number, sampleRate: number, part = 1): SectionNumbers[] {
  const hz = band.frequencyHz.at(frame)
  const design = (): SectionNumbers[] => {
    switch (band.kind) {
      case 'bell':
        return [bell(hz, band.gainDb.at(frame), band.q.at(frame), sampleRate)]
      case 'low-shelf':
        return [lowShelf(hz, band.gainDb.at(frame), band.q.at(frame), sampleRate)]
      case 'high-shelf':
        return [highShelf(hz, band.gainDb.at(frame), band.q.at(frame), sampleRate)]
      case 'notch':
        return [notch(hz, band.q.at(frame), sampleRate)]
      case 'low-cut':
        return lowCut(hz, band.order, sampleRate)
      case 'high-cut':
        return highCut(hz, band.order, sampleRate)
    }
  }
  const sections = design()
  const on = band.on.at(frame) * part
  if (on >= 1) return sections
  // While a band is switched or comes in softly, what its sections put out goes over to what comes in.
  return sections.map(([p, q, r, d, l, c]): SectionNumbers => [
    p,
    q,
    r,
    IDENTITY[3] + (d - IDENTITY[3]) * on,
    IDENTITY[4] + (l - IDENTITY[4]) * on,
    c * on,
  ])
}

/** The sections of a band, by its place, at a frame; null for one that does nothing. */
export function bandSections(setup: ProcessorSetup, index: number, frame: number): SectionNumbers[] | null {
  const band = bandsOf(setup).find((b) => b.index === index)
  return band && band.on.at(frame) > 0 ? sectionsAt(band, frame, setup.sampleRate) : null
}

const isMidSide = ({ channel }: Band) => channel === 'mid' || channel === 'side'
const sidesOf = ({ channel }: Band): readonly [boolean, boolean] => [
  channel !== 'right' && channel !== 'side',
  channel !== 'left' && channel !== 'mid',
]

/** Frames after a jump during which a band may still be soft, and how much of it is heard at a frame. */
const softFramesOf = (band: Band, sampleRate: number) =>
  band.kind === 'high-shelf' ? softFrames(band, sampleRate) : 0
const partOf = (band: Band, frame: number, sampleRate: number) =>
  band.kind === 'high-shelf' ? softness(band, frame, sampleRate) : 1

const readersOf = ({ on, frequencyHz, gainDb, q }: Band) => [on, frequencyHz, gainDb, q]
const moves = (band: Band) => readersOf(band).some(({ lane }) => lane !== null)

/** A mono sound stays mono unless one side of it is to differ. */
const channelsOf = (setup: ProcessorSetup): 1 | 2 =>
  setup.channels === 2 || bandsOf(setup).some(({ channel }) => channel === 'left' || channel === 'right')
    ? 2
    : 1

/** Frames until what the sections remember has fallen to a part of it. */
function fallFrames(setup: ProcessorSetup, to: number): number {
  let frames = 0
  for (const band of bandsOf(setup)) {
    const lowest = Math.min(band.frequencyHz.range().min / setup.sampleRate, HIGHEST_PART)
    const gain = usesGain(band.kind) ? band.gainDb.range() : { min: 0, max: 0 }
    const factor = dbToGain(Math.max(Math.abs(gain.min), Math.abs(gain.max)) / 2)
    const q = isCut(band.kind) ? { min: 0.5, max: 1.3 * band.order } : band.q.range()
    // The slowest pole of s² + s/Q + 1, for all that poles and zeros may be.
    const slowest = Math.min(
      ...[q.min / factor, q.max * factor].map((value) =>
        value >= 0.5 ? 1 / (2 * value) : 1 / (2 * value) - Math.sqrt(1 / (4 * value * value) - 1),
      ),
    )
    const hz = (lowest * setup.sampleRate) / Math.sqrt(factor)
    frames += band.sections * filterFrames(hz, setup.sampleRate, to, slowest)
    frames += softFramesOf(band, setup.sampleRate)
  }
  return frames
}

/**
 * Up to eight bands one after the other, in state-variable form. Coefficients of what moves are computed every sixteenth frame
 * and run straight in between; the filters stay stable between any two sets of them, because both lead to states of no more energy.
 */
export const equaliserKind: ProcessorKind = {
  channels: channelsOf,
  latencyFrames: () => 0,
  memory: (setup): Memory | null =>
    bandsOf(setup).length ? ringingMemory((to) => fallFrames(setup, to)) : null,
  create: (setup) => new Equaliser(setup),
}

/** A band has as many sections at most. */
const MOST_SECTIONS = 4

/** Bands one after the other that are worked on together, on left and right or on mid and side. */
class Run implements SectionSource {
  private readonly sections: FilterSections
  /** The readers of what moves. */
  private readonly moving: readonly ParameterReader[]
  /** Frames after a movement until all bands are whole. */
  private readonly soft: number
  /** The sections of bands that stay. */
  private still: readonly SectionPair[] | null = null

  constructor(
    private readonly bands: readonly Band[],
    readonly midSide: boolean,
    private readonly channels: 1 | 2,
    private readonly sampleRate: number,
    states: Float64Array,
  ) {
    this.sections = new FilterSections(this.slots(), states)
    this.moving = bands.flatMap(readersOf).filter(({ lane }) => lane !== null)
    this.soft = Math.max(0, ...bands.map((band) => softFramesOf(band, sampleRate)))
  }

  /** The places of its sections among the states: a band has the same whatever the others are. */
  slots(): number[] {
    return this.bands.flatMap((band) =>
      Array.from({ length: band.sections }, (_, k) => band.index * MOST_SECTIONS + k),
    )
  }

  process(from: number, count: number): void {
    this.sections.process(this, from, count)
  }

  stays(from: number, count: number): boolean {
    return allStay(this.moving, from - this.soft, count + this.soft)
  }

  sectionsAt(frame: number): readonly SectionPair[] {
    if (this.still) return this.still
    const pairs = this.bands.flatMap((band) => {
      const whole = this.channels === 1 || (!this.midSide && band.channel === 'stereo')
      const [left, right] = whole ? [true, true] : sidesOf(band)
      const part = partOf(band, frame, this.sampleRate)
      return sectionsAt(band, frame, this.sampleRate, part).map((section): SectionPair => [
        left ? section : IDENTITY,
        right ? section : IDENTITY,
      ])
    })
    if (this.moving.length === 0) this.still = pairs
    return pairs
  }
}

class Equaliser implements Processor {
  readonly channels: 1 | 2
  readonly latencyFrames = 0
  readonly lines = []
  private runs: Run[] = []
  private readonly states = new Float64Array(EQUALISER_BANDS.length * MOST_SECTIONS * SECTION_SCALARS)
  readonly state = [new StateArray(this.states)]
  private readonly gains = new Float64Array(BLOCK_FRAMES)
  private readonly kernel = processingKernel()

  constructor(private setup: ProcessorSetup) {
    this.channels = channelsOf(setup)
    this.update(setup)
  }

  update(setup: ProcessorSetup): void {
    this.setup = setup
    const { channels, states } = this
    const parts: { bands: Band[]; midSide: boolean; moves: boolean }[] = []
    for (const band of bandsOf(setup)) {
      if (channels === 1 && band.channel === 'side') continue
      const midSide = channels === 2 && isMidSide(band)
      const part = parts.at(-1)
      if (part && part.midSide === midSide && part.moves === moves(band)) part.bands.push(band)
      else parts.push({ bands: [band], midSide, moves: moves(band) })
    }
    this.runs = parts.map(({ bands, midSide }) => new Run(bands, midSide, channels, setup.sampleRate, states))
    // A band that does not sound begins empty when it does.
    const used = new Set(this.runs.flatMap((run) => run.slots()))
    for (let slot = 0; slot < states.length / SECTION_SCALARS; slot++)
      if (!used.has(slot)) states.fill(0, slot * SECTION_SCALARS, (slot + 1) * SECTION_SCALARS)
  }

  process(sound: readonly [Float64Array, Float64Array], from: number, count: number): void {
    const { kernel, setup, channels } = this
    const [left, right] = kernel.sound
    copyIn(kernel, sound, setup.channels, count)
    if (setup.channels === 1) {
      if (channels === 2) right.set(head(left, count))
      else right.fill(0, 0, count)
    }
    for (const run of this.runs) {
      if (run.midSide) turnSides(left, right, count, 0.5)
      run.process(from, count)
      if (run.midSide) turnSides(left, right, count, 1)
    }
    for (let c = 0; c < channels; c++)
      scaleByDb(kernel.sound[c]!, setup.values.outputDb!, from, count, this.gains)
    copyOut(kernel, sound, channels, count)
  }
}

/** Left and right become mid and side with a factor of ½, and with 1 the other way round. */
function turnSides(left: Float64Array, right: Float64Array, count: number, factor: number): void {
  for (let i = 0; i < count; i++) {
    const [l, r] = [left[i]!, right[i]!]
    left[i] = (l + r) * factor
    right[i] = (l - r) * factor
  }
}
