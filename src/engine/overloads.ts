import { proxy, wrap, type Remote } from 'comlink'
import { diff } from '../core/model/patch'
import type { Session } from '../core/model/session'
import { jobsRun, onJobs, onRestReason } from './interaction'
import type { Overload } from './overload-search'
import type { KnownSession, OverloadWorker } from './overload.worker'
import type { FrameRange } from './stream'

export type { Overload }

/**
 * Callbacks of a finder: the overloads known so far, on every change, and the reason why no more can be
 * found.
 */
export interface OverloadEvents {
  onFound(found: Overload[]): void
  /** The K-weighted power of the mix, step by step (see `LoudnessCourse`), as far as it is known. */
  onCourse(powers: Float32Array): void
  onFailed(message: string): void
}

/** Finds where a session passes full scale, in a worker that keeps up with its versions. */
export class OverloadFinder {
  private readonly worker = new Worker(new URL('./overload.worker.ts', import.meta.url), { type: 'module' })
  private readonly remote: Remote<OverloadWorker> = wrap<OverloadWorker>(this.worker)
  private readonly unwatch = onRestReason((reason) => void this.remote.rest(reason))
  private readonly unwatchJobs = onJobs(() => this.tellBeside())
  private playing = false
  private told: Session | null = null

  constructor(events: OverloadEvents) {
    void this.remote.listen(
      proxy((found) => events.onFound(found)),
      proxy((powers) => events.onCourse(powers)),
      proxy((message) => events.onFailed(message)),
    )
    if (jobsRun()) this.tellBeside()
  }

  /** Sets the current session; `view` is the visible part, which is examined first. */
  update(session: Session, view: FrameRange | null): void {
    // Only what changed goes over: a session can be large.
    const known: KnownSession =
      this.told?.id === session.id ? { patches: diff(this.told, session).forward } : { session }
    this.told = session
    void this.remote.update(known, view)
  }

  /** Sets the visible part. */
  look(view: FrameRange): void {
    void this.remote.look(view)
  }

  /** Whether something plays; then it takes more time. */
  setPlaying(playing: boolean): void {
    this.playing = playing
    this.tellBeside()
  }

  private tellBeside(): void {
    void this.remote.workBeside(jobsRun() ? 'job' : this.playing ? 'playing' : 'quiet')
  }

  close(): void {
    this.unwatch()
    this.unwatchJobs()
    this.worker.terminate()
  }
}
