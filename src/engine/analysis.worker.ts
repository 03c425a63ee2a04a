import { expose } from 'comlink'
import { LoudnessMeter } from '../core/measure/loudness'
import { RegionMeter, type RegionMeasure } from '../core/measure/region-meter'
import type { Session } from '../core/model/session'
import { crossfadeSides, planRegion, RegionRenderer, sourceSpan, type RegionPlan } from '../core/render'
import { PHRASE_STEP_SECONDS } from '../core/suggest/even-out'
import { SILENCE_STEP_SECONDS } from '../core/suggest/silence'
import { ChunkCache, recordsOf } from './audio-store'
import { correlationsOf, relationOf } from './correlations'

/** Frames rendered between two looks at the queue. */
const BLOCK = 32768

const cache = new ChunkCache(64)
const renderer = new RegionRenderer(cache)

/** Renders a region as it leaves its gain stages, at a clip gain of 0 dB where `plain` is set, block by block. */
async function eachBlock(session: Session, regionId: string, plain: boolean, take: (block: Float32Array[]) => void): Promise<RegionPlan> {
  cache.setSources(await recordsOf(session.sources))
  const region = session.regions[regionId]!
  const plan = planRegion(session, plain ? { ...region, clipGainDb: 0 } : region, crossfadeSides(session, await correlationsOf(session, cache)).get(regionId))
  for (let from = plan.start; from < plan.end; from += BLOCK) {
    const count = Math.min(BLOCK, plan.end - from)
    await cache.ensure([sourceSpan(plan, from, count)])
    const block = Array.from({ length: plan.channels }, () => new Float32Array(count))
    renderer.render(plan, from, block)
    take(block)
  }
  return plan
}

let queue: Promise<unknown> = Promise.resolve()

/** One question after another: they share the cache of chunks. */
function inTurn<T>(job: () => Promise<T>): Promise<T> {
  const result = queue.then(job, job)
  queue = result.catch(() => undefined)
  return result
}

const worker = {
  /** Peaks, RMS and loudness of a region of an excerpt, at a clip gain of 0 dB. */
  measure: (session: Session, regionId: string): Promise<RegionMeasure> => inTurn(async () => {
    const meter = new RegionMeter(session.sampleRate, session.sources[session.regions[regionId]!.sourceId]!.channels)
    await eachBlock(session, regionId, true, (block) => meter.add(block))
    return meter.finish()
  }),
  /** K-weighted mean squares of `PHRASE_STEP_SECONDS` each of a region as it leaves its gain stages, for finding phrases. */
  phraseSteps: (session: Session, regionId: string): Promise<number[]> => inTurn(async () => {
    const meter = new LoudnessMeter(session.sampleRate, session.sources[session.regions[regionId]!.sourceId]!.channels, PHRASE_STEP_SECONDS)
    await eachBlock(session, regionId, false, (block) => meter.add(block))
    return meter.steps
  }),
  /** The peak of every millisecond of a region as it leaves its gain stages, for finding silence. */
  millisecondPeaks: (session: Session, regionId: string): Promise<Float32Array> => inTurn(async () => {
    const step = session.sampleRate * SILENCE_STEP_SECONDS
    const peaks = new Float32Array(Math.ceil(session.regions[regionId]!.length / step))
    let at = 0
    await eachBlock(session, regionId, false, (block) => {
      for (let i = 0; i < block[0]!.length; i++, at++) {
        const slot = Math.floor(at / step)
        for (const samples of block) peaks[slot] = Math.max(peaks[slot]!, Math.abs(samples[i]!))
      }
    })
    return peaks
  }),
}

export type AnalysisWorker = typeof worker
expose(worker)
