import { clamp } from './clamp'
import { dbToHeight, heightToDb, UNITY_HEIGHT } from './taper'
import { parseLevel, parsePan, showDb, showPan, type Typed } from './typed'

/**
 * What the values of a thread mean. A thread is drawn and interpolated straight on its scale: heights for gains, places
 * between left and right for pans. Changes are counted in the scale's unit: dB, or hundredths of the way to a side.
 */
export interface Scale {
  /** Values can be copied between threads whose scales have the same name. */
  readonly name: string
  readonly min: number
  readonly max: number
  /** The value that changes nothing: 0 dB, or the centre. */
  readonly defaultValue: number
  /** Whether greater values are drawn higher. Pan has left at the top. */
  readonly upwards: boolean
  /** Units of one step of an arrow key, and of a fine one in a field. */
  readonly step: number
  readonly fineStep: number
  /** Units for every pixel that a live value is dragged, and along which axis. */
  readonly dragged: { readonly unitsPerPixel: number; readonly axis: 'x' | 'y' }
  /** Units of a plateau for every pixel that the pointer goes down; null where the plateau follows the pointer. */
  readonly plateauPerPixel: number | null
  /** Whether what is swept near the default value catches on it. */
  readonly catchesPlain: boolean
  /** The unit of thinning. */
  readonly thinningUnit: string
  /** How the field of its value is called, with "of the knot" after it. */
  readonly label: string
  /** Values to be marked on an axis, with their texts, from the top. */
  readonly marks: readonly (readonly [value: number, text: string])[]

  /** The value so many units away, within the range. Silence stays silence. */
  shift(value: number, byUnits: number): number
  /** By how many units a value lies above another, with silence taken as the lowest level; for comparing slopes. */
  above(value: number, base: number): number
  /** By how many units a value has changed; 0 where either is silence. */
  change(value: number, before: number): number
  /** The value `factor` times as far from `defaultValue`: 0.5 halves its dB, 0 makes it that. */
  scaled(value: number, factor: number): number
  /** How far a drawn value lies from a thread's, in the unit of thinning. */
  deviation(drawn: number, thread: number): number

  /** The value in its unit as a number, for readers of the screen, and its range. */
  units(value: number): number
  readonly unitRange: { readonly min: number; readonly max: number }
  /** The value in its unit, not rounded, and back. */
  exact(value: number): number
  fromUnits(units: number): number

  /** A value as shown, to a tenth of its unit, or to so many decimals. */
  show(value: number, decimals?: 1 | 2): string
  /** A typed value. */
  parse(text: string): Typed<number>
  /** A change as shown while a plateau is swept: "−3.0 dB", "L 20". */
  showChange(byUnits: number): string
  /** How far something is from what it was, in words; null where that is too little to be said. */
  changeWords(byUnits: number): string | null
  /** A typed change in units, with an example of one. */
  parseChange(text: string): Typed<number>
  readonly changeExample: string
  /** What fields that change several values at once are called. */
  readonly changeVerb: string
  readonly scaleLabel: string

  /**
   * Where the places of a thread are not the values in the file: the place of a value, and the value of a place. Without
   * them both are the same.
   */
  toPlace?(value: number): number
  toValue?(place: number): number
}

/** Lowest level that a shift in dB leads to; below, a thread is silent. */
export const FLOOR_DB = -90

/** Below this level a deviation counts in height, above it in dB. */
const DB_ABOVE = -40
const DB_HEIGHT = dbToHeight(DB_ABOVE)
/** Height per dB at that level, so that both measures meet there: h·ln 10/60. */
const HEIGHT_PER_DB = (DB_HEIGHT * Math.LN10) / 60

const rounded = (x: number, decimals: number) => Math.round(x * 10 ** decimals) / 10 ** decimals

/** The height so many dB above (or below) another one, within 0…1; silence stays silence. */
export function shiftedHeight(height: number, byDb: number): number {
  if (height <= 0 || byDb === 0) return height
  const db = heightToDb(height) + byDb
  return db < FLOOR_DB ? 0 : dbToHeight(db)
}

/**
 * How far a drawn gain (a height) lies from a thread's height, in dB: real dB above -40 dB, height scaled to
 * meet it below.
 */
export function gainDeviation(drawn: number, thread: number): number {
  if (drawn === thread) return 0
  return drawn > DB_HEIGHT
    ? Math.abs(heightToDb(drawn) - heightToDb(thread))
    : Math.abs(drawn - thread) / HEIGHT_PER_DB
}

/** How far a drawn pan lies from a thread's pan, in hundredths. */
export const panDeviation = (drawn: number, thread: number): number => Math.abs(drawn - thread) * 100

/** The typed value by another function; what is wrong with the text stays the same. */
const typedAs = <A, B>(typed: Typed<A>, change: (value: A) => B): Typed<B> =>
  typed.ok ? { ...typed, value: change(typed.value) } : typed

const levelOrFloor = (height: number) => (height > 0 ? heightToDb(height) : FLOOR_DB)

/** Heights 0…1 of the taper: silence to +12 dB. */
export const gainScale: Scale = {
  name: 'gain',
  min: 0,
  max: 1,
  defaultValue: UNITY_HEIGHT,
  upwards: true,
  step: 1,
  fineStep: 0.1,
  dragged: { unitsPerPixel: -0.1, axis: 'y' },
  plateauPerPixel: -0.2,
  catchesPlain: true,
  thinningUnit: 'dB',
  label: 'Level',
  marks: [
    ...[12, 6, 0, -6, -12, -24, -48].map(
      (db) => [dbToHeight(db), db > 0 ? `+${db}` : db === 0 ? '0 dB' : `−${-db}`] as const,
    ),
    [0, '−∞'],
  ],
  shift: shiftedHeight,
  above: (value, base) => levelOrFloor(value) - levelOrFloor(base),
  change: (value, before) => (value > 0 && before > 0 ? heightToDb(value) - heightToDb(before) : 0),
  scaled(value, factor) {
    if (value <= 0) return factor === 0 ? UNITY_HEIGHT : 0
    return shiftedHeight(UNITY_HEIGHT, heightToDb(value) * factor)
  },
  deviation: gainDeviation,
  units: (value) => Math.max(FLOOR_DB, rounded(heightToDb(value), 1)),
  unitRange: { min: FLOOR_DB, max: 12 },
  exact: levelOrFloor,
  fromUnits: (db) => (db < FLOOR_DB ? 0 : Math.min(1, dbToHeight(db))),
  show: (value, decimals = 1) => showDb(value === 0 ? null : rounded(heightToDb(value), decimals)),
  parse: (text) =>
    typedAs(parseLevel(text, { min: FLOOR_DB, max: 12, silence: true }), (db) =>
      db === null ? 0 : dbToHeight(db),
    ),
  showChange: (byDb) => showDb(rounded(byDb, 1)),
  changeWords: (byDb) => (rounded(byDb, 1) === 0 ? null : `${showDb(rounded(byDb, 1))} against what it was`),
  parseChange: (text) => typedAs(parseLevel(text, { min: -60, max: 60 }), (db) => db ?? 0),
  changeExample: '+1.5 dB',
  changeVerb: 'Shift',
  scaleLabel: 'Scale about 0 dB',
}

/** Places -1 (left) … 1 (right). */
export const panScale: Scale = {
  name: 'pan',
  min: -1,
  max: 1,
  defaultValue: 0,
  upwards: false,
  step: 5,
  fineStep: 1,
  dragged: { unitsPerPixel: 1, axis: 'x' },
  plateauPerPixel: null,
  catchesPlain: false,
  thinningUnit: '%',
  label: 'Pan',
  marks: [
    [-1, 'L100'],
    [-0.5, 'L50'],
    [0, 'C'],
    [0.5, 'R50'],
    [1, 'R100'],
  ],
  shift: (value, byUnits) => clamp(value + byUnits / 100, -1, 1),
  above: (value, base) => (value - base) * 100,
  change: (value, before) => (value - before) * 100,
  scaled: (value, factor) => clamp(value * factor, -1, 1),
  deviation: panDeviation,
  units: (value) => Math.round(value * 100),
  unitRange: { min: -100, max: 100 },
  exact: (value) => value * 100,
  fromUnits: (units) => clamp(units / 100, -1, 1),
  show: showPan,
  parse: parsePan,
  showChange: (byUnits) => `${byUnits < 0 ? 'L' : 'R'} ${Math.abs(Math.round(byUnits))}`,
  changeWords: (byUnits) =>
    Math.round(byUnits) === 0
      ? null
      : `${Math.abs(Math.round(byUnits))} to the ${byUnits < 0 ? 'left' : 'right'} of what it was`,
  parseChange: (text) => typedAs(parsePan(text), (pan) => pan * 100),
  changeExample: 'R10',
  changeVerb: 'Move',
  scaleLabel: 'Scale the width',
}
