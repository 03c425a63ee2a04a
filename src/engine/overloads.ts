import { wrap, type Remote } from 'comlink'
import { changedSpans, type Span } from '../core/edit/changes'
import { diff } from '../core/model/patch'
import type { Session } from '../core/model/session'
import { onHandHolds } from './hand'
import type { Known, Overload, OverloadWorker } from './overload.worker'

export type { Overload }

/** Finds the overloads of one session after another in a worker, each time only where something changed. */
export class OverloadFinder {
  private readonly worker = new Worker(new URL('./overload.worker.ts', import.meta.url), { type: 'module' })
  private readonly remote: Remote<OverloadWorker> = wrap<OverloadWorker>(this.worker)
  private readonly unwatch = onHandHolds((held) => void this.remote.rest(held))
  private asked: Session | null = null
  /** What is still to be looked through; null is all. */
  private pending: Span[] | null = null

  /** Resolves to the overloads, or to null when a newer session came meanwhile. */
  async find(session: Session): Promise<Overload[] | null> {
    const spans = this.asked ? changedSpans(this.asked, session) : null
    this.pending =
      spans === null || (this.asked !== null && this.pending === null) || this.asked === null
        ? null
        : [...(this.pending ?? []), ...spans]
    // Only what changed goes over: a session can be large.
    const known: Known =
      this.asked?.id === session.id ? { patches: diff(this.asked, session).forward } : { session }
    this.asked = session
    const found = await this.remote.find(known, this.pending)
    if (found !== null && this.asked === session) this.pending = []
    return this.asked === session ? found : null
  }

  close(): void {
    this.unwatch()
    this.worker.terminate()
  }
}
