import type { Session } from '../../core/model/session'
import type { ExportWorker } from './export.worker'
import { inWorker } from '../worker'

/**
 * Renders a session into nothing and tells how long that took from the first block on, for benchmarks: the frames and the
 * milliseconds. `threads` is how many threads share it besides the one that adds; 0 renders on that one alone.
 */
export const renderTime = (session: Session, threads: number): Promise<{ frames: number; ms: number }> =>
  inWorker<ExportWorker, { frames: number; ms: number }>(
    () => new Worker(new URL('./export.worker.ts', import.meta.url), { type: 'module' }),
    (worker) => worker.time(session, threads),
    () => undefined,
    new AbortController().signal,
  )
