import { proxy, wrap } from 'comlink'
import type { Session } from '../core/model/session'
import type { ExportOptions, ExportResult, ExportWorker } from './export.worker'
import { Cancelled, type OnProgress } from './jobs'
import { keepExport } from './spool'

export type { ExportOptions, ExportResult }

/** Renders the mix into a WAV file in a worker of its own. Rejects with `Cancelled` when the signal stops it. */
export async function exportMix(
  session: Session,
  options: Omit<ExportOptions, 'spoolName'>,
  onProgress: OnProgress,
  signal: AbortSignal,
): Promise<ExportResult> {
  const worker = new Worker(new URL('./export.worker.ts', import.meta.url), { type: 'module' })
  const remote = wrap<ExportWorker>(worker)
  const spoolName = crypto.randomUUID()
  keepExport(spoolName)
  const stopped = new Promise<never>((_, reject) =>
    signal.addEventListener('abort', () => reject(new Cancelled())),
  )
  try {
    return await Promise.race([remote.mix(session, { ...options, spoolName }, proxy(onProgress)), stopped])
  } finally {
    worker.terminate()
  }
}
