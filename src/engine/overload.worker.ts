import { expose } from 'comlink'
import type { Session } from '../core/model/session'
import { planSession, RENDER_BLOCK, Renderer, spansNeeded } from '../core/render'
import { ChunkCache, recordsOf } from './audio-store'
import { correlationsOf } from './correlations'

/** A stretch in which a track after its fader (or with null the mix) passes full scale: session frames, and its peak, linear. */
export interface Overload {
  trackId: string | null
  from: number
  to: number
  peak: number
}

/** Overloads closer than this, in seconds, are one. */
const JOINED = 0.25
/** Blocks between two looks at the queue. */
const BATCH = 64

const worker = {
  /** Renders the whole session and finds where tracks and the mix pass full scale. */
  async find(session: Session): Promise<Overload[]> {
    const cache = new ChunkCache(96)
    cache.setSources(await recordsOf(session.sources))
    const plan = planSession(session, { correlations: await correlationsOf(session, cache) })
    const renderer = new Renderer(plan, cache)
    const open = new Map<string | null, Overload>()
    const found: Overload[] = []
    const note = (trackId: string | null, at: number, peak: number) => {
      if (peak <= 1) return
      const last = open.get(trackId)
      if (last && at - last.to < JOINED * session.sampleRate) {
        last.to = at + RENDER_BLOCK
        last.peak = Math.max(last.peak, peak)
      } else {
        const made = { trackId, from: at, to: at + RENDER_BLOCK, peak }
        open.set(trackId, made)
        found.push(made)
      }
    }
    const [left, right] = [new Float32Array(RENDER_BLOCK), new Float32Array(RENDER_BLOCK)]
    for (let at = 0, n = 0; at < plan.length; at += RENDER_BLOCK, n++) {
      if (n % BATCH === 0) for (let wait = cache.ensure(spansNeeded(plan, at, BATCH * RENDER_BLOCK)); wait; wait = cache.ensure(spansNeeded(plan, at, BATCH * RENDER_BLOCK))) await wait
      const peaks = new Map<number, number>()
      renderer.render(at, left, right, (index, l, r) => peaks.set(index, Math.max(peaks.get(index) ?? 0, l, r)))
      for (const [index, peak] of peaks) note(plan.tracks[index]!.id, at, peak)
      let peak = 0
      for (let i = 0; i < RENDER_BLOCK; i++) peak = Math.max(peak, Math.abs(left[i]!), Math.abs(right[i]!))
      note(null, at, peak)
    }
    return found
  },
}

export type OverloadWorker = typeof worker
expose(worker)
