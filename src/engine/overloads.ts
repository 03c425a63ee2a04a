import { wrap } from 'comlink'
import type { Session } from '../core/model/session'
import type { OverloadWorker } from './overload.worker'

export type { Overload } from './overload.worker'

/** Finds the overloads of a session in a worker of its own, which the signal ends at once. */
export async function findOverloads(session: Session, signal: AbortSignal): Promise<import('./overload.worker').Overload[]> {
  const worker = new Worker(new URL('./overload.worker.ts', import.meta.url), { type: 'module' })
  const stopped = new Promise<never>((_, reject) => signal.addEventListener('abort', () => reject(new Error('stopped'))))
  try {
    return await Promise.race([wrap<OverloadWorker>(worker).find(session), stopped])
  } finally {
    worker.terminate()
  }
}
