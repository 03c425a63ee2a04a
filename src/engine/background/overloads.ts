import { proxy, type Remote } from 'comlink'
import { diff } from '../../core/model/patch'
import type { Session } from '../../core/model/session'
import { jobsRun, onJobs, onRestReason } from '../worker'
import type { Overload } from './overload-search'
import type { KnownSession, OverloadWorker } from './overload.worker'
import type { FrameRange } from '../playback'
import { callable } from '../worker'

export type { Overload }

/**
 * Callbacks of a finder: the overloads known so far and how much of the session has been looked at, 0…1, on every change, and the
 * reason why no more can be found.
 */
export interface OverloadEvents {
  onFound(found: Overload[], looked: number): void
  /** The K-weighted power of the mix, step by step (see `LoudnessCourse`), as far as it is known. */
  onCourse(powers: Float32Array): void
  onFailed(message: string): void
}

/** Finds where a session passes full scale, in a worker that keeps up with its versions. */
export class OverloadFinder {
  private readonly worker = new Worker(new URL('./overload.worker.ts', import.meta.url), { type: 'module' })
  private readonly remote: Remote<OverloadWorker>
  private readonly unwatch = onRestReason((reason) => this.ask(() => this.remote.rest(reason)))
  private readonly unwatchJobs = onJobs(() => this.tellBeside())
  private playing = false
  private told: Session | null = null

  constructor(events: OverloadEvents) {
    this.remote = callable<OverloadWorker>(this.worker, ({ message }) => events.onFailed(message))
    this.ask(() =>
      this.remote.listen(
        proxy((found, looked) => events.onFound(found, looked)),
        proxy((powers) => events.onCourse(powers)),
        proxy((message) => events.onFailed(message)),
      ),
    )
    if (jobsRun()) this.tellBeside()
  }

  /** Tells the worker something; that it is lost was said already. */
  private ask(tell: () => Promise<unknown>): void {
    void tell().catch(() => undefined)
  }

  /** Sets the current session; `view` is the visible part, which is examined first. */
  update(session: Session, view: FrameRange | null): void {
    // Only what changed goes over: a session can be large.
    const known: KnownSession =
      this.told?.id === session.id ? { patches: diff(this.told, session).forward } : { session }
    this.told = session
    this.ask(() => this.remote.update(known, view))
  }

  /** Sets the visible part. */
  look(view: FrameRange): void {
    this.ask(() => this.remote.look(view))
  }

  /** Whether something plays; then it takes more time. */
  setPlaying(playing: boolean): void {
    this.playing = playing
    this.tellBeside()
  }

  private tellBeside(): void {
    this.ask(() => this.remote.workBeside(jobsRun() ? 'job' : this.playing ? 'playing' : 'quiet'))
  }

  close(): void {
    this.unwatch()
    this.unwatchJobs()
    this.worker.terminate()
  }
}
