import { parseNumber, showNumber } from '../../units/number-scale'
import { BYPASSED, insertKindOf } from './insert-kinds'
import type { InsertParameter } from './insert-types'
import { insertValue, settableValue } from './insert-values'
import type { Parameter, StageWords, StaticValue } from '../parameter-types'
import type { Insert, Mix, Track } from '../session'
import { insertsOf, type Strip } from '../strips'

/** The key of the lane of an insert's parameter. */
export const insertLaneKey = (insertId: string, key: string) => `insert:${insertId}:${key}`

/** The insert and the key of its parameter that a lane is of; null for another lane. */
export function insertOfLane(strip: Strip, lane: string): { insert: Insert; key: string } | null {
  if (!lane.startsWith('insert:')) return null
  const end = lane.indexOf(':', 7)
  if (end < 0) return null
  const id = lane.slice(7, end)
  const insert = insertsOf(strip).find((i) => i.id === id)
  return insert ? { insert, key: lane.slice(end + 1) } : null
}

const ofInserts = new Map<string, Parameter>()

/** A parameter of an insert as one of its strip. */
export function parameterOfInsert({ id, kind }: Insert, parameter: InsertParameter): Parameter {
  const made = `${kind} ${id} ${parameter.key}`
  const known = ofInserts.get(made)
  if (known) return known
  const { range, scale, label, key } = parameter
  const kindName = insertKindOf(kind).name
  const lane = insertLaneKey(id, key)
  const isSwitch = parameter.type === 'switch'
  const insertIn = (strip: Strip) => insertsOf(strip).find((i) => i.id === id)
  const staticOf = (strip: Strip) => {
    const insert = insertIn(strip)
    if (!insert) return range.defaultValue
    return key === BYPASSED.key ? Number(insert.bypassed) : insertValue(insert, key)
  }
  const toPlace = (value: number) => scale.toPlace?.(value) ?? value
  const show = (value: number | null) => (isSwitch ? scale.show(value ?? 0) : showNumber(value ?? 0, range))
  const words: StageWords = {
    name: `${kindName}: ${label}`,
    place: 'of the insert',
    about: insertKindOf(kind).about,
  }
  const value: StaticValue = {
    min: range.min,
    max: range.max,
    allowsSilence: false,
    defaultValue: range.defaultValue,
    defaultShort: show(range.defaultValue),
    defaultWords: show(range.defaultValue),
    step: isSwitch
      ? 1
      : range.unit === '%'
        ? 0.05
        : range.unit.startsWith('dB')
          ? 1
          : (range.max - range.min) / 100,
    fineStep: isSwitch
      ? 1
      : range.unit === '%'
        ? 0.01
        : range.unit.startsWith('dB')
          ? 0.1
          : (range.max - range.min) / 1000,
    read: staticOf,
    written: (strip, to) => withInsertValue(strip, id, parameter, to ?? range.defaultValue),
    show,
    parse: (text) => (isSwitch ? scale.parse(text) : parseNumber(text, range)),
    toLane: (to) => toPlace(to ?? range.defaultValue),
    fromLane: (place) => Math.round((scale.toValue?.(place) ?? place) * 1e6) / 1e6,
  }
  const parameterMade: Parameter = {
    key: lane,
    stage: 'insert',
    shownAt: lane,
    name: `${kindName} ${label.toLowerCase()}`,
    words: `${kindName.toLowerCase()} ${label.toLowerCase()}`,
    shortName: label,
    laneName: `${kindName}: ${label}`,
    scale,
    dye: 'heather',
    knotShape: isSwitch ? 'square' : 'round',
    actsOn: (strip) => insertIn(strip) !== undefined,
    laneDefault: (strip) => toPlace(staticOf(strip)),
    value,
    fieldLabel: { track: words.name, mix: words.name },
    path: { track: () => words, mix: words },
  }
  ofInserts.set(made, parameterMade)
  return parameterMade
}

/** The fields of a strip with another value of an insert. What equals the default is not kept. */
function withInsertValue(
  strip: Strip,
  id: string,
  { key, type, range }: InsertParameter,
  to: number,
): Partial<Track & Mix> {
  const changed = (insert: Insert): Insert => {
    if (insert.id !== id) return insert
    if (key === BYPASSED.key) return { ...insert, bypassed: to >= 0.5 }
    const { [key]: _, ...others } = insert.values
    const set = settableValue(insert, key, to)
    return {
      ...insert,
      values:
        set === range.defaultValue && type !== 'beats'
          ? others
          : { ...others, [key]: type === 'switch' ? set >= 0.5 : set },
    }
  }
  return strip.inserts.some((i) => i.id === id)
    ? { inserts: strip.inserts.map(changed) }
    : { lastInserts: (strip as Mix).lastInserts?.map(changed) ?? [] }
}
