import { toggle, type InsertKind, type InsertParameter } from './insert-types'
import * as gain from './kinds/gain'
import * as equaliser from './kinds/equaliser'
import * as compressor from './kinds/compressor'
import * as gate from './kinds/gate'
import * as deEsser from './kinds/de-esser'
import * as fourBands from './kinds/four-bands'
import * as saturator from './kinds/saturator'
import * as delay from './kinds/delay'
import * as room from './kinds/room'
import * as width from './kinds/width'
import * as transients from './kinds/transients'
import * as ceiling from './kinds/ceiling'

/** Whether an insert is left out. As a lane it has holds between 0 and 1. */
export const BYPASSED = toggle('bypassed', 'Bypassed')

/** All kinds, in the order in which they are offered. What a kind is stands in its file in `kinds/`. */
export const INSERT_KINDS = [
  gain.kind,
  equaliser.kind,
  compressor.kind,
  gate.kind,
  deEsser.kind,
  fourBands.kind,
  saturator.kind,
  delay.kind,
  room.kind,
  width.kind,
  transients.kind,
  ceiling.kind,
] as const

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
