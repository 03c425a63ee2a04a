import { clamp } from '../../core/units/clamp'
import type { SliceThread } from './shared-render'
import type { SliceReply } from './slice-render'

/** How many threads share a render besides the one that asks: as many as the machine has cores, at most eight. */
export const sliceThreads = (): number => clamp(navigator.hardwareConcurrency || 1, 1, 8)

/** Starts a worker of a shared render. It ends with the worker that started it. */
export function startSliceThread(): SliceThread {
  const worker = new Worker(new URL('./slice.worker.ts', import.meta.url), { type: 'module' })
  const thread: SliceThread = {
    tell: (message) => worker.postMessage(message),
    onReply: () => undefined,
    close: () => worker.terminate(),
  }
  worker.onmessage = ({ data }: MessageEvent<SliceReply>) => thread.onReply(data)
  worker.onerror = ({ message }) =>
    thread.onReply({ type: 'failed', message: message || 'a worker could not be started' })
  return thread
}
