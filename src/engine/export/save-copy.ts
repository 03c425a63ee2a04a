import type { Session } from '../../core/model/session'
import type { OnProgress } from '../worker'
import type { SaveCopyWorker } from './save-copy.worker'
import { keepExport } from './spool'
import { inWorker } from '../worker'

/**
 * Saves a session with all its sound as a package, in a worker: into the given file, or without one into a
 * file that resolves, for a download. Memory does not grow with the size. Rejects with `Cancelled` when the
 * signal stops it; a chosen file then is as it was before. The sound of the sources in `missing` is left out.
 */
export function saveCopy(
  session: Session,
  missing: readonly string[],
  handle: FileSystemFileHandle | null,
  onProgress: OnProgress,
  signal: AbortSignal,
): Promise<Blob | null> {
  const spoolName = crypto.randomUUID()
  if (!handle) keepExport(spoolName)
  return inWorker<SaveCopyWorker, Blob | null>(
    () => new Worker(new URL('./save-copy.worker.ts', import.meta.url), { type: 'module' }),
    (worker, report) => worker.save(session, missing, handle ? { handle } : { spoolName }, report),
    onProgress,
    signal,
  )
}
