import { expose } from 'comlink'
import type { Session } from '../core/model/session'
import { planSession, Renderer, spansNeeded } from '../core/render'
import { WavEncoder, wavHeader, type WavFormat } from '../formats/wav-write'
import { ChunkCache, recordsOf } from './audio-store'
import { correlationsOf } from './correlations'
import { Cancelled, type OnProgress } from './jobs'

/** What to render: session frames `from` ≤ n < `to`, and into what. */
export interface ExportOptions {
  format: WavFormat
  from: number
  to: number
  seed: number
}

/** A finished file and what was measured on the way. Peaks are linear; `clipped` counts samples over full scale. */
export interface ExportResult {
  file: Blob
  peak: number
  clipped: number
}

/** Frames between two looks at progress and cancel. */
const BLOCK = 16384

let stop = false

const worker = {
  cancel(): void {
    stop = true
  },
  async mix(session: Session, options: ExportOptions, onProgress: OnProgress): Promise<ExportResult> {
    stop = false
    const cache = new ChunkCache()
    cache.setSources(await recordsOf(session.sources))
    const plan = planSession(session, { correlations: await correlationsOf(session, cache) })
    const renderer = new Renderer(plan, cache)
    const frames = options.to - options.from
    const info = {
      format: options.format,
      channels: 2 as const,
      sampleRate: session.sampleRate,
      frames,
      seed: options.seed,
      broadcast: { description: session.title, timeReference: options.from },
      cues: session.markers
        .filter((m) => m.frame >= options.from && m.frame < options.to)
        .map((m) => ({ frame: m.frame - options.from, name: m.name })),
    }
    const encoder = new WavEncoder(info)
    const parts: BlobPart[] = [wavHeader(info)]
    let peak = 0
    let told = 0
    for (let done = 0; done < frames; done += BLOCK) {
      // Messages, and with them a cancel, are only taken in between.
      if (performance.now() - told > 50) {
        told = performance.now()
        onProgress({ done: done / frames, doing: 'Rendering the mix' })
        await new Promise((resolve) => setTimeout(resolve))
      }
      if (stop) throw new Cancelled()
      const count = Math.min(BLOCK, frames - done)
      await cache.ensure(spansNeeded(plan, options.from + done, count))
      const left = new Float32Array(count)
      const right = new Float32Array(count)
      renderer.render(options.from + done, left, right)
      for (let i = 0; i < count; i++) peak = Math.max(peak, Math.abs(left[i]!), Math.abs(right[i]!))
      parts.push(encoder.encode([left, right]))
    }
    parts.push(encoder.finish())
    onProgress({ done: 1, doing: 'Done' })
    return { file: new Blob(parts, { type: 'audio/wav' }), peak, clipped: encoder.clipped }
  },
}

export type ExportWorker = typeof worker
expose(worker)
