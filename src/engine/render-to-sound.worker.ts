import type { Session } from '../core/model/session'
import { planSession, renderedBlocks } from '../core/render'
import { AudioWriter, storeCache, soundsOf } from './audio-store'
import { correlationsOf } from './correlations'
import type { OnProgress } from './progress'
import type { AudioRecord } from './storage'
import { exposeJobs } from './worker-job'

export const worker = exposeJobs(({ breathe }) => ({
  /**
   * Renders all regions of a session of one track as they leave their gain stages, from a frame to another,
   * into the store of sound.
   */
  async render(session: Session, from: number, to: number, onProgress: OnProgress): Promise<AudioRecord> {
    const { channels } = session.tracks[session.trackIds[0]!]!
    const cache = storeCache()
    cache.setSources(await soundsOf(session.sources))
    const plan = planSession(session, {
      trackId: session.trackIds[0]!,
      correlations: await correlationsOf(session, cache),
    })
    const writer = new AudioWriter(channels)
    try {
      for await (const block of renderedBlocks(plan, cache, { from, to, stage: 'clip' })) {
        await breathe()
        await writer.add([block.left, block.right].slice(0, channels))
        onProgress({ done: (block.from - from) / (to - from), doing: 'Rendering' })
      }
      return await writer.finish()
    } catch (error) {
      await writer.abort()
      throw error
    }
  },
}))

export type RenderToSoundWorker = typeof worker
