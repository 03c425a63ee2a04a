import { linearScale, octaveScale, switchScale, type NumberRange } from '../../units/number-scale'
import type { Scale } from '../../units/scale'

/** One of the things that a parameter may be. */
export interface Choice {
  readonly value: string | number
  readonly label: string
}

/**
 * One parameter of a kind of insert: all that rules, files, lanes, fields and processors know of it. Values are in the unit
 * of its range; switches are true or false in a file and 1 or 0 in a lane.
 */
export interface InsertParameter {
  readonly key: string
  /** What its field is called. */
  readonly label: string
  /** The band that it belongs to, which its label begins with; its key begins with that of the band and a point. */
  readonly group?: string
  readonly type: 'number' | 'switch' | 'beats' | 'choice'
  /** Of a choice: what stands in a file, and how it is called. To a processor it is its place in this list. */
  readonly choices?: readonly Choice[]
  readonly range: NumberRange
  readonly scale: Scale
  /**
   * How it moves by a lane: with every frame, with every sixteenth and straight between, from one length to the next
   * (`crossing`), or never, and then it has no lane.
   */
  readonly moves: 'every-frame' | 'every-sixteenth' | 'crossing' | 'never'
}

/** A filter that jumps is heard as a click: a step of what moves one takes this long, in seconds. */
const FILTER_STEP_SECONDS = 0.06

/** How long a step in the lane of a parameter takes, in seconds; undefined where it takes as long as any. */
export const stepSecondsOf = (kind: string, { moves, range }: InsertParameter): number | undefined =>
  moves === 'every-sixteenth' && (kind === 'equaliser' || range.unit === 'Hz')
    ? FILTER_STEP_SECONDS
    : undefined

/** A kind of insert. */
export interface InsertKind {
  readonly kind: string
  readonly name: string
  /** What it does, in a sentence. */
  readonly about: string
  /** Whether what it does depends on the level that comes in. */
  readonly hearsLevel?: true
  /** Whether another strip may steer it by its level, as a key. */
  readonly takesKey?: true
  readonly parameters: readonly InsertParameter[]
}

type More = Partial<Pick<InsertParameter, 'moves'>> & Pick<NumberRange, 'minWord' | 'maxWord'>

/** A number; `octaves` draws its lane on a logarithmic axis. */
export function number(
  key: string,
  label: string,
  unit: NumberRange['unit'],
  [min, max, plain]: readonly [min: number, max: number, plain: number],
  { moves = 'every-frame', ...words }: More = {},
  octaves = false,
): InsertParameter {
  const range: NumberRange = { unit, min, max, plain, ...words }
  const make = octaves ? octaveScale : linearScale
  return { key, label, type: 'number', range, moves, scale: make(range, label, `${unit} ${min}…${max}`) }
}

/** A switch. */
export const toggle = (
  key: string,
  label: string,
  moves: InsertParameter['moves'] = 'every-frame',
): InsertParameter => ({
  key,
  label,
  type: 'switch',
  range: { unit: '', min: 0, max: 1, plain: 0 },
  moves,
  scale: switchScale(label),
})

/** One of several things; `plain` is what holds where nothing is said. */
export function choice(
  key: string,
  label: string,
  choices: readonly Choice[],
  plain: string | number,
): InsertParameter {
  const range: NumberRange = {
    unit: '',
    min: 0,
    max: choices.length - 1,
    plain: choices.findIndex(({ value }) => value === plain),
  }
  return {
    key,
    label,
    type: 'choice',
    choices,
    range,
    moves: 'never',
    scale: linearScale(range, label, label),
  }
}

/** Lengths in quarter notes. */
export const BEATS: NumberRange = { unit: '', min: 1 / 64, max: 64, plain: 1 }

/** Moves with every sixteenth frame. */
export const slow = { moves: 'every-sixteenth' } as const

/** Parameters of a band, whose name their labels begin with. */
export const inGroup = (group: string, parameters: readonly InsertParameter[]): InsertParameter[] =>
  parameters.map((parameter) => ({ ...parameter, group }))
