import type { Session } from '../../core/model/session'
import type { MeasuredSeam } from '../../core/suggest/seams'
import type { MeasuredMix } from '../../core/suggest/report'
import type { ExportOptions, ExportResult, ExportWorker, MeasuredPart } from './export.worker'
import type { OnProgress } from '../worker'
import { keepExport } from './spool'
import { inWorker } from '../worker'

export type { ExportPart } from '../../core/render'
export type { ExportOptions, ExportResult, MeasuredPart }

const start = () => new Worker(new URL('./export.worker.ts', import.meta.url), { type: 'module' })

/** A name for a file while it is written, which stays as long as this page is open. */
function spoolName(): string {
  const name = crypto.randomUUID()
  keepExport(name)
  return name
}

/**
 * Renders a part of a session into a file in a worker of its own, and reads that again. Rejects with `Cancelled` when the signal
 * stops it; nothing is left then.
 */
export const exportSound = (
  session: Session,
  options: Omit<ExportOptions, 'spoolName'>,
  onProgress: OnProgress,
  signal: AbortSignal,
): Promise<ExportResult> =>
  inWorker<ExportWorker, ExportResult>(
    start,
    (worker, report) => worker.export(session, { ...options, spoolName: spoolName() }, report),
    onProgress,
    signal,
  )

/** Measures a part of a session without writing it. */
export const measurePart = (
  session: Session,
  part: MeasuredPart,
  onProgress: OnProgress,
  signal: AbortSignal,
): Promise<MeasuredMix> =>
  inWorker<ExportWorker, MeasuredMix>(
    start,
    (worker, report) => worker.measure(session, part, report),
    onProgress,
    signal,
  )

/** Measures the seams of a session. */
export const measureSeams = (
  session: Session,
  onProgress: OnProgress,
  signal: AbortSignal,
): Promise<MeasuredSeam[]> =>
  inWorker<ExportWorker, MeasuredSeam[]>(
    start,
    (worker, report) => worker.seams(session, report),
    onProgress,
    signal,
  )

/** Puts files into one ZIP, as they are. */
export const zipFiles = (
  files: readonly { name: string; file: Blob }[],
  onProgress: OnProgress,
  signal: AbortSignal,
): Promise<Blob> =>
  inWorker<ExportWorker, Blob>(
    start,
    (worker, report) => worker.zip([...files], spoolName(), report),
    onProgress,
    signal,
  )
