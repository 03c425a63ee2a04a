import type { InsertKindName } from '../../model/inserts/insert-kinds'
import { deEsserKind, fourBandsKind } from './bands'
import { ceilingKind } from './ceiling'
import { compressorKind } from './compressor'
import { delayKind } from './delay'
import { equaliserKind } from './equaliser'
import { gainKind } from './gain'
import { gateKind } from './gate'
import { roomKind } from './room/room'
import { saturatorKind } from './saturator'
import { transientsKind } from './transients'
import { widthKind } from './width'
import type { ProcessorKind } from './processor'

export { ParameterReader } from './parameter-reader'
export { DelayLine, OVER_FRAMES } from './delay-line'
export { resetState, restoreState, saveState, scalarsOf, type Stateful } from './stateful'
export * from './curves'
export * from './level-curves'
export * from './processor'

const KINDS: Readonly<Record<InsertKindName, ProcessorKind>> = {
  gain: gainKind,
  equaliser: equaliserKind,
  compressor: compressorKind,
  gate: gateKind,
  'de-esser': deEsserKind,
  'four-bands': fourBandsKind,
  saturator: saturatorKind,
  delay: delayKind,
  room: roomKind,
  width: widthKind,
  transients: transientsKind,
  ceiling: ceilingKind,
}

/** The processor of a kind of insert. */
export const processorKind = (kind: InsertKindName): ProcessorKind => KINDS[kind]
