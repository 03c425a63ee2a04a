import { wrap, type Remote } from 'comlink'
import type { RegionMeasure } from '../core/measure/region-meter'
import { excerpt } from '../core/model/excerpt'
import type { Region, Session } from '../core/model/session'
import type { AnalysisWorker } from './analysis.worker'

let remote: Remote<AnalysisWorker> | null = null

/** The worker that measures; started with the first question. */
function analysis(): Remote<AnalysisWorker> {
  remote ??= wrap<AnalysisWorker>(new Worker(new URL('./analysis.worker.ts', import.meta.url), { type: 'module' }))
  return remote
}

const numbers = new WeakMap<object, number>()
let count = 0

/** A number that is the same for the same object. */
const numberOf = (object: object): number => {
  const known = numbers.get(object)
  if (known !== undefined) return known
  numbers.set(object, ++count)
  return count
}

const keys = new WeakMap<Region, { threads: Session['gainThreads']; crossfades: Session['crossfades']; key: string }>()

/** A word for everything that a region's sound depends on besides its clip gain. */
function contentKey(session: Session, region: Region): string {
  const known = keys.get(region)
  if (known && known.threads === session.gainThreads && known.crossfades === session.crossfades) return known.key
  const key = madeKey(session, region)
  keys.set(region, { threads: session.gainThreads, crossfades: session.crossfades, key })
  return key
}

function madeKey(session: Session, region: Region): string {
  const knots = region.gainThreadId === null ? null : session.gainThreads[region.gainThreadId]!.knots
  const crossed = Object.values(session.crossfades).filter((x) => x.leftId === region.id || x.rightId === region.id).map((x) => {
    const [left, right] = [session.regions[x.leftId]!, session.regions[x.rightId]!]
    return [x.law, x.out, x.in, x.rightId === region.id, left.start + left.length - right.start]
  })
  return JSON.stringify([session.sources[region.sourceId]!.sha256, region.offset, region.length, region.reversed, knots?.length ? numberOf(knots) : 0, region.fadeIn, region.fadeOut, crossed])
}

const MOST = 5000
const measured = new Map<string, RegionMeasure | 'asked'>()
const listeners = new Set<() => void>()
let version = 0

/** What a region measures at a clip gain of 0 dB, if it is known; else it is asked for, and `onMeasured` tells when it is there. */
export function measureOf(session: Session, region: Region): RegionMeasure | null {
  const key = contentKey(session, region)
  const known = measured.get(key)
  if (known) return known === 'asked' ? null : known
  void measure(session, region).catch(() => undefined)
  return null
}

/** The same as a promise. Rejects when the sound cannot be read. */
export async function measure(session: Session, region: Region): Promise<RegionMeasure> {
  const key = contentKey(session, region)
  const known = measured.get(key)
  if (known && known !== 'asked') return known
  measured.set(key, 'asked')
  try {
    const result = await analysis().measure(excerpt(session, [region.id]), region.id)
    if (measured.size > MOST) measured.clear()
    measured.set(key, result)
    version++
    for (const listener of listeners) listener()
    return result
  } catch (error) {
    measured.delete(key)
    throw error
  }
}

/** Calls back whenever something new was measured; returns the way to end that. */
export function onMeasured(listener: () => void): () => void {
  listeners.add(listener)
  return () => void listeners.delete(listener)
}

/** Grows with everything that was measured. */
export const measuredVersion = () => version

/** Loudness steps for finding phrases in a region. */
export const phraseSteps = (session: Session, region: Region): Promise<number[]> => analysis().phraseSteps(excerpt(session, [region.id]), region.id)

/** Peaks of every millisecond of a region, for finding silence. */
export const millisecondPeaks = (session: Session, region: Region): Promise<Float32Array> => analysis().millisecondPeaks(excerpt(session, [region.id]), region.id)
