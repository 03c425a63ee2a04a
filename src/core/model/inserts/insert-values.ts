import { clamp } from '../../units/clamp'
import { insertParameter } from './insert-kinds'
import type { InsertParameter } from './insert-types'

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
  return parameter === undefined || parameter.type === 'beats' ? 0 : parameter.range.defaultValue
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
  return clamp(value, low, high)
}
