import type { InsertKindName } from '../../model/insert-kinds'
import { ceilingKind } from './ceiling'
import { compressorKind } from './compressor'
import { delayKind } from './delay'
import { equaliserKind } from './equaliser'
import { gainKind } from './gain'
import type { ProcessorKind } from './processor'

export { ParameterReader } from './parameter-reader'
export { DelayLine, LINE_SCALARS, restoreLine, saveLine } from './delay-line'
export * from './processor'

const KINDS: Readonly<Record<InsertKindName, ProcessorKind>> = {
  gain: gainKind,
  equaliser: equaliserKind,
  compressor: compressorKind,
  delay: delayKind,
  ceiling: ceilingKind,
}

/** The processor of a kind of insert. */
export const processorKind = (kind: InsertKindName): ProcessorKind => KINDS[kind]
