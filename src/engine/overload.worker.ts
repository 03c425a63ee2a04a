import { expose } from 'comlink'
import { applyPatches, type Patch } from '../core/model/patch'
import type { Session } from '../core/model/session'
import { soundsOf, storeCache } from './audio-store'
import { correlationsOf } from './correlations'
import type { RestReason } from './interaction'
import { OverloadSearch, type Overload } from './overload-search'
import type { FrameRange } from './stream'

/** The session to look through: whole, or by what changed of the one before. */
export type KnownSession = { session: Session } | { patches: readonly Patch[] }

/**
 * How long after an edit the search goes on without resting, in milliseconds: what was just changed is looked
 * at soon.
 */
const URGENT_MS = 1000
/** How long it rests after each slice of work beyond that, in parts of the time that it worked. */
const REST_SHARE = 1
/** How long it works before it listens to messages again, in milliseconds. */
const SLICE_MS = 12
/** The least time between two tellings of what was found, in milliseconds. */
const TELL_MS = 150

const cache = storeCache(48 * 1024 ** 2)
const search = new OverloadSearch(cache)
let current: Session | null = null
let resting: RestReason = 'none'
let updatedAt = 0
let working = false
let onFound: (found: Overload[]) => void = () => undefined
let onFailed: (message: string) => void = () => undefined

const after = (ms: number) => new Promise<void>((resolve) => setTimeout(resolve, ms))

const urgent = () => performance.now() - updatedAt < URGENT_MS
const mustRest = () => resting === 'hand' || (resting === 'moment' && !urgent())

/** Looks through what is not known yet, if that is not going on already. */
async function work(): Promise<void> {
  if (working) return
  working = true
  let toldAt = 0
  let told = ''
  const tell = () => {
    toldAt = performance.now()
    const found = search.overloads()
    const text = JSON.stringify(found)
    if (text !== told) onFound(found)
    told = text
  }
  try {
    for (let more = true; more;) {
      while (mustRest()) await after(30)
      const begun = performance.now()
      do more = await search.step()
      while (more && !mustRest() && performance.now() - begun < SLICE_MS)
      if (performance.now() - toldAt > TELL_MS) tell()
      await after(urgent() ? 0 : (performance.now() - begun) * REST_SHARE)
    }
    tell()
  } catch (error) {
    onFailed(error instanceof Error ? error.message : String(error))
  } finally {
    working = false
  }
}

const worker = {
  /** Says whom to tell what was found, and why nothing more can be. */
  listen(found: (found: Overload[]) => void, failed: (message: string) => void): void {
    onFound = found
    onFailed = failed
  },
  rest(reason: RestReason): void {
    resting = reason
  },
  /** Looks around another place of the screen. */
  look: (view: FrameRange): void => search.look(view),
  /** Takes another version of the session and looks through what it changed. */
  async update(known: KnownSession, view: FrameRange | null): Promise<void> {
    const session = (current = 'session' in known ? known.session : applyPatches(current!, known.patches))
    try {
      const sounds = await soundsOf(session.sources)
      if (session !== current) return
      cache.setSources(sounds)
      const correlations = await correlationsOf(session, cache)
      if (session !== current) return
      updatedAt = performance.now()
      search.setSession(session, correlations, view)
      void work()
    } catch (error) {
      onFailed(error instanceof Error ? error.message : String(error))
    }
  },
}

export type OverloadWorker = typeof worker
expose(worker)
