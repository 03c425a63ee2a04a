import { expose, proxy, type Remote } from 'comlink'
import { jobBegins } from './background-pause'
import { Cancelled, type OnProgress } from './progress'
import { callable } from './worker-call'

/** What every job worker has besides its jobs. */
interface Stoppable {
  /** Stops the current job, which cleans up and rejects. */
  stop(): void
}

/** What a running job can ask between two pieces of work. */
export interface JobControl {
  /** Whether it is to end. */
  stopped(): boolean
  /** Yields to pending messages now and then, and throws `Cancelled` once the job is to stop. */
  breathe(): Promise<void>
}

/** Milliseconds between two yields. */
const BREATH_MS = 50

/** Least interval between two reports of progress, in milliseconds. */
const REPORT_MS = 50

/**
 * Passes reports of progress on at most so often, and the last one of each text. What a worker reports crosses
 * to the page as a message; many thousands of them take memory until the worker ends.
 */
export function seldomly(onProgress: OnProgress): OnProgress {
  let told = -Infinity
  let doing = ''
  return (progress) => {
    const now = performance.now()
    if (now - told < REPORT_MS && progress.doing === doing && progress.done < 1) return
    told = now
    doing = progress.doing
    onProgress(progress)
  }
}

/**
 * Exposes the functions of a worker to the page; one job runs at a time. `make` receives the controls that a
 * job polls. Returns the exposed functions, for their type.
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

/** Time that a stopped job has to clean up before its worker is terminated, in milliseconds. */
const GRACE_MS = 2000

/**
 * Runs a job in a worker of its own and terminates the worker. `call` receives the worker and a progress
 * callback. Rejects where the worker cannot be loaded, and with `Cancelled` after `signal` is aborted: when the job has cleaned up, or after two
 * seconds.
 */
export async function inWorker<T extends object, R>(
  start: () => Worker,
  call: (worker: Remote<T>, onProgress: OnProgress) => Promise<R>,
  onProgress: OnProgress,
  signal: AbortSignal,
): Promise<R> {
  if (signal.aborted) throw new Cancelled()
  const worker = start()
  const ended = jobBegins()
  const remote = callable<Stoppable>(worker)
  const late = new Promise<never>((_, reject) =>
    signal.addEventListener('abort', () => {
      void remote.stop().catch(() => undefined)
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
    ended()
  }
}
