import { ThreadReader } from '../curve/thread'
import type { Knot } from '../model/session'

const readers = new WeakMap<readonly unknown[], Map<number, ThreadReader>>()

/** A reader of knots, kept as long as the knots themselves, since plans are made anew after every edit. */
export function readerOf(knots: readonly Knot[] | undefined, sampleRate: number): ThreadReader | null {
  if (!knots || knots.length === 0) return null
  const known = readers.get(knots) ?? new Map<number, ThreadReader>()
  readers.set(knots, known)
  const reader = known.get(sampleRate) ?? new ThreadReader(knots, sampleRate)
  known.set(sampleRate, reader)
  return reader
}
