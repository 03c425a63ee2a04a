import type { Session } from '../core/model/session'
import type { OnProgress } from './progress'
import type { RenderToSoundWorker } from './render-to-sound.worker'
import { withSharedLock, type AudioRecord } from './storage'
import { inWorker } from './worker-job'

/**
 * Renders the regions of a session of one track, as they leave their gain stages, into the store of sound. Rejects with
 * `Cancelled` when the signal stops it.
 */
export const renderToSound = (
  session: Session,
  from: number,
  to: number,
  onProgress: OnProgress,
  signal: AbortSignal,
): Promise<AudioRecord> =>
  withSharedLock(() =>
    inWorker<RenderToSoundWorker, AudioRecord>(
      () => new Worker(new URL('./render-to-sound.worker.ts', import.meta.url), { type: 'module' }),
      (worker, report) => worker.render(session, from, to, report),
      onProgress,
      signal,
    ),
  )
