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
  /** What people call it by other names, for the command search. */
  readonly search: string
  /** Roughly how long it takes: processor cycles a stereo frame. */
  readonly work: number
  /** What its bench draws. */
  readonly picture: InsertPicture
  /** Of what turns down: whether it does so to what is loud or to what is soft. */
  readonly reduces?: 'loud' | 'soft'
  /** Whether it is still heard some time after the sound that came in has ended. */
  readonly ringsOn?: true
  readonly parameters: readonly InsertParameter[]
  /** Values that come with the program. Names say what they do. */
  readonly presets: readonly { readonly name: string; readonly values: InsertValues }[]
}

/** The pictures of inserts: response over frequencies, reduction over time, a curve of levels, echoes, or what sounds there. */
export type InsertPicture = 'response' | 'reduction' | 'curve' | 'echoes' | 'spectrum'

/** Values of an insert by their keys, as they stand in a file. */
export type InsertValues = Record<string, number | boolean | string | null>

/** A kind of insert, whose name is kept as a type. */
export const insertKind = <const K extends string>(
  kind: InsertKind & { readonly kind: K },
): InsertKind & { readonly kind: K } => kind

type More = Partial<Pick<InsertParameter, 'moves'>> & Pick<NumberRange, 'minWord' | 'maxWord'>

/** A number; `octaves` draws its lane on a logarithmic axis. */
export function number(
  key: string,
  label: string,
  unit: NumberRange['unit'],
  [min, max, defaultValue]: readonly [min: number, max: number, defaultValue: number],
  { moves = 'every-frame', ...words }: More = {},
  octaves = false,
): InsertParameter {
  const range: NumberRange = { unit, min, max, defaultValue, ...words }
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
  range: { unit: '', min: 0, max: 1, defaultValue: 0 },
  moves,
  scale: switchScale(label),
})

/** One of several things; `defaultValue` is what holds where nothing is said. */
export function choice(
  key: string,
  label: string,
  choices: readonly Choice[],
  defaultValue: string | number,
): InsertParameter {
  const range: NumberRange = {
    unit: '',
    min: 0,
    max: choices.length - 1,
    defaultValue: choices.findIndex(({ value }) => value === defaultValue),
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
export const BEATS: NumberRange = { unit: '', min: 1 / 64, max: 64, defaultValue: 1 }

/** Moves with every sixteenth frame. */
export const slow = { moves: 'every-sixteenth' } as const

/** Parameters of a band, whose name their labels begin with. */
export const inGroup = (group: string, parameters: readonly InsertParameter[]): InsertParameter[] =>
  parameters.map((parameter) => ({ ...parameter, group }))
