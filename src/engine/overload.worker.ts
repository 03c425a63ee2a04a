import { expose } from 'comlink'
import { applyPatches, type Patch } from '../core/model/patch'
import type { Session } from '../core/model/session'
import { planSession, RENDER_BLOCK, Renderer, spansNeeded } from '../core/render'
import { storeCache, soundsOf } from './audio-store'
import { correlationsOf } from './correlations'
import type { FrameRange } from './stream'

/** A stretch in which a track after its fader (or with null the mix) passes full scale: session frames, and its peak, linear. */
export interface Overload {
  trackId: string | null
  from: number
  to: number
  peak: number
}

/** Overloads closer than this, in seconds, are one. */
const JOINED = 0.25
/** Blocks after which the worker rests, so that playing and shaping come first; and for how long, in milliseconds. */
const BATCH = 24
const REST_MS = 100

/** The session to look through: whole, or by what changed of the one before. */
export type Known = { session: Session } | { patches: readonly Patch[] }

let current: Session | null = null
const cache = storeCache(32 * 1024 ** 2)
/** The peak of every block of `RENDER_BLOCK` frames, by track; null is the mix. */
let peaks = new Map<string | null, Float32Array>()
let blocks = 0
let generation = 0
/** A hand holds something: nothing is looked for until it lets go. */
let resting = false

function peaksOf(trackId: string | null): Float32Array {
  const known = peaks.get(trackId)
  if (known && known.length >= blocks) return known
  const longer = new Float32Array(blocks)
  if (known) longer.set(known)
  peaks.set(trackId, longer)
  return longer
}

function grouped(session: Session): Overload[] {
  const found: Overload[] = []
  for (const [trackId, list] of peaks) {
    if (trackId !== null && !session.tracks[trackId]) continue
    let last: Overload | null = null
    for (let b = 0; b < blocks; b++) {
      if (!(list[b]! > 1)) continue
      const from = b * RENDER_BLOCK
      if (last && from - last.to < JOINED * session.sampleRate) {
        last.to = from + RENDER_BLOCK
        last.peak = Math.max(last.peak, list[b]!)
      } else found.push((last = { trackId, from, to: from + RENDER_BLOCK, peak: list[b]! }))
    }
  }
  return found
}

const worker = {
  /** Rests, or goes on. */
  rest: (on: boolean): void => void (resting = on),
  /**
   * Renders the given stretches of the session (null: all of it) and finds where tracks and the mix pass full scale; what was found elsewhere
   * before still holds. A newer call ends an older one, which then gives null.
   */
  async find(known: Known, spans: readonly FrameRange[] | null): Promise<Overload[] | null> {
    const mine = ++generation
    const session = (current = 'session' in known ? known.session : applyPatches(current!, known.patches))
    cache.setSources(await soundsOf(session.sources))
    const plan = planSession(session, { correlations: await correlationsOf(session, cache) })
    const renderer = new Renderer(plan, cache)
    blocks = Math.ceil(plan.length / RENDER_BLOCK)
    if (spans === null) peaks = new Map()
    const wanted = new Set<number>()
    for (const { from, to } of spans ?? [{ from: 0, to: plan.length }])
      for (
        let b = Math.max(0, Math.floor(from / RENDER_BLOCK));
        b < Math.min(blocks, Math.ceil(to / RENDER_BLOCK));
        b++
      )
        wanted.add(b)
    const [left, right] = [new Float32Array(RENDER_BLOCK), new Float32Array(RENDER_BLOCK)]
    let n = 0
    for (const b of [...wanted].sort((x, y) => x - y)) {
      if (n++ % BATCH === 0) {
        do await new Promise((resolve) => setTimeout(resolve, REST_MS))
        while (resting && mine === generation)
        if (mine !== generation) return null
      }
      const at = b * RENDER_BLOCK
      for (
        let wait = cache.ensure(spansNeeded(plan, at, RENDER_BLOCK));
        wait;
        wait = cache.ensure(spansNeeded(plan, at, RENDER_BLOCK))
      )
        await wait
      for (const list of peaks.values()) if (b < list.length) list[b] = 0
      renderer.render(at, left, right, (index, l, r) => {
        const peak = Math.max(l, r)
        if (peak > 1) peaksOf(plan.tracks[index]!.id)[b] = peak
      })
      let peak = 0
      for (let i = 0; i < RENDER_BLOCK; i++) peak = Math.max(peak, Math.abs(left[i]!), Math.abs(right[i]!))
      peaksOf(null)[b] = peak
    }
    return grouped(session)
  },
}

export type OverloadWorker = typeof worker
expose(worker)
