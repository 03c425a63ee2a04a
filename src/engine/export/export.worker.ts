import { ZipWriter } from '@zip.js/zip.js'
import { resampledLength, Resampler } from '../../core/dsp/resample'
import { SoundMeter, type SoundMeasure } from '../../core/measure/sound-meter'
import { withFileChange, type FileChange } from '../../core/model/file-change'
import type { Session } from '../../core/model/session'
import {
  latestEnd,
  partChannels,
  planSession,
  renderedBlocks,
  soundingLength,
  tailEnd,
  type ExportPart,
  type Tail,
} from '../../core/render'
import { CancellingTracksMeter } from '../../core/suggest/cancelling-tracks'
import { ReportMeter, type MeasuredMix } from '../../core/suggest/report'
import { listSeams, measureSeamOf, seamSpans, type MeasuredSeam } from '../../core/suggest/seams'
import { formatFacts, soundWriter, type SoundFormat } from '../../formats/sound-write'
import { soundsOf, storeCache, type SoundCache } from '../storage'
import { correlationsOf } from '../storage'
import { checkFile, type FileCheck } from './file-check'
import { flacLibrary } from './flac-encoder'
import type { OnProgress } from '../worker'
import { openSpool } from './spool'
import { sharedBlocks, type SharedOptions } from './shared-render'
import { sliceThreads, startSliceThread } from './slice-threads'
import { exposeJobs } from '../worker'

/** What to render: session frames `from` ≤ n < `to`, and into what. */
export interface ExportOptions {
  part: ExportPart
  /** What the file is called in itself. */
  title: string
  format: SoundFormat
  sampleRate: number
  from: number
  to: number
  /** What is added after `to`, which is then the end of the last region; null for a range, which ends where it was asked to. */
  tail: Tail | null
  /** What is done to the mix in the file; the tail is that of the session. */
  change: FileChange | null
  seed: number
  /** Name of the file while it is written; no other export may have it. */
  spoolName: string
}

/** A finished file, what was measured on the way, and what was found when it was read again. */
export interface ExportResult {
  file: Blob
  channels: 1 | 2
  frames: number
  /** Frames of the session after its last region. */
  tailFrames: number
  /** The largest sample before it was fitted into the file's word, linear. */
  renderedPeak: number
  /** Of what is in the file. */
  measure: Omit<SoundMeasure, 'shortTerm'>
  /** Samples over full scale. */
  clipped: number
  /** The ids of inserts that output NaN, and were left out. */
  faults: string[]
  check: FileCheck
}

/** What is measured: session frames `from` ≤ n < `to` of a part. */
export interface MeasuredPart {
  part: ExportPart
  from: number
  to: number
  /** As in `ExportOptions`. */
  tail: Tail | null
  change?: FileChange | null
  /** Of the mix: whether its tracks are compared with each other, which is done on one thread. */
  compareTracks?: boolean
}

/** Least interval between two progress reports, in milliseconds. */
const TELL_MS = 50
/** Parts of an export, by time: the rest is reading the file again. */
const RENDERING = 0.85

/** The largest size of samples. */
function loudest(samples: Float32Array): number {
  let most = 0
  for (const x of samples) if (Math.abs(x) > most) most = Math.abs(x)
  return most
}

type Blocks = AsyncIterable<{ from: number; left: Float32Array; right: Float32Array }>

/** The blocks of a part, and how many channels they have. */
function partBlocks(
  session: Session,
  part: ExportPart,
  correlations: ReadonlyMap<string, number>,
  range: Pick<SharedOptions, 'from' | 'to' | 'onWarm' | 'onFault'>,
  cache: SoundCache,
): { channels: 1 | 2; blocks: Blocks } {
  if (part.kind === 'region' || (part.kind === 'strip' && part.stage === 'clip')) {
    const trackId = part.kind === 'region' ? session.regions[part.id]!.trackId : part.id
    const plan = planSession(session, {
      correlations,
      trackId,
      ...(part.kind === 'region' ? { regionId: part.id } : {}),
    })
    return {
      channels: partChannels(session, part),
      blocks: renderedBlocks(plan, cache, { ...range, stage: 'clip' }),
    }
  }
  const options: SharedOptions = {
    session,
    correlations,
    unshaped: false,
    trackIds: part.kind === 'strip' ? [part.id] : null,
    stemId: part.kind === 'stem' ? part.id : null,
    stage: part.kind === 'strip' && part.stage !== 'clip' ? part.stage : 'mix',
    ...range,
    threads: sliceThreads(),
  }
  return { channels: partChannels(session, part), blocks: sharedBlocks(options, cache, startSliceThread) }
}

/** The session frame at which a part ends with its tail: stems end where the mix does. */
async function endOf(
  session: Session,
  { part, to, tail }: MeasuredPart,
  correlations: ReadonlyMap<string, number>,
  cache: SoundCache,
  onProgress: OnProgress,
): Promise<number> {
  if (tail === null || part.kind === 'region' || (part.kind === 'strip' && part.stage === 'clip')) return to
  const of = part.kind === 'strip' ? { trackId: part.id } : {}
  const plan = planSession(session, { correlations, ...of })
  const stage = part.kind === 'strip' && part.stage !== 'clip' ? part.stage : 'mix'
  const most = (latestEnd(plan, tail) - plan.length) / session.sampleRate
  const doing = `Looking for the end of the tail (up to ${most.toFixed(1)} s)`
  return tailEnd(plan, cache, { stage, tail, onPart: () => onProgress({ done: 0, doing }) })
}

/** A block at another rate; the last one with the rest. */
class RateChange {
  private readonly sides: Resampler[]
  private frames = 0

  constructor(from: number, to: number, channels: number) {
    this.sides = Array.from({ length: channels }, () => new Resampler(from, to))
  }

  push(block: readonly Float32Array[]): Float32Array[] {
    this.frames += block[0]!.length
    return this.sides.map((side, c) => side.push(block[c]!))
  }

  finish(): Float32Array[] {
    return this.sides.map((side) => side.finish(this.frames))
  }
}

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

  /** Measures a part of a session without writing it. */
  async measure(session: Session, wanted: MeasuredPart, onProgress: OnProgress): Promise<MeasuredMix> {
    const { part, from } = wanted
    const cache = storeCache()
    cache.setSources(await soundsOf(session.sources))
    const correlations = await correlationsOf(session, cache)
    const to = await endOf(session, wanted, correlations, cache, onProgress)
    const changed = withFileChange(session, wanted.change ?? null)
    const probe = wanted.compareTracks ? new CancellingTracksMeter(changed) : null
    const { channels, blocks } = probe
      ? {
          channels: 2,
          blocks: renderedBlocks(planSession(changed, { correlations }), cache, { from, to, probe }),
        }
      : partBlocks(changed, part, correlations, { from, to }, cache)
    const meter = new ReportMeter(session.sampleRate, channels === 1 ? 1 : 2, probe)
    let told = 0
    for await (const { from: at, left, right } of blocks) {
      meter.add(at, channels === 1 ? [left] : [left, right])
      if (performance.now() - told > TELL_MS) {
        told = performance.now()
        onProgress({
          done: (at - from) / (to - from),
          doing: part.kind === 'mix' ? 'Measuring the mix' : 'Measuring',
        })
      }
      await breathe()
    }
    return meter.finish()
  },

  /** Measures the seams of a session. */
  async seams(session: Session, onProgress: OnProgress): Promise<MeasuredSeam[]> {
    const cache = storeCache()
    cache.setSources(await soundsOf(session.sources))
    const listed = listSeams(session)
    const seams: MeasuredSeam[] = []
    for (const seam of listed) {
      const spans = seamSpans(session, seam)
      seams.push({ ...seam, ...(await cache.using(spans, () => measureSeamOf(session, seam, cache))) })
      onProgress({ done: seams.length / listed.length, doing: 'Looking at the seams' })
      await breathe()
    }
    return seams
  },

  async export(session: Session, options: ExportOptions, onProgress: OnProgress): Promise<ExportResult> {
    const { part, format, from, title } = options
    const cache = storeCache()
    cache.setSources(await soundsOf(session.sources))
    const correlations = await correlationsOf(session, cache)
    const to = await endOf(session, options, correlations, cache, onProgress)
    const faults = new Set<string>()
    const { channels, blocks } = partBlocks(
      withFileChange(session, options.change),
      part,
      correlations,
      {
        from,
        to,
        onWarm(warm) {
          onProgress({ done: 0, doing: `Rendering what sounds on into it, ${Math.round(warm * 100)} %` })
          return breathe()
        },
        onFault: (insertId) => void faults.add(insertId),
      },
      cache,
    )
    const sampleRate = options.sampleRate
    const atRate = (frame: number) => Math.round((frame * sampleRate) / session.sampleRate)
    const frames = resampledLength(to - from, session.sampleRate, sampleRate)
    const writer = await soundWriter(
      {
        format,
        channels,
        sampleRate,
        frames,
        seed: options.seed,
        title,
        timeReference: atRate(from),
        writtenAt: new Date(),
        cues: session.markers
          .filter((m) => m.frame >= from && m.frame < to)
          .map((m) => ({ frame: atRate(m.frame - from), name: m.name })),
      },
      async (flac) => (await flacLibrary())(flac),
    )
    const meter = new SoundMeter(sampleRate, channels)
    let renderedPeak = 0
    const change =
      sampleRate === session.sampleRate ? null : new RateChange(session.sampleRate, sampleRate, channels)
    const spool = await openSpool(options.spoolName)
    try {
      spool.write(writer.header())
      const write = (block: readonly Float32Array[]) => {
        if (block[0]!.length === 0) return
        for (const side of block) renderedPeak = Math.max(renderedPeak, loudest(side))
        spool.write(writer.encode(block))
        // What is told of the file is measured on what is in it.
        meter.add(block)
      }
      let told = 0
      const tell = (done: number, doing: string) => {
        if (performance.now() - told <= TELL_MS) return
        told = performance.now()
        onProgress({ done, doing })
      }
      for await (const { from: at, left, right } of blocks) {
        const block = channels === 1 ? [left] : [left, right]
        write(change ? change.push(block) : block)
        tell((RENDERING * (at - from)) / (to - from), `Rendering “${title}”`)
        await breathe()
      }
      if (change) write(change.finish())
      spool.write(writer.finish())
      const { shortTerm: _, ...measure } = meter.finish()
      const truePeakDb = 20 * Math.log10(measure.truePeak)
      for (const { at, bytes } of writer.patches({ ...measure.loudness, truePeakDb })) spool.patch(at, bytes)
      const file = await spool.finish(formatFacts[format].mime)
      const check = await checkFile(file, { ...measure, shortTerm: [] }, (done) => {
        tell(RENDERING + (1 - RENDERING) * done, `Reading “${title}” again`)
        return breathe()
      })
      onProgress({ done: 1, doing: 'Done' })
      const tailFrames = options.tail === null ? 0 : to - options.to
      return {
        file,
        channels,
        frames,
        tailFrames,
        renderedPeak,
        measure,
        clipped: writer.clipped,
        faults: [...faults],
        check,
      }
    } catch (error) {
      await spool.discard()
      throw error
    }
  },

  async zip(
    files: readonly { name: string; file: Blob }[],
    spoolName: string,
    onProgress: OnProgress,
  ): Promise<Blob> {
    const spool = await openSpool(spoolName)
    try {
      const total = files.reduce((sum, { file }) => sum + file.size, 0)
      let written = 0
      const out = new WritableStream<Uint8Array>({
        async write(bytes) {
          spool.write(bytes.slice())
          written += bytes.length
          onProgress({
            done: Math.min(1, written / Math.max(1, total)),
            doing: 'Putting the files into one ZIP',
          })
          await breathe()
        },
      })
      const zip = new ZipWriter(out, { level: 0, useUnicodeFileNames: true, useWebWorkers: false })
      for (const { name, file } of files) await zip.add(name, file.stream())
      await zip.close()
      return await spool.finish('application/zip')
    } catch (error) {
      await spool.discard()
      throw error
    }
  },
}))

export type ExportWorker = typeof worker
