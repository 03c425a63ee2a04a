import type { Session } from '../core/model/session'
import { soundingLength } from '../core/render'
import { LoudnessMeter } from '../core/measure/loudness'
import { TruePeakMeter } from '../core/measure/true-peak'
import { WavEncoder, wavHeader, type WavFormat } from '../formats/wav-write'
import { storeCache, soundsOf } from './audio-store'
import { correlationsOf } from './correlations'
import type { OnProgress } from './progress'
import { openSpool } from './spool'
import { sharedBlocks } from './shared-render'
import { sliceThreads, startSliceThread } from './slice-threads'
import { exposeJobs } from './worker-job'

/** What to render: session frames `from` ≤ n < `to`, and into what. */
export interface ExportOptions {
  format: WavFormat
  from: number
  to: number
  seed: number
  /** Name of the file while it is written; no other export may have it. */
  spoolName: string
}

/**
 * A finished file and what was measured on the way. Peaks are linear, loudness is in LUFS (-Infinity where nothing
 * passes the gate); `clipped` counts samples over full scale.
 */
export interface ExportResult {
  file: Blob
  peak: number
  truePeak: number
  integratedLufs: number
  clipped: number
  /** The ids of inserts that put out what is no number, and were left out. */
  faults: string[]
}

/** Least interval between two progress reports, in milliseconds. */
const TELL_MS = 50

export const worker = exposeJobs(({ breathe }) => ({
  /** Renders a session into nothing; how many frames after the first block, and in how many milliseconds. */
  async time(session: Session, threads: number): Promise<{ frames: number; ms: number }> {
    const cache = storeCache()
    cache.setSources(await soundsOf(session.sources))
    const correlations = await correlationsOf(session, cache)
    const range = { session, correlations, unshaped: false, trackIds: null, stage: 'mix' as const }
    const to = soundingLength(session)
    let frames = -1
    let begun = 0
    for await (const { left } of sharedBlocks({ ...range, from: 0, to, threads }, cache, startSliceThread)) {
      if (frames < 0) begun = performance.now()
      frames = frames < 0 ? 0 : frames + left.length
    }
    return { frames, ms: performance.now() - begun }
  },
  async mix(session: Session, options: ExportOptions, onProgress: OnProgress): Promise<ExportResult> {
    const cache = storeCache()
    cache.setSources(await soundsOf(session.sources))
    const correlations = await correlationsOf(session, cache)
    const frames = options.to - options.from
    const info = {
      format: options.format,
      channels: 2 as const,
      sampleRate: session.sampleRate,
      frames,
      seed: options.seed,
      broadcast: { description: session.title, timeReference: options.from, writtenAt: new Date() },
      cues: session.markers
        .filter((m) => m.frame >= options.from && m.frame < options.to)
        .map((m) => ({ frame: m.frame - options.from, name: m.name })),
    }
    const encoder = new WavEncoder(info)
    const spool = await openSpool(options.spoolName)
    try {
      spool.write(wavHeader(info))
      let peak = 0
      const faults = new Set<string>()
      let told = 0
      const loudness = new LoudnessMeter(session.sampleRate, 2)
      const truePeaks = [new TruePeakMeter(), new TruePeakMeter()]
      const blocks = sharedBlocks(
        {
          session,
          correlations,
          unshaped: false,
          trackIds: null,
          stage: 'mix',
          from: options.from,
          to: options.to,
          threads: sliceThreads(),
          onWarm(part) {
            onProgress({ done: 0, doing: `Rendering what sounds on into it, ${Math.round(part * 100)} %` })
            return breathe()
          },
          onFault: (insertId) => void faults.add(insertId),
        },
        cache,
        startSliceThread,
      )
      for await (const { from, left, right } of blocks) {
        for (let i = 0; i < left.length; i++) peak = Math.max(peak, Math.abs(left[i]!), Math.abs(right[i]!))
        loudness.add([left, right])
        truePeaks[0]!.add(left)
        truePeaks[1]!.add(right)
        spool.write(encoder.encode([left, right]))
        if (performance.now() - told > TELL_MS) {
          told = performance.now()
          onProgress({ done: (from - options.from) / frames, doing: 'Rendering the mix' })
        }
        await breathe()
      }
      spool.write(encoder.finish())
      onProgress({ done: 1, doing: 'Done' })
      return {
        file: await spool.finish('audio/wav'),
        peak,
        truePeak: Math.max(...truePeaks.map((meter) => meter.peak())),
        integratedLufs: loudness.loudness().integrated,
        clipped: encoder.clipped,
        faults: [...faults],
      }
    } catch (error) {
      await spool.discard()
      throw error
    }
  },
}))

export type ExportWorker = typeof worker
