import type { Session } from '../core/model/session'
import type { ExportOptions, ExportResult, ExportWorker } from './export.worker'
import type { OnProgress } from './progress'
import { keepExport } from './spool'
import { inWorker } from './worker-job'

export type { ExportOptions, ExportResult }

/** Renders the mix into a WAV file in a worker of its own. Rejects with `Cancelled` when the signal stops it. */
export function exportMix(
  session: Session,
  options: Omit<ExportOptions, 'spoolName'>,
  onProgress: OnProgress,
  signal: AbortSignal,
): Promise<ExportResult> {
  const spoolName = crypto.randomUUID()
  keepExport(spoolName)
  return inWorker<ExportWorker, ExportResult>(
    () => new Worker(new URL('./export.worker.ts', import.meta.url), { type: 'module' }),
    (worker, report) => worker.mix(session, { ...options, spoolName }, report),
    onProgress,
    signal,
  )
}
