import { expose } from 'comlink'
import type { Session } from '../core/model/session'
import { planSession, Renderer, spansNeeded } from '../core/render'
import { AudioWriter, ChunkCache, recordsOf } from './audio-store'
import { correlationsOf } from './correlations'
import type { OnProgress } from './jobs'
import type { AudioRecord } from './storage'

const BLOCK = 16384

const worker = {
  /** Renders all regions of a session of one track as they leave their gain stages, from a frame to another, into the store of sound. */
  async bounce(session: Session, from: number, to: number, onProgress: OnProgress): Promise<AudioRecord> {
    const { channels } = session.tracks[session.trackIds[0]!]!
    const cache = new ChunkCache()
    cache.setSources(await recordsOf(session.sources))
    const plan = planSession(session, {
      trackId: session.trackIds[0]!,
      correlations: await correlationsOf(session, cache),
    })
    const renderer = new Renderer(plan, cache)
    const writer = new AudioWriter(channels)
    try {
      for (let at = from; at < to; at += BLOCK) {
        const count = Math.min(BLOCK, to - at)
        await cache.ensure(spansNeeded(plan, at, count))
        const sides = [new Float32Array(count), new Float32Array(count)] as const
        renderer.renderStage('clip', at, sides[0], sides[1])
        await writer.add(sides.slice(0, channels))
        onProgress({ done: (at - from) / (to - from), doing: 'Rendering' })
      }
      return await writer.finish()
    } catch (error) {
      await writer.abort()
      throw error
    }
  },
}

export type BounceWorker = typeof worker
expose(worker)
