import { expose } from 'comlink'
import { LoudnessMeter } from '../../core/measure/loudness'
import { VoicingMeter } from '../../core/measure/voicing'
import { RegionMeter, type RegionMeasure } from '../../core/measure/region-meter'
import type { Relation } from '../../core/curve/crossfade'
import { regionEnd } from '../../core/model/queries'
import type { Session } from '../../core/model/session'
import {
  crossfadeSides,
  heardSession,
  planRegion,
  planSession,
  renderedBlocks,
  REDUCTION_STEP,
  RegionRenderer,
  sourceSpan,
  StripMeter,
  type Heard,
  type RegionPlan,
  type StripMeasure,
} from '../../core/render'
import { PHRASE_STEP_SECONDS, type PhraseSteps } from '../../core/suggest/even-out'
import { GIVE_WAY_STEP_SECONDS } from '../../core/suggest/give-way'
import { MOST_SHIFT_SECONDS, phaseRelation, type PhaseRelation } from '../../core/suggest/phase'
import { measureSeamOf, seamSpans, type MeasuredSeam, type Seam } from '../../core/suggest/seams'
import { SILENCE_STEP_SECONDS } from '../../core/suggest/silence'
import { bestSlip, slipSpans, type Slip } from '../../core/suggest/slip'
import { storeCache, soundsOf } from '../storage'
import { correlationsOf, relationOf } from '../storage'
import { sharedBlocks } from '../export'
import { sliceThreads, startSliceThread } from '../export'
import { trackMeasure, trackPhase, type TrackPhase } from './track-phase'

/** Frames rendered between two checks of the queue. */
const ANALYSIS_BLOCK_FRAMES = 32768

const cache = storeCache(8 * 1024 ** 2)
const renderer = new RegionRenderer(cache)

/** Renders a region as it leaves its gain stages, at a clip gain of 0 dB where `plain` is set, block by block. */
async function eachBlock(
  session: Session,
  regionId: string,
  plain: boolean,
  take: (block: Float32Array[]) => void,
): Promise<RegionPlan> {
  cache.setSources(await soundsOf(session.sources))
  const region = session.regions[regionId]!
  const plan = planRegion(
    session,
    plain ? { ...region, clipGainDb: 0 } : region,
    crossfadeSides(session, await correlationsOf(session, cache)).get(regionId),
  )
  for (let from = plan.start; from < plan.end; from += ANALYSIS_BLOCK_FRAMES) {
    const count = Math.min(ANALYSIS_BLOCK_FRAMES, plan.end - from)
    const block = Array.from({ length: plan.channels }, () => new Float32Array(count))
    await cache.using([sourceSpan(plan, from, count)], () => renderer.render(plan, from, block))
    take(block)
  }
  return plan
}

/** How much of two regions is compared, in seconds. */
const PHASE_SECONDS = 4

let queue: Promise<unknown> = Promise.resolve()

/** Runs requests one after another, because they share the chunk cache. */
function inTurn<T>(job: () => Promise<T>): Promise<T> {
  const result = queue.then(job, job)
  queue = result.catch(() => undefined)
  return result
}

/** A way of listening to a session. */
export interface Way {
  unshaped: boolean
  heard: Heard | null
}

const worker = {
  /** Peaks, RMS and loudness of a region of an excerpt, at a clip gain of 0 dB. */
  measure: (session: Session, regionId: string): Promise<RegionMeasure> =>
    inTurn(async () => {
      const meter = new RegionMeter(
        session.sampleRate,
        session.sources[session.regions[regionId]!.sourceId]!.channels,
      )
      await eachBlock(session, regionId, true, (block) => meter.add(block))
      return meter.finish()
    }),
  /**
   * K-weighted mean squares of `PHRASE_STEP_SECONDS` each of a region as it leaves its gain stages, and how far each is a voice,
   * for finding phrases.
   */
  phraseSteps: (session: Session, regionId: string): Promise<PhraseSteps> =>
    inTurn(async () => {
      const meter = new LoudnessMeter(
        session.sampleRate,
        session.sources[session.regions[regionId]!.sourceId]!.channels,
        PHRASE_STEP_SECONDS,
      )
      const voice = new VoicingMeter(session.sampleRate, PHRASE_STEP_SECONDS)
      await eachBlock(session, regionId, false, (block) => {
        meter.add(block)
        voice.add(block)
      })
      return { powers: meter.steps, voicing: voice.finish() }
    }),
  /** A track between two session frames as it leaves its inserts, with what turns it down there. */
  strip: (session: Session, trackId: string, from: number, to: number): Promise<StripMeasure> =>
    inTurn(async () => {
      cache.setSources(await soundsOf(session.sources))
      const correlations = await correlationsOf(session, cache)
      const meter = new StripMeter(trackId, from, to, session.sampleRate)
      const plan = planSession(session, { trackId, correlations })
      for await (const { left, right } of renderedBlocks(plan, cache, {
        from,
        to,
        stage: 'insert',
        blockFrames: 16 * REDUCTION_STEP,
        probe: meter,
      }))
        meter.add(left, right)
      return meter.finish()
    }),
  /**
   * How two regions that sound at the same time stand to each other, over at most so many seconds of what they share; null where
   * that is too short.
   */
  phase: (session: Session, firstId: string, secondId: string): Promise<PhaseRelation | null> =>
    inTurn(async () => {
      cache.setSources(await soundsOf(session.sources))
      const [first, second] = [firstId, secondId].map((id) =>
        planRegion(session, session.regions[id]!, undefined),
      )
      const shared = [Math.max(first!.start, second!.start), Math.min(first!.end, second!.end)] as const
      const count = Math.min(shared[1] - shared[0], Math.round(PHASE_SECONDS * session.sampleRate))
      const most = Math.round(MOST_SHIFT_SECONDS * session.sampleRate)
      if (count < 4 * most) return null
      const from = Math.floor((shared[0] + shared[1] - count) / 2)
      const [x, y] = await Promise.all(
        [first!, second!].map(async (plan) => {
          const block = Array.from({ length: plan.channels }, () => new Float32Array(count))
          await cache.using([sourceSpan(plan, from, count)], () => renderer.render(plan, from, block))
          return block[1] ? block[0]!.map((v, i) => (v + block[1]![i]!) / 2) : block[0]!
        }),
      )
      return phaseRelation(x!, y!, most)
    }),
  /** What a track measures between two session frames, before its inserts. */
  track: (session: Session, trackId: string, from: number, to: number): Promise<RegionMeasure> =>
    inTurn(async () => {
      cache.setSources(await soundsOf(session.sources))
      return trackMeasure(session, trackId, from, to, cache)
    }),
  /** How two tracks stand to each other between two session frames. */
  trackPhase: (
    session: Session,
    ids: readonly [string, string],
    from: number,
    to: number,
  ): Promise<TrackPhase | null> =>
    inTurn(async () => {
      cache.setSources(await soundsOf(session.sources))
      return trackPhase(session, ids, from, to, cache)
    }),
  /** The peak of every millisecond of a region as it leaves its gain stages, for finding silence. */
  millisecondPeaks: (session: Session, regionId: string): Promise<Float32Array> =>
    inTurn(async () => {
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

/** The highest and lowest samples of columns of three sounds: the left side, the right side, and their sum. */
export interface OverlapPicture {
  from: number
  to: number
  min: Float32Array[]
  max: Float32Array[]
}

const crossfades = {
  /** How the sides of a crossfade of an excerpt relate. */
  relation: (session: Session, id: string): Promise<Relation> =>
    inTurn(async () => {
      cache.setSources(await soundsOf(session.sources))
      return relationOf(session, id, cache)
    }),
  /** The best shift of the incoming side. */
  slip: (session: Session, id: string): Promise<Slip> =>
    inTurn(async () => {
      cache.setSources(await soundsOf(session.sources))
      const fade = session.crossfades[id]!
      return cache.using(slipSpans(session, fade), () => bestSlip(session, fade, cache))
    }),
  /**
   * Both sides of a crossfade and their sum as they sound, from half an overlap before to half an overlap
   * after it, in columns.
   */
  picture: (session: Session, id: string, columns: number): Promise<OverlapPicture> =>
    inTurn(async () => {
      cache.setSources(await soundsOf(session.sources))
      const fade = session.crossfades[id]!
      const [left, right] = [session.regions[fade.leftId]!, session.regions[fade.rightId]!]
      const overlap = regionEnd(left) - right.start
      const [from, to] = [
        Math.max(left.start, right.start - Math.ceil(overlap / 2)),
        Math.min(regionEnd(right), regionEnd(left) + Math.ceil(overlap / 2)),
      ]
      const sides = crossfadeSides(session, await correlationsOf(session, cache))
      const plans = [
        planRegion(session, left, sides.get(left.id)),
        planRegion(session, right, sides.get(right.id)),
      ]
      const [min, max] = [0, 1].map(() => Array.from({ length: 3 }, () => new Float32Array(columns))) as [
        Float32Array[],
        Float32Array[],
      ]
      for (let at = from; at < to; at += ANALYSIS_BLOCK_FRAMES) {
        const count = Math.min(ANALYSIS_BLOCK_FRAMES, to - at)
        const sum = new Float32Array(count)
        for (const [which, plan] of plans.entries()) {
          const [first, last] = [Math.max(at, plan.start), Math.min(at + count, plan.end)]
          if (last <= first) continue
          const sound = Array.from({ length: plan.channels }, () => new Float32Array(last - first))
          await cache.using([sourceSpan(plan, first, last - first)], () =>
            renderer.render(plan, first, sound),
          )
          // The picture is that of the first channel.
          for (let i = 0; i < last - first; i++) {
            sum[first - at + i] = sum[first - at + i]! + sound[0]![i]!
            gather(
              min[which]!,
              max[which]!,
              Math.floor(((first + i - from) / (to - from)) * columns),
              sound[0]![i]!,
            )
          }
        }
        for (let i = 0; i < count; i++)
          gather(min[2]!, max[2]!, Math.floor(((at + i - from) / (to - from)) * columns), sum[i]!)
      }
      return { from, to, min, max }
    }),
  /** Measures seams, each in an excerpt that holds what lies around them all. */
  seams: (session: Session, seams: Seam[]): Promise<MeasuredSeam[]> =>
    inTurn(async () => {
      cache.setSources(await soundsOf(session.sources))
      const out: MeasuredSeam[] = []
      for (const seam of seams) {
        out.push(await cache.using(seamSpans(session, seam), () => measureSeamOf(session, seam, cache)))
      }
      return out
    }),
}

function gather(min: Float32Array, max: Float32Array, column: number, value: number): void {
  if (value < min[column]!) min[column] = value
  if (value > max[column]!) max[column] = value
}

const mixes = {
  /**
   * K-weighted mean squares of `GIVE_WAY_STEP_SECONDS` each of some tracks together, after their faders, from
   * the start of the session.
   */
  tracksSteps: (session: Session, trackIds: readonly string[]): Promise<number[]> =>
    inTurn(async () => {
      cache.setSources(await soundsOf(session.sources))
      const plan = planSession(session, { correlations: await correlationsOf(session, cache), trackIds })
      const meter = new LoudnessMeter(session.sampleRate, 2, GIVE_WAY_STEP_SECONDS)
      for await (const { left, right } of renderedBlocks(plan, cache, {
        from: 0,
        to: plan.length,
        stage: 'track',
      }))
        meter.add([left, right])
      return meter.steps
    }),
  /** The integrated loudness (LUFS) of what is heard from a frame to another, in several ways of listening. */
  compare: (session: Session, from: number, to: number, ways: readonly Way[]): Promise<number[]> =>
    inTurn(async () => {
      cache.setSources(await soundsOf(session.sources))
      const loudness = async (whole: Session, { unshaped, heard }: Way) => {
        const session = heard ? heardSession(whole, heard) : whole
        const correlations = await correlationsOf(session, cache, unshaped)
        const meter = new LoudnessMeter(session.sampleRate, 2)
        const range = { session, correlations, unshaped, trackIds: null, stage: 'mix' as const, from, to }
        const blocks = sharedBlocks({ ...range, threads: sliceThreads() }, cache, startSliceThread)
        for await (const { left, right } of blocks) meter.add([left, right])
        return meter.loudness().integrated
      }
      const measured: number[] = []
      for (const way of ways) measured.push(await loudness(session, way))
      return measured
    }),
}

const all = { ...worker, ...crossfades, ...mixes }

export type AnalysisWorker = typeof all
expose(all)
