import type { Session } from '../../core/model/session'
import { fileStart, lastHeard, planSession, renderedBlocks, stripEnd, tailGain } from '../../core/render'
import { AudioWriter, storeCache, soundsOf } from '../storage'
import { correlationsOf } from '../storage'
import type { OnProgress } from '../worker'
import type { AudioRecord } from '../storage'
import { exposeJobs } from '../worker'

/** What of a session is rendered: session frames `from` ≤ n < `to` of a track, before or after its inserts. */
export interface RenderedPart {
  trackId: string
  from: number
  to: number
  stage: 'clip' | 'insert'
}

/** Where a sound is left out that stays under this: -120 dBFS. */
const LEAST = 1e-6

export const worker = exposeJobs(({ breathe }) => ({
  /**
   * Renders a track of a session from a frame to another into the store of sound: its regions as they leave their gain stages, or
   * the sound as it leaves its inserts, with what sounds on in them after it.
   */
  async render(
    session: Session,
    { trackId, from, to, stage }: RenderedPart,
    onProgress: OnProgress,
  ): Promise<AudioRecord> {
    const cache = storeCache()
    cache.setSources(await soundsOf(session.sources))
    const plan = planSession(session, {
      trackId,
      correlations: await correlationsOf(session, cache),
    })
    const of = plan.tracks.find(({ id }) => id === trackId)!
    const channels = stage === 'clip' ? of.inputChannels : of.channels
    const latest = stage === 'clip' ? { end: to, fadeFrom: null } : stripEnd(of, to, session.sampleRate)
    const { fadeFrom } = latest
    const end =
      stage === 'clip' || latest.end === to
        ? to
        : await lastHeard(plan, cache, {
            ...{ stage, length: to, to: latest.end, least: LEAST, from: fileStart(plan, to) },
            onPart: breathe,
          })
    const writer = new AudioWriter(channels)
    try {
      for await (const block of renderedBlocks(plan, cache, { from, to: end, stage })) {
        await breathe()
        const sides = [block.left, block.right].slice(0, channels)
        if (fadeFrom !== null)
          for (const side of sides)
            for (let i = Math.max(0, fadeFrom - block.from); i < side.length; i++)
              side[i] = side[i]! * tailGain(plan, fadeFrom, block.from + i)
        await writer.add(sides)
        onProgress({ done: (block.from - from) / (end - from), doing: 'Rendering' })
      }
      return await writer.finish()
    } catch (error) {
      await writer.abort()
      throw error
    }
  },
}))

export type RenderToSoundWorker = typeof worker
