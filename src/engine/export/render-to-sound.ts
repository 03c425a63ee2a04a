import type { Session } from '../../core/model/session'
import type { OnProgress } from '../worker'
import type { RenderedPart, RenderToSoundWorker } from './render-to-sound.worker'
import { withSharedLock, type AudioRecord } from '../storage'
import { inWorker } from '../worker'

/** Renders a part of a track into the store of sound. Rejects with `Cancelled` when the signal stops it. */
export const renderToSound = (
  session: Session,
  part: RenderedPart,
  onProgress: OnProgress,
  signal: AbortSignal,
): Promise<AudioRecord> =>
  withSharedLock(() =>
    inWorker<RenderToSoundWorker, AudioRecord>(
      () => new Worker(new URL('./render-to-sound.worker.ts', import.meta.url), { type: 'module' }),
      (worker, report) => worker.render(session, part, report),
      onProgress,
      signal,
    ),
  )
