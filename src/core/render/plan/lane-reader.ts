import { ThreadReader } from '../../curve/thread'
import type { Knot } from '../../model/session'

const readers = new WeakMap<readonly unknown[], Map<string, ThreadReader>>()

/** A reader of knots, kept as long as the knots themselves, since plans are made anew after every edit. */
export function readerOf(
  knots: readonly Knot[] | undefined,
  sampleRate: number,
  stepSeconds?: number,
): ThreadReader | null {
  if (!knots || knots.length === 0) return null
  const known = readers.get(knots) ?? new Map<string, ThreadReader>()
  readers.set(knots, known)
  const key = `${sampleRate} ${stepSeconds}`
  const reader = known.get(key) ?? new ThreadReader(knots, sampleRate, stepSeconds)
  known.set(key, reader)
  return reader
}
