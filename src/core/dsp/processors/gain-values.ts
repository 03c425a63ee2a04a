import { dbToGain } from '../../units/decibel'
import type { ParameterReader } from './parameter-reader'

/** Writes the factors of a parameter in dB at the frames `from`, `from + 1`, … into `out[0…count-1]`. */
export function fillFactors(db: ParameterReader, from: number, count: number, out: Float64Array): void {
  const same = db.constant(from, count)
  if (same !== null) {
    out.fill(dbToGain(same), 0, count)
    return
  }
  db.fill(from, count, out)
  for (let i = 0; i < count; i++) out[i] = dbToGain(out[i]!)
}

/** Multiplies samples by a parameter in dB; `scratch` holds as many numbers. 0 dB changes no bit. */
export function scaleByDb(
  samples: Float64Array,
  db: ParameterReader,
  from: number,
  count: number,
  scratch: Float64Array,
): void {
  if (db.constant(from, count) === 0) return
  fillFactors(db, from, count, scratch)
  for (let i = 0; i < count; i++) samples[i] = samples[i]! * scratch[i]!
}
