import type { TempoChange } from '../../units/tempo'
import { insertValue } from './insert-values'
import type { Insert } from '../session'

/** The longest time of a delay, in seconds. */
export const MOST_DELAY_SECONDS = 16

/** The longest time that the note value of a delay comes to at any tempo, in seconds; 0 for what has none. */
export function noteValueSeconds(
  insert: Pick<Insert, 'kind' | 'values'>,
  tempo: readonly Pick<TempoChange, 'bpm'>[],
): number {
  if (insert.kind !== 'delay') return 0
  const beats = insertValue(insert, 'noteValue')
  return beats > 0 ? (beats * 60) / Math.min(...tempo.map(({ bpm }) => bpm)) : 0
}

/** What is said of a note value that is too long at some tempo; null where it is not. */
export function tooLongWords(seconds: number): string | null {
  return seconds > MOST_DELAY_SECONDS + 1e-9
    ? `comes to ${seconds.toFixed(1)} s at the slowest tempo; a delay takes ${MOST_DELAY_SECONDS} s at most`
    : null
}
