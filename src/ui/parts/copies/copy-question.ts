import type { MissingSound } from '../../../engine/import'
import type { CopyAnswer, UnusedSounds } from '../../../store/actions/copy-actions'
import { observable } from '../../../store/observable'

/** What a person is asked about a copy; one question at a time. */
export type CopyQuestion =
  | { kind: 'clash'; title: string; answer(answer: CopyAnswer): void }
  | { kind: 'missing'; file: string; missing: readonly MissingSound[]; answer(open: boolean): void }
  | {
      kind: 'notes'
      title: string
      unused: UnusedSounds | null
      versions: number
      answer(choice: SavedAs | null): void
    }

/** Where a copy goes, and whether with sounds that no region uses. */
export interface SavedAs {
  target: FileSystemFileHandle | 'download'
  withUnused: boolean
}

/** The question about a copy that is shown; null for none. */
export const copyQuestion = observable<CopyQuestion | null>(null)
