import { linearScale, octaveScale, switchScale, type NumberRange } from '../units/number-scale'
import type { Scale } from '../units/scale'

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

/** A kind of insert. */
export interface InsertKind {
  readonly kind: string
  readonly name: string
  /** What it does, in a sentence. */
  readonly about: string
  /** Whether what it does depends on the level that comes in. */
  readonly hearsLevel?: true
  readonly parameters: readonly InsertParameter[]
}

type More = Partial<Pick<InsertParameter, 'moves'>> & Pick<NumberRange, 'minWord' | 'maxWord'>

function number(
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

const toggle = (
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

function choice(
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

const BEATS: NumberRange = { unit: '', min: 1 / 64, max: 64, plain: 1 }

/** Whether an insert is left out. As a lane it has holds between 0 and 1. */
export const BYPASSED = toggle('bypassed', 'Bypassed')

/** The bands of an equaliser, in the order in which sound passes them. */
export const EQUALISER_BANDS = ['b1', 'b2', 'b3', 'b4', 'b5', 'b6', 'b7', 'b8'] as const

const BAND_KINDS: readonly Choice[] = [
  { value: 'low-cut', label: 'Low cut' },
  { value: 'low-shelf', label: 'Low shelf' },
  { value: 'bell', label: 'Bell' },
  { value: 'notch', label: 'Notch' },
  { value: 'high-shelf', label: 'High shelf' },
  { value: 'high-cut', label: 'High cut' },
]
const BAND_SLOPES: readonly Choice[] = [6, 12, 18, 24, 30, 36, 42, 48].map((value) => ({
  value,
  label: `${value} dB/octave`,
}))
const BAND_CHANNELS: readonly Choice[] = [
  { value: 'stereo', label: 'Both sides' },
  { value: 'left', label: 'Left' },
  { value: 'right', label: 'Right' },
  { value: 'mid', label: 'Mid' },
  { value: 'side', label: 'Side' },
]

const slow = { moves: 'every-sixteenth' } as const

const inGroup = (group: string, parameters: readonly InsertParameter[]): InsertParameter[] =>
  parameters.map((parameter) => ({ ...parameter, group }))

/** The parameters of a band of an equaliser. */
const bandParameters = (band: string): InsertParameter[] => {
  const name = `Band ${band.slice(1)}`
  return inGroup(name, [
    toggle(`${band}.on`, `${name} on`, 'every-sixteenth'),
    choice(`${band}.kind`, `${name} kind`, BAND_KINDS, 'bell'),
    number(`${band}.frequencyHz`, `${name} frequency`, 'Hz', [10, 20_000, 1000], slow, true),
    number(`${band}.gainDb`, `${name} gain`, 'dB', [-24, 24, 0], slow),
    number(`${band}.q`, `${name} Q`, '', [0.1, 30, 0.7071], slow, true),
    choice(`${band}.slope`, `${name} slope`, BAND_SLOPES, 12),
    choice(`${band}.channel`, `${name} channel`, BAND_CHANNELS, 'stereo'),
  ])
}

/** The ranges of four bands, from low to high. */
export const FOUR_BANDS = [
  ['low', 'Low'],
  ['lowMid', 'Low mid'],
  ['highMid', 'High mid'],
  ['high', 'High'],
] as const

const compressedBand = ([band, name]: (typeof FOUR_BANDS)[number]): InsertParameter[] =>
  inGroup(name, [
    number(`${band}.thresholdDb`, `${name} threshold`, 'dB', [-80, 0, -20], slow),
    number(`${band}.ratio`, `${name} ratio`, ':1', [1, 100, 3], slow, true),
    number(`${band}.kneeDb`, `${name} knee`, 'dB', [0, 36, 6], slow),
    number(`${band}.attackMs`, `${name} attack`, 'ms', [0.05, 500, 10], slow, true),
    number(`${band}.releaseMs`, `${name} release`, 'ms', [5, 5000, 120], slow, true),
    number(`${band}.makeupDb`, `${name} make-up`, 'dB', [-12, 36, 0]),
    toggle(`${band}.bypassed`, `${name} bypassed`),
  ])

export const INSERT_KINDS = [
  {
    kind: 'gain',
    name: 'Gain',
    about: 'Level, polarity and sides, without anything that remembers.',
    parameters: [
      number('gainDb', 'Gain', 'dB', [-72, 36, 0]),
      number('leftDb', 'Left', 'dB', [-24, 24, 0]),
      number('rightDb', 'Right', 'dB', [-24, 24, 0]),
      toggle('invertLeft', 'Invert left'),
      toggle('invertRight', 'Invert right'),
      toggle('swap', 'Swap the sides'),
      toggle('removeDc', 'Remove DC'),
    ],
  },
  {
    kind: 'equaliser',
    name: 'Equaliser',
    about: 'Raises and lowers what lies around frequencies. Level does not matter to it.',
    parameters: [
      ...EQUALISER_BANDS.flatMap(bandParameters),
      number('outputDb', 'Output', 'dB', [-24, 24, 0]),
    ],
  },
  {
    kind: 'compressor',
    name: 'Compressor',
    about: 'Turns down what is louder than a threshold.',
    hearsLevel: true,
    parameters: [
      number('thresholdDb', 'Threshold', 'dB', [-80, 0, -20], slow),
      number('ratio', 'Ratio', ':1', [1, 100, 3], slow, true),
      number('kneeDb', 'Knee', 'dB', [0, 36, 6], slow),
      number('attackMs', 'Attack', 'ms', [0.05, 500, 10], slow, true),
      number('releaseMs', 'Release', 'ms', [5, 5000, 120], slow, true),
      number('makeupDb', 'Make-up', 'dB', [-12, 36, 0]),
      number('lookAheadMs', 'Look-ahead', 'ms', [0, 20, 0], { moves: 'never' }),
      choice(
        'detector',
        'Detector',
        [
          { value: 'peak', label: 'Peak' },
          { value: 'rms', label: 'RMS' },
        ],
        'peak',
      ),
      number('detectorCutHz', 'Detector cut', 'Hz', [0, 2000, 0], { ...slow, minWord: 'off' }),
      number('mostDb', 'At most', 'dB', [0, 80, 80], slow),
      number('mix', 'Mix', '%', [0, 1, 1]),
    ],
  },
  {
    kind: 'gate',
    name: 'Gate',
    about: 'Turns down what is softer than a threshold.',
    hearsLevel: true,
    parameters: [
      number('thresholdDb', 'Threshold', 'dB', [-90, 0, -50], slow),
      number('ratio', 'Ratio', ':1', [1, 100, 4], slow, true),
      number('rangeDb', 'Range', 'dB', [0, 90, 40], slow),
      number('attackMs', 'Attack', 'ms', [0.05, 100, 1], slow, true),
      number('holdMs', 'Hold', 'ms', [0, 2000, 50], slow),
      number('releaseMs', 'Release', 'ms', [5, 5000, 150], slow, true),
      number('hysteresisDb', 'Hysteresis', 'dB', [0, 12, 3], slow),
      number('lookAheadMs', 'Look-ahead', 'ms', [0, 20, 2], { moves: 'never' }),
    ],
  },
  {
    kind: 'de-esser',
    name: 'De-esser',
    about: 'Turns down what is loud above a frequency, such as sibilants.',
    hearsLevel: true,
    parameters: [
      number('frequencyHz', 'Frequency', 'Hz', [2000, 16_000, 6000], slow, true),
      number('thresholdDb', 'Threshold', 'dB', [-80, 0, -30], slow),
      number('ratio', 'Ratio', ':1', [1, 100, 4], slow, true),
      number('attackMs', 'Attack', 'ms', [0.05, 50, 0.5], slow, true),
      number('releaseMs', 'Release', 'ms', [5, 500, 60], slow, true),
      number('mostDb', 'At most', 'dB', [0, 24, 12], slow),
    ],
  },
  {
    kind: 'four-bands',
    name: 'Four bands',
    about: 'A compressor for each of four ranges of frequencies.',
    hearsLevel: true,
    parameters: [
      ...FOUR_BANDS.flatMap(compressedBand),
      number('crossover1Hz', 'Crossover 1', 'Hz', [20, 20_000, 120], slow, true),
      number('crossover2Hz', 'Crossover 2', 'Hz', [20, 20_000, 1000], slow, true),
      number('crossover3Hz', 'Crossover 3', 'Hz', [20, 20_000, 6000], slow, true),
      choice(
        'alone',
        'Listen to',
        [
          { value: 'none', label: 'All bands' },
          ...FOUR_BANDS.map(([value, name]) => ({ value, label: `${name} alone` })),
        ],
        'none',
      ),
    ],
  },
  {
    kind: 'saturator',
    name: 'Saturator',
    about: 'Bends the waveform, which adds overtones; the louder, the more.',
    hearsLevel: true,
    parameters: [
      number('driveDb', 'Drive', 'dB', [0, 48, 12]),
      choice(
        'shape',
        'Shape',
        [
          { value: 'soft', label: 'Soft' },
          { value: 'hard', label: 'Hard' },
          { value: 'asymmetric', label: 'Asymmetric' },
        ],
        'soft',
      ),
      number('mix', 'Mix', '%', [0, 1, 1]),
      number('outputDb', 'Output', 'dB', [-36, 12, 0]),
    ],
  },
  {
    kind: 'delay',
    name: 'Delay',
    about: 'Repeats what comes in after a time, each repeat softer than the one before.',
    parameters: [
      number('timeMs', 'Time', 'ms', [1, 4000, 350], { moves: 'crossing' }, true),
      {
        key: 'noteValue',
        label: 'Note value',
        type: 'beats',
        range: BEATS,
        moves: 'never',
        scale: linearScale(BEATS, 'Note value', 'beats'),
      },
      number('feedback', 'Feedback', '%', [0, 0.98, 0.35]),
      number('lowCutHz', 'Low cut', 'Hz', [0, 2000, 0], { moves: 'every-sixteenth', minWord: 'off' }),
      number(
        'highCutHz',
        'High cut',
        'Hz',
        [200, 20_000, 20_000],
        { moves: 'every-sixteenth', maxWord: 'off' },
        true,
      ),
      toggle('pingPong', 'Side to side', 'never'),
      number('mix', 'Mix', '%', [0, 1, 0.25]),
    ],
  },
  {
    kind: 'room',
    name: 'Room',
    about: 'The sound of a room: many echoes that die away.',
    parameters: [
      number('size', 'Size', '%', [0, 1, 0.4], { moves: 'never' }),
      number('decaySeconds', 'Decay', 's', [0.1, 10, 1.2], slow, true),
      number('dampingHz', 'Damping', 'Hz', [500, 20_000, 6000], slow, true),
      number('preDelayMs', 'Pre-delay', 'ms', [0, 200, 10], { moves: 'never' }),
      number('mix', 'Mix', '%', [0, 1, 0.2]),
    ],
  },
  {
    kind: 'width',
    name: 'Width',
    about: 'How far apart both sides are.',
    parameters: [
      number('width', 'Width', '%', [0, 2, 1]),
      number('monoBelowHz', 'Mono below', 'Hz', [0, 500, 0], { ...slow, minWord: 'off' }),
    ],
  },
  {
    kind: 'transients',
    name: 'Transients',
    about: 'Raises or lowers attacks, and what follows them, whatever their level.',
    parameters: [
      number('attackDb', 'Attack', 'dB', [-24, 24, 0]),
      number('sustainDb', 'Sustain', 'dB', [-24, 24, 0]),
    ],
  },
  {
    kind: 'ceiling',
    name: 'Ceiling',
    about: 'Keeps true peaks under a level by turning down ahead of them.',
    hearsLevel: true,
    parameters: [
      number('ceilingDbtp', 'Level', 'dBTP', [-24, 0, -1]),
      number('lookAheadMs', 'Look-ahead', 'ms', [1, 20, 5], { moves: 'never' }),
      number('releaseMs', 'Release', 'ms', [10, 2000, 150], { moves: 'every-sixteenth' }, true),
    ],
  },
] as const satisfies readonly InsertKind[]

/** The kinds of inserts, as they stand in files. */
export type InsertKindName = (typeof INSERT_KINDS)[number]['kind']

export const insertKindNames = INSERT_KINDS.map(({ kind }) => kind) as unknown as readonly [
  InsertKindName,
  ...InsertKindName[],
]

const byKind = new Map<string, InsertKind>(INSERT_KINDS.map((k) => [k.kind, k]))

/** A kind by its name; undefined for one that this version does not know. */
export const findInsertKind = (kind: string): InsertKind | undefined => byKind.get(kind)

/** A kind by its name. Throws a RangeError for one that this version does not know. */
export function insertKindOf(kind: string): InsertKind {
  const found = byKind.get(kind)
  if (!found) throw new RangeError(`there is no insert of kind “${kind}”`)
  return found
}

/** A parameter of a kind; undefined for a key that it does not have. */
export const insertParameter = (kind: string, key: string): InsertParameter | undefined =>
  key === BYPASSED.key ? BYPASSED : byKind.get(kind)?.parameters.find((p) => p.key === key)

/** What a value of an insert is in a file: of its own, or none. */
export type InsertValue = number | boolean | string | null

/** What a value of a file is to a processor and a lane: switches are 1 and 0, no note value is 0, a choice is its place. */
const numberOf = (value: InsertValue, parameter: InsertParameter | undefined): number =>
  parameter?.choices
    ? Math.max(
        0,
        parameter.choices.findIndex((c) => c.value === value),
      )
    : typeof value === 'number'
      ? value
      : value === true
        ? 1
        : 0

/** The value of a parameter of an insert in its unit: its own, or what holds where it says nothing. */
export function insertValue(
  insert: {
    readonly kind: string
    readonly values: Readonly<Record<string, InsertValue>>
  },
  key: string,
): number {
  const own = Object.hasOwn(insert.values, key) ? insert.values[key]! : undefined
  const parameter = insertParameter(insert.kind, key)
  if (own !== undefined) return numberOf(own, parameter)
  return parameter === undefined || parameter.type === 'beats' ? 0 : parameter.range.plain
}

const CROSSOVERS = ['crossover1Hz', 'crossover2Hz', 'crossover3Hz']

/**
 * The value that a parameter gets when it is set: crossovers stay in their order, a Hz apart, however far one is moved. All others are as
 * they are.
 */
export function settableValue(
  insert: { readonly kind: string; readonly values: Readonly<Record<string, InsertValue>> },
  key: string,
  value: number,
): number {
  const n = insert.kind === 'four-bands' ? CROSSOVERS.indexOf(key) : -1
  if (n < 0) return value
  const low = n > 0 ? insertValue(insert, CROSSOVERS[n - 1]!) + 1 : -Infinity
  const high = n < 2 ? insertValue(insert, CROSSOVERS[n + 1]!) - 1 : Infinity
  return Math.max(low, Math.min(high, value))
}
