import Papa from 'papaparse'
import { LIMITS, stretchShapes, type Knot } from '../core/model/session'
import { shownText } from '../core/model/check/shown'
import type { Scale } from '../core/units/scale'
import { MOST_TABLE_BYTES } from '../core/model/check/bounds'
import { dbToHeight, heightToDb } from '../core/units/taper'

/*
 * Automation as a table (RFC 4180): time in seconds, value in the unit of its lane, shape of the stretch that begins there, its bend,
 * and where it is a piece of a longer one which. Tables of other programs need time and value alone.
 */

const MOST_ROWS = 200_000

/** The longest line that is taken, in characters. */
const MOST_CHARACTERS = 1000

/** A number to so many decimals, without zeros at its end. */
const rounded = (value: number, decimals: number) =>
  value === -Infinity ? '-inf' : String(Number(value.toFixed(decimals)))

/** Decimals of seconds, by which every frame of every rate is found again; of bends (0.1 %), and of pieces of a shape. */
const [TIME, BEND, PIECE] = [7, 3, 6]

/** A value as it is written: gains to 0.01 dB, pans to 0.1 %, others to six figures. */
const written = (scale: Scale, value: number) =>
  isGain(scale)
    ? rounded(unitsOf(scale, value), 2)
    : scale.name === 'pan'
      ? rounded(unitsOf(scale, value), 3)
      : String(Number(unitsOf(scale, value).toPrecision(6)))

/** Whether values are heights of gains, whose lowest is silence. */
const isGain = (scale: Scale) => scale.show(scale.min).includes('∞')

/** A value in the unit of its lane, not rounded, and back; null for one out of range. */
const unitsOf = (scale: Scale, value: number) => (isGain(scale) ? heightToDb(value) : scale.exact(value))
function fromUnits(scale: Scale, units: number): number | null {
  if (isGain(scale)) return units > TOP_DB + HAIR ? null : dbToHeight(units)
  const value = scale.fromUnits(units)
  // A scale keeps what is out of its range at its limits.
  return Math.abs(scale.exact(value) - units) <= HAIR * Math.max(1, Math.abs(units)) ? value : null
}

/** The highest gain, and what rounding may put beside a limit. */
const TOP_DB = 12
const HAIR = 1e-9

/** The knots of a lane as a table, rounded to what can be heard and typed. Frames and shapes are those of before when it is read. */
export function laneTable(knots: readonly Knot[], scale: Scale, sampleRate: number): string {
  const rows = knots.map(({ frame, value, shape, bend, part }) => [
    rounded(frame / sampleRate, TIME),
    written(scale, value),
    shape,
    rounded(bend, BEND) === '0' ? '' : rounded(bend, BEND),
    part ? rounded(part[0], PIECE) : '',
    part ? rounded(part[1], PIECE) : '',
  ])
  return (
    Papa.unparse([['time', 'value', 'shape', 'bend', 'from', 'to'], ...rows], { newline: '\r\n' }) + '\r\n'
  )
}

export type TableRead = { ok: true; knots: Knot[] } | { ok: false; message: string }

/** What is wrong with a table, in one sentence. */
class TableError extends Error {}

/**
 * The knots that a table stands for: seconds or minutes and seconds, values as numbers in the unit of the lane or as they are typed in
 * its fields. Separated by commas, semicolons or tabs, with or without a line of names, with decimal commas where they separate
 * nothing. All of it is taken, or nothing.
 */
export function readLaneTable(text: string, scale: Scale, sampleRate: number): TableRead {
  try {
    return { ok: true, knots: knotsOf(text, scale, sampleRate) }
  } catch (error) {
    if (error instanceof TableError) return { ok: false, message: error.message }
    throw error
  }
}

function knotsOf(text: string, scale: Scale, sampleRate: number): Knot[] {
  if (text.length > MOST_TABLE_BYTES)
    throw new TableError('This is larger than a table of automation can be.')
  if (text.includes('\0')) throw new TableError('This is no table: it is no text.')
  expectSize(text)
  const { data, meta, errors } = Papa.parse<string[]>(text.replace(/^\uFEFF/, ''), {
    skipEmptyLines: 'greedy',
    delimitersToGuess: [';', '\t', ','],
  })
  const bad = errors.find(({ type }) => type === 'Quotes')
  if (bad) throw new TableError(`Row ${(bad.row ?? 0) + 1} has a quotation mark that does not end.`)
  const first = data[0]
  if (!first) throw new TableError('The table is empty.')
  if (data.length > MOST_ROWS + 1) throw new TableError(`The table has more than ${MOST_ROWS} rows.`)
  const named =
    Number.isNaN(numberOf(first[0] ?? '', meta.delimiter)) && timeOf(first[0] ?? '', meta.delimiter) === null
  const columns = named ? columnsOf(first) : PLAIN_COLUMNS
  const rows = data.slice(named ? 1 : 0)
  if (rows.length === 0) throw new TableError('The table has a line of names, and no rows.')
  const knots = rows.map((row, n) =>
    knotOf(row, n + (named ? 2 : 1), columns, meta.delimiter, scale, sampleRate),
  )
  const inOrder = knots.every((knot, i) => i === 0 || knot.frame >= knots[i - 1]!.frame)
  if (!inOrder) knots.sort((a, b) => a.frame - b.frame)
  const third = knots.findIndex((knot, i) => i > 1 && knot.frame === knots[i - 2]!.frame)
  if (third >= 0)
    throw new TableError(
      `Three rows are at ${(knots[third]!.frame / sampleRate).toFixed(3)} s; two make a step, more have no meaning.`,
    )
  return knots
}

/** Refuses what has more lines, or longer ones, than a table of automation, before anything is made of it. */
function expectSize(text: string): void {
  let rows = 0
  for (let from = 0; from < text.length; rows++) {
    const end = /[\r\n]/g
    end.lastIndex = from
    const at = end.exec(text)?.index ?? text.length
    if (at - from > MOST_CHARACTERS)
      throw new TableError(`Row ${rows + 1} has more than ${MOST_CHARACTERS} characters.`)
    from = at + (text.startsWith('\r\n', at) ? 2 : 1)
  }
  if (rows > MOST_ROWS + 1) throw new TableError(`The table has more than ${MOST_ROWS} rows.`)
}

type Column = 'time' | 'value' | 'shape' | 'bend' | 'from' | 'to'
type Columns = Partial<Record<Column, number>>
const PLAIN_COLUMNS: Columns = { time: 0, value: 1, shape: 2, bend: 3, from: 4, to: 5 }

/** Which column is which, by the line of names; units in brackets do not matter. */
function columnsOf(names: readonly string[]): Columns {
  const columns: Columns = {}
  names.forEach((name, n) => {
    const word = name
      .replace(/[([].*$/, '')
      .trim()
      .toLowerCase()
    if (Object.hasOwn(PLAIN_COLUMNS, word) && columns[word as Column] === undefined)
      columns[word as Column] = n
  })
  if (columns.time === undefined || columns.value === undefined)
    throw new TableError('The first line names no columns “time” and “value”.')
  return columns
}

/** A number with a point, or with a comma where commas separate nothing; NaN for anything else. */
function numberOf(text: string, delimiter: string): number {
  const plain = text.trim().replace('−', '-')
  const pointed = delimiter === ',' ? plain : plain.replace(',', '.')
  return /^[+-]?(\d+(?:\.\d*)?|\.\d+)(e[+-]?\d+)?$/i.test(pointed) ? Number(pointed) : NaN
}

/** A time in seconds: "12.5", "1:02.5", "1:00:02"; null for anything else. */
function timeOf(text: string, delimiter: string): number | null {
  const parts = text.trim().split(':')
  if (parts.length > 3) return null
  const numbers = parts.map((part) => numberOf(part, delimiter))
  if (numbers.some((n) => Number.isNaN(n) || (parts.length > 1 && n < 0))) return null
  if (numbers.slice(0, -1).some((n) => !Number.isInteger(n))) return null
  return numbers.reduce((sum, n) => sum * 60 + n, 0)
}

function valueOf(text: string, delimiter: string, scale: Scale): number | null {
  const number = numberOf(text, delimiter)
  if (/^[-−]inf(inity)?$/i.test(text.trim())) return isGain(scale) ? scale.min : null
  if (!Number.isNaN(number)) return fromUnits(scale, number)
  const typed = scale.parse(text)
  return typed.ok ? typed.value : null
}

function knotOf(
  row: readonly string[],
  line: number,
  columns: Columns,
  delimiter: string,
  scale: Scale,
  sampleRate: number,
): Knot {
  const field = (column: Column) => (columns[column] === undefined ? '' : (row[columns[column]] ?? '').trim())
  const quoted = (text: string) => `“${shownText(text, 40)}”`
  const time = timeOf(field('time'), delimiter)
  if (time === null) throw new TableError(`Row ${line}: ${quoted(field('time'))} is no time in seconds.`)
  const frame = Math.round(time * sampleRate)
  if (!(frame >= 0 && frame <= LIMITS.frames))
    throw new TableError(`Row ${line}: ${quoted(field('time'))} is no time of a session.`)
  const value = valueOf(field('value'), delimiter, scale)
  if (value === null)
    throw new TableError(
      `Row ${line}: ${quoted(field('value'))} is no value from ${scale.show(scale.min)} to ${scale.show(scale.max)}.`,
    )
  const shape = field('shape').toLowerCase() || 'line'
  if (!stretchShapes.some((known) => known === shape))
    throw new TableError(
      `Row ${line}: ${quoted(field('shape'))} is no shape; there are ${stretchShapes.join(', ')}.`,
    )
  const number = (column: Column, min: number, plain: number) => {
    if (field(column) === '') return plain
    const n = numberOf(field(column), delimiter)
    if (!(n >= min && n <= 1))
      throw new TableError(`Row ${line}: a ${column} of ${quoted(field(column))} is not from ${min} to 1.`)
    return n
  }
  const knot = { frame, value, shape: shape as Knot['shape'], bend: number('bend', -1, 0) }
  if (field('from') === '' && field('to') === '') return knot
  const part: [number, number] = [number('from', 0, 0), number('to', 0, 1)]
  if (part[0] >= part[1]) throw new TableError(`Row ${line}: a piece of a shape begins before it ends.`)
  return { ...knot, part }
}
