import { proxy, wrap } from 'comlink'
import type { Session } from '../core/model/session'
import type { BounceWorker } from './bounce.worker'
import { Cancelled, type OnProgress } from './jobs'
import { together, type AudioRecord } from './storage'

/** Renders the regions of a session of one track into the store of sound, in a worker. Rejects with `Cancelled` when the signal stops it. */
export async function bounce(
  session: Session,
  from: number,
  to: number,
  onProgress: OnProgress,
  signal: AbortSignal,
): Promise<AudioRecord> {
  const worker = new Worker(new URL('./bounce.worker.ts', import.meta.url), { type: 'module' })
  const remote = wrap<BounceWorker>(worker)
  const stopped = new Promise<never>((_, reject) =>
    signal.addEventListener('abort', () => reject(new Cancelled())),
  )
  try {
    return await together(() => Promise.race([remote.bounce(session, from, to, proxy(onProgress)), stopped]))
  } finally {
    worker.terminate()
  }
}
