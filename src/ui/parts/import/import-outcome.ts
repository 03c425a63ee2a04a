import type { ImportOutcome, Refused } from '../../../engine/import'
import type { JobOutcome } from '../../../store/jobs'
import { observable } from '../../../store/observable'
import { toast } from '../messages/toast'

/** What is said when nothing came with a drop. */
export const NOTHING_DROPPED =
  'Nothing was dropped that could be imported: the folder is empty. Drop audio files, or a folder that holds some.'

/** What can be done with those files that were imported. */
export interface Onward {
  label: string
  run(): void
}

/** The files that were refused last, how many were imported beside them, and what can be done with these. */
export interface RefusedFiles {
  refused: readonly Refused[]
  imported: number
  onward: Onward | null
  /** Takes files whose checksum is wrong all the same; null where that is not offered. */
  takeAnyway: ((files: readonly File[]) => void) | null
}

const NONE: RefusedFiles = { refused: [], imported: 0, onward: null, takeAnyway: null }

/** What the dialog about refused files shows, on whatever page. */
export const refusedFiles = observable<RefusedFiles>(NONE)

/** Closes that dialog. */
export const refusedSeen = () => refusedFiles.set(NONE)

/**
 * Says what became of an import: which files were refused, or why there was none. Returns what was imported,
 * null for nothing.
 */
export function sayOutcome<T extends ImportOutcome>(
  outcome: JobOutcome<T>,
  onward: (value: T) => Onward | null = () => null,
  takeAnyway: RefusedFiles['takeAnyway'] = null,
): T | null {
  if (!outcome.done) {
    toast({ text: outcome.message })
    return null
  }
  const { value } = outcome
  refusedFiles.set({
    refused: value.refused,
    imported: value.sounds.length,
    onward: onward(value),
    takeAnyway,
  })
  return value
}
