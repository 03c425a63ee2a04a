import { wrap, type Remote } from 'comlink'

/** Said where a worker could not be loaded, or came apart: what was asked of it gets no answer. */
export class WorkerLost extends Error {
  constructor(why: string) {
    super(
      why === ''
        ? 'A part of the program could not be loaded. Are you offline, or is the server gone? Try again when it can be reached.'
        : `A part of the program has failed (${why}). Try again; if it fails again, reload the page.`,
    )
    this.name = 'WorkerLost'
  }
}

/**
 * Resolves with why a worker is no more: it could not be loaded (then the browser tells nothing about it), or something failed in
 * it that it did not expect.
 */
const lost = (worker: Worker): Promise<WorkerLost> =>
  new Promise((resolve) => {
    worker.addEventListener('error', (event) => resolve(new WorkerLost(event.message ?? '')))
    worker.addEventListener('messageerror', () => resolve(new WorkerLost('a message could not be read')))
  })

/**
 * The functions of a worker. Where the worker could not be loaded or is lost, calls reject with `WorkerLost` instead of waiting
 * for ever, those that are running, too; `onLost` hears of it once.
 */
export function callable<T>(
  worker: Worker,
  onLost: (error: WorkerLost) => void = () => undefined,
): Remote<T> {
  const remote = wrap<T>(worker)
  const gone = lost(worker)
  void gone.then(onLost)
  const failed = gone.then((error): never => {
    throw error
  })
  // Nobody may be waiting.
  failed.catch(() => undefined)
  return new Proxy(remote as object, {
    get: (_target, key) => {
      // Awaited by itself it is no promise.
      if (key === 'then') return undefined
      const call = (remote as unknown as Record<PropertyKey, (...args: unknown[]) => Promise<unknown>>)[key]!
      return (...args: unknown[]) => Promise.race([call(...args), failed])
    },
  }) as Remote<T>
}
