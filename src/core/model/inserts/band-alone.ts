import { clamp } from '../../units/clamp'
import type { Insert } from '../session'
import { insertValue } from './insert-values'

/** Slope of the filters that leave one band, in dB an octave. */
const SLOPE = 24

const cut = (band: string, kind: 'low-cut' | 'high-cut', hz: number): Insert['values'] => ({
  [`${band}.on`]: true,
  [`${band}.kind`]: kind,
  [`${band}.frequencyHz`]: clamp(hz, 10, 20_000),
  [`${band}.slope`]: SLOPE,
})

/**
 * The values of an equaliser that leaves only what lies in one of its bands: within the bandwidth of a bell or a notch (between the
 * half-gain points, `2·asinh(1/(2Q))/ln 2` octaves, a third at least), on the raised or lowered side of a shelf, or what a cut takes away.
 */
export function bandAlone(insert: Insert, band: string): Insert['values'] {
  const kind = insert.values[`${band}.kind`] ?? 'bell'
  const hz = insertValue(insert, `${band}.frequencyHz`)
  if (kind === 'low-shelf' || kind === 'low-cut') return cut('b1', 'high-cut', hz)
  if (kind === 'high-shelf' || kind === 'high-cut') return cut('b1', 'low-cut', hz)
  const q = insertValue(insert, `${band}.q`)
  const half = Math.max(1 / 6, Math.asinh(1 / (2 * q)) / Math.LN2)
  return { ...cut('b1', 'low-cut', hz * 2 ** -half), ...cut('b2', 'high-cut', hz * 2 ** half) }
}
