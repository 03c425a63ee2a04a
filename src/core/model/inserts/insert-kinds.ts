import { linearScale } from '../../units/number-scale'
import {
  BEATS,
  choice,
  inGroup,
  number,
  slow,
  toggle,
  type Choice,
  type InsertKind,
  type InsertParameter,
} from './insert-types'

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
    about: 'Gain, polarity, channel swap, DC removal.',
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
    about: 'Raises and lowers bands of frequencies, independent of level.',
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
    takesKey: true,
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
    takesKey: true,
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
    about: 'Adds harmonics, more when loud.',
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
    about: 'Stereo width.',
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
