import { expose, proxy, wrap, type Remote } from 'comlink'
import { Cancelled, type OnProgress } from './progress'

/** What every worker of jobs has besides its jobs. */
interface Stoppable {
  /** Ends the job that is going on; it cleans up and rejects. */
  stop(): void
}

/** What a job in a worker asks between two pieces of work. */
export interface JobControl {
  /** Whether it is to end. */
  stopped(): boolean
  /** Lets messages in when the last time was long ago, and throws `Cancelled` when the job is to end. */
  breathe(): Promise<void>
}

/** Milliseconds between two times that messages are let in. */
const BREATH_MS = 50

/**
 * Makes functions of a worker callable from the page, one job at a time. `make` gets what they ask to know
 * whether they are to end. Returns what the page may call, for its type.
 */
export function exposeJobs<T extends object>(make: (control: JobControl) => T): T & Stoppable {
  let stop = false
  let breathed = 0
  const jobs = make({
    stopped: () => stop,
    async breathe() {
      if (performance.now() - breathed > BREATH_MS) {
        await new Promise((resolve) => setTimeout(resolve))
        breathed = performance.now()
      }
      if (stop) throw new Cancelled()
    },
  })
  const all = { ...jobs, stop: () => void (stop = true) }
  expose(all)
  return all
}

/** Milliseconds that a stopped job has to clean up before its worker is ended. */
const GRACE_MS = 2000

/**
 * Does a job in a worker of its own and ends that. `call` gets the worker and the function that hears of
 * progress. Rejects with `Cancelled` once `signal` stops it, when the job has cleaned up or has not answered
 * for two seconds.
 */
export async function inWorker<T extends object, R>(
  start: () => Worker,
  call: (worker: Remote<T>, onProgress: OnProgress) => Promise<R>,
  onProgress: OnProgress,
  signal: AbortSignal,
): Promise<R> {
  if (signal.aborted) throw new Cancelled()
  const worker = start()
  const remote = wrap<Stoppable>(worker)
  const late = new Promise<never>((_, reject) =>
    signal.addEventListener('abort', () => {
      void remote.stop()
      setTimeout(() => reject(new Cancelled()), GRACE_MS)
    }),
  )
  try {
    const report = proxy<OnProgress>((progress) => !signal.aborted && onProgress(progress))
    return await Promise.race([call(remote as unknown as Remote<T>, report), late])
  } catch (error) {
    // What a worker throws arrives without its class.
    throw signal.aborted ? new Cancelled() : error
  } finally {
    worker.terminate()
  }
}
