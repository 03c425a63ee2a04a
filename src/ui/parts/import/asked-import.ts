import type { FileFacts } from '../../../engine/import'
import { observable } from '../../../store/observable'
import type { Placement } from '../../../store/opening/new-session'

/** Where files may go: into a new session, or into the open one. */
export type ImportContext =
  | { kind: 'new' }
  | {
      kind: 'open'
      sampleRate: number
      /** In frames. */
      playhead: number
      /** Where they were dropped; null when they were chosen. */
      dropped: { at: number; onTrackId: string | undefined } | null
      empty: boolean
    }

/** What was chosen; `title` and `sampleRate` are those of a new session. */
export interface ImportChoice {
  placement: Placement
  title: string
  sampleRate: number
}

/** Files whose place is asked for. */
export interface AskedImport {
  files: readonly FileFacts[]
  context: ImportContext
  answer(choice: ImportChoice | null): void
}

/** The files that are asked about now; null for none. */
export const askedImport = observable<AskedImport | null>(null)
