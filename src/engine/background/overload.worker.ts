import { expose } from 'comlink'
import { applyPatches, type Patch } from '../../core/model/patch'
import type { Session } from '../../core/model/session'
import { soundsOf, storeCache } from '../storage'
import { BackgroundRenderer } from './background-renderer'
import { correlationsOf } from '../storage'
import type { RestReason } from '../worker'
import { LoudnessCourse } from './loudness-course'
import { OverloadSearch, type Overload } from './overload-search'
import type { FrameRange } from '../playback'

/** The session to examine: whole, or as patches against the previous version. */
export type KnownSession = { session: Session } | { patches: readonly Patch[] }

/**
 * How long the search runs without pauses after an edit, in milliseconds, so that the edited place is checked
 * soon.
 */
const URGENT_MS = 1000
/**
 * Pause after each later slice of work, as a multiple of the time that the slice took: with nothing playing, beside what plays,
 * and beside a job that somebody waits for.
 */
const REST_SHARE = { quiet: 0.1, playing: 1, job: 4 }
/** Length of a slice, in milliseconds; messages are handled in between. */
const SLICE_MS = 16
/** Least interval between two reports, in milliseconds. */
const TELL_MS = 150

/**
 * Chunks that are fetched ahead at a time. Beside silence those of all tracks of a large session; beside what plays none: that must
 * not wait behind them, and both together take room.
 */
const AHEAD = { quiet: 64, playing: 0, job: 0 }
/**
 * Of a session whose delays hold more samples than this nothing is rendered beside what plays, but in the next pause: what plays holds as
 * many, and both together would take a hundred megabytes.
 */
const MOST_BESIDE_PLAYING = 6 * 1024 ** 2
const cache = storeCache(16 * 1024 ** 2)
cache.mostAhead = AHEAD.quiet
const renderer = new BackgroundRenderer(cache)
const search = new OverloadSearch(cache, renderer)
const course = new LoudnessCourse(cache, renderer, (block, peaks, mix) => search.found(block, peaks, mix))
let current: Session | null = null
let resting: RestReason = 'none'
let beside: keyof typeof REST_SHARE = 'quiet'
let updatedAt = 0
let working = false
/** How often what is searched was set anew. */
let updates = 0
let onFound: (found: Overload[], looked: number) => void = () => undefined
let onCourse: (powers: Float32Array) => void = () => undefined
let onFailed: (message: string) => void = () => undefined

const after = (ms: number) => new Promise<void>((resolve) => setTimeout(resolve, ms))

const urgent = () => performance.now() - updatedAt < URGENT_MS
const mustRest = () => resting === 'hand' || (resting === 'moment' && !urgent())
const mustLetGo = () => beside === 'playing' && search.heldSamples > MOST_BESIDE_PLAYING

/** Waits while nothing is to be rendered, and holds nothing where that may be long. */
async function pause(): Promise<void> {
  // Once: correlations may be read meanwhile, and need what they fetch until they have all of it.
  let holds = true
  while (mustRest() || mustLetGo()) {
    if (holds && mustLetGo()) {
      renderer.rest()
      cache.letGo()
      holds = false
    }
    await after(30)
  }
}

/** Starts the search for what is not known yet, unless it is already running. */
async function work(): Promise<void> {
  if (working) return
  working = true
  let toldAt = 0
  let told = ''
  let measured = false
  const tell = () => {
    toldAt = performance.now()
    const found = search.overloads()
    const looked = search.progress()
    const text = JSON.stringify([found, Math.floor(looked * 100)])
    if (text !== told) onFound(found, looked)
    told = text
    if (measured) onCourse(course.powers.slice())
    measured = false
  }
  try {
    // What is set anew while the last step of all is taken has its own steps.
    for (let [more, seen] = [true, -1]; more || seen !== updates;) {
      await pause()
      seen = updates
      const begun = performance.now()
      do {
        // What is on the screen and what was changed comes first; the rest is found while the loudness is worked out. They
        // share a renderer: one by one, or each would have to bring it back to where it was.
        more = urgent() && (await search.step())
        if (!more) measured = (more = await course.step()) || measured
        more ||= await search.step()
      } while (more && !mustRest() && !mustLetGo() && performance.now() - begun < SLICE_MS)
      if (performance.now() - toldAt > TELL_MS) tell()
      await after(urgent() ? 0 : (performance.now() - begun) * REST_SHARE[beside])
    }
    tell()
    renderer.rest()
  } catch (error) {
    onFailed(error instanceof Error ? error.message : String(error))
  } finally {
    working = false
  }
}

const worker = {
  /** Sets the callbacks for results and for failure; with the overloads comes how much of the session is known, 0…1. */
  listen(
    found: (found: Overload[], looked: number) => void,
    powers: (powers: Float32Array) => void,
    failed: (message: string) => void,
  ): void {
    onFound = found
    onCourse = powers
    onFailed = failed
  },
  rest(reason: RestReason): void {
    resting = reason
  },
  /** Says beside what it works. */
  workBeside(what: keyof typeof REST_SHARE): void {
    beside = what
    cache.mostAhead = AHEAD[what]
  },
  /** Moves the focus of the search. */
  look: (view: FrameRange): void => search.look(view),
  /** Sets a new version of the session and examines what changed. */
  async update(known: KnownSession, view: FrameRange | null): Promise<void> {
    const session = (current = 'session' in known ? known.session : applyPatches(current!, known.patches))
    try {
      const sounds = await soundsOf(session.sources)
      if (session !== current) return
      cache.setSources(sounds)
      const correlations = await correlationsOf(session, cache)
      if (session !== current) return
      updatedAt = performance.now()
      updates++
      search.setSession(session, correlations, view)
      course.setSession(session, correlations)
      void work()
    } catch (error) {
      if (session === current) onFailed(error instanceof Error ? error.message : String(error))
    }
  },
}

export type OverloadWorker = typeof worker
expose(worker)
