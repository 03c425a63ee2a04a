import type { Remote } from 'comlink'
import type { RegionMeasure } from '../../core/measure/region-meter'
import type { Relation } from '../../core/curve/crossfade'
import { excerpt, soundExcerpt } from '../../core/model/excerpt'
import { identityOf } from '../../core/model/identity'
import type { StripMeasure } from '../../core/render'
import { overlapKey } from '../../core/render'
import type { PhraseSteps } from '../../core/suggest/even-out'
import { listSeams, seamKey, type MeasuredSeam, type Seam } from '../../core/suggest/seams'
import type { PhaseRelation } from '../../core/suggest/phase'
import type { Slip } from '../../core/suggest/slip'
import { regionsOf } from '../../core/model/queries'
import type { Region, Session } from '../../core/model/session'
import type { AnalysisWorker, OverlapPicture, Way } from './analysis.worker'
import { untilIdle } from '../worker'
import { callable } from '../worker'
import type { TrackPhase } from './track-phase'

let remote: Remote<AnalysisWorker> | null = null

/** The analysis worker. It starts with the first request, and anew after it was lost. */
function analysis(): Remote<AnalysisWorker> {
  if (remote) return remote
  const worker = new Worker(new URL('./analysis.worker.ts', import.meta.url), { type: 'module' })
  remote = callable<AnalysisWorker>(worker, () => {
    worker.terminate()
    remote = null
  })
  return remote
}

const keys = new WeakMap<
  Region,
  { threads: Session['gainThreads']; crossfades: Session['crossfades']; key: string }
>()

/** A key for everything that a region's sound depends on, except its clip gain. */
function contentKey(session: Session, region: Region): string {
  const known = keys.get(region)
  if (known && known.threads === session.gainThreads && known.crossfades === session.crossfades)
    return known.key
  const key = madeKey(session, region)
  keys.set(region, { threads: session.gainThreads, crossfades: session.crossfades, key })
  return key
}

function madeKey(session: Session, region: Region): string {
  const knots = region.gainThreadId === null ? null : session.gainThreads[region.gainThreadId]!.knots
  const crossed = Object.values(session.crossfades)
    .filter((x) => x.leftId === region.id || x.rightId === region.id)
    .map((x) => {
      const [left, right] = [session.regions[x.leftId]!, session.regions[x.rightId]!]
      return [x.law, x.out, x.in, x.rightId === region.id, left.start + left.length - right.start]
    })
  return JSON.stringify([
    session.sources[region.sourceId]!.sha256,
    region.offset,
    region.length,
    region.reversed,
    region.sides,
    knots?.length ? identityOf(knots) : 0,
    region.fadeIn,
    region.fadeOut,
    crossed,
  ])
}

const MOST_KNOWN_MEASURES = 5000
const measured = new Map<string, RegionMeasure | 'asked' | 'failed'>()
const listeners = new Set<() => void>()
let version = 0

/**
 * A region's measurement at a clip gain of 0 dB. Returns null while it is not known; it is then requested,
 * and `onMeasured` reports its arrival.
 */
export function measureOf(session: Session, region: Region): RegionMeasure | null {
  const key = contentKey(session, region)
  const known = measured.get(key)
  if (known) return typeof known === 'string' ? null : known
  void measure(session, region).catch(() => undefined)
  return null
}

/** Whether a region could not be measured; it is not tried again until its sound is another. */
export const measureFailed = (session: Session, region: Region): boolean =>
  measured.get(contentKey(session, region)) === 'failed'

/** Resolves as soon as the user is idle. */
export async function measure(session: Session, region: Region): Promise<RegionMeasure> {
  const key = contentKey(session, region)
  const known = measured.get(key)
  if (known && typeof known !== 'string') return known
  measured.set(key, 'asked')
  try {
    const result = await analysis().measure(soundExcerpt(session, [region.id]), region.id)
    if (measured.size > MOST_KNOWN_MEASURES) measured.clear()
    measured.set(key, result)
    told()
    return result
  } catch (error) {
    measured.set(key, 'failed')
    told()
    throw error
  }
}

/** Calls back after every new measurement. Returns a function that unsubscribes. */
export function onMeasured(listener: () => void): () => void {
  listeners.add(listener)
  return () => void listeners.delete(listener)
}

/** Increases with every measurement. */
export const measuredVersion = () => version

/** How two regions that sound at the same time stand to each other; null where they share too little. */
export const phaseOf = (session: Session, firstId: string, secondId: string): Promise<PhaseRelation | null> =>
  analysis().phase(soundExcerpt(session, [firstId, secondId]), firstId, secondId)

const ofTracks = (session: Session, trackIds: readonly string[]): Session =>
  excerpt(
    session,
    trackIds.flatMap((id) => regionsOf(session, id).map((r) => r.id)),
  )

/** What a track measures between two session frames after its trim and sides, before its inserts. */
export const measureTrack = (
  session: Session,
  trackId: string,
  from: number,
  to: number,
): Promise<RegionMeasure> => analysis().track(ofTracks(session, [trackId]), trackId, from, to)

/** How two tracks stand to each other as they leave their inserts; null where they do not sound together for long enough. */
export const phaseOfTracks = (
  session: Session,
  ids: readonly [string, string],
  from: number,
  to: number,
): Promise<TrackPhase | null> => analysis().trackPhase(ofTracks(session, ids), ids, from, to)

/** What phrases are found by in a region. */
export const phraseSteps = (session: Session, region: Region): Promise<PhraseSteps> =>
  analysis().phraseSteps(soundExcerpt(session, [region.id]), region.id)

/** Peaks of every millisecond of a region, for finding silence. */
export const millisecondPeaks = (session: Session, region: Region): Promise<Float32Array> =>
  analysis().millisecondPeaks(soundExcerpt(session, [region.id]), region.id)

const around = (session: Session, crossfadeId: string): Session => {
  const fade = session.crossfades[crossfadeId]!
  return soundExcerpt(session, [fade.leftId, fade.rightId])
}

const relations = new Map<string, Relation | 'asked'>()

/**
 * How the two sides of a crossfade relate. Returns null while it is not known; it is then requested, and
 * `onMeasured` reports its arrival.
 */
export function relationFor(session: Session, crossfadeId: string): Relation | null {
  const key = overlapKey(session, session.crossfades[crossfadeId]!)
  const known = relations.get(key)
  if (known) return known === 'asked' ? null : known
  relations.set(key, 'asked')
  analysis()
    .relation(around(session, crossfadeId), crossfadeId)
    .then(
      (relation) => {
        if (relations.size > MOST_KNOWN_MEASURES) relations.clear()
        relations.set(key, relation)
        told()
      },
      () => relations.delete(key),
    )
  return null
}

function told(): void {
  version++
  for (const listener of listeners) listener()
}

/** The best shift of a crossfade's incoming side. */
export const slipFor = (session: Session, crossfadeId: string): Promise<Slip> =>
  analysis().slip(around(session, crossfadeId), crossfadeId)

/** Both sides of a crossfade and their sum, in columns. */
export const overlapPicture = (
  session: Session,
  crossfadeId: string,
  columns: number,
): Promise<OverlapPicture> => analysis().picture(around(session, crossfadeId), crossfadeId, columns)

/** A track between two session frames as it leaves its inserts, with what turns it down there. */
export const measureStrip = (
  session: Session,
  trackId: string,
  from: number,
  to: number,
): Promise<StripMeasure> => analysis().strip(session, trackId, from, to)

/** The integrated loudness (LUFS) of a stretch, in several ways of listening. */
export const compareLoudness = (
  session: Session,
  from: number,
  to: number,
  ways: readonly Way[],
): Promise<number[]> => analysis().compare(session, from, to, ways)

/** How loud some tracks are together in every step, for giving way to them. */
export const tracksSteps = (session: Session, trackIds: readonly string[]): Promise<number[]> =>
  analysis().tracksSteps(session, trackIds)

const seams = new Map<string, MeasuredSeam>()
/** Number of seams per request. */
const BATCH = 24
/** Least time between two intermediate results, in milliseconds: each is a list of all. */
const TELL_MS = 250

/**
 * Measures all seams of a session that have changed since the last call. `onSome` receives intermediate
 * results and the number still to come. Stops early when `signal` is aborted.
 */
export async function measureSeams(
  session: Session,
  onSome: (known: MeasuredSeam[], waiting: number) => void,
  signal: AbortSignal,
): Promise<void> {
  const list = listSeams(session)
  const keyed: { seam: Seam; key: string; known?: MeasuredSeam }[] = []
  for (const [i, seam] of list.entries()) {
    keyed.push({ seam, key: seamKey(session, seam) })
    if (i % 100 === 99) await new Promise((resolve) => setTimeout(resolve))
    if (signal.aborted) return
  }
  let toldAt = 0
  const tell = () => {
    const known: MeasuredSeam[] = []
    for (const entry of keyed) {
      const measured = entry.known ? null : seams.get(entry.key)
      if (measured) entry.known = { ...measured, ...entry.seam }
      if (entry.known) known.push(entry.known)
    }
    onSome(known, list.length - known.length)
    toldAt = performance.now()
  }
  if (seams.size > 20 * MOST_KNOWN_MEASURES) seams.clear()
  tell()
  const missing = keyed.filter(({ key }) => !seams.has(key))
  for (let i = 0; i < missing.length; i += BATCH) {
    await untilIdle()
    if (signal.aborted) return
    const batch = missing.slice(i, i + BATCH)
    const ids = batch.flatMap(({ seam }) => [seam.leftId, seam.rightId].filter((id) => id !== null))
    const measured = await analysis().seams(
      soundExcerpt(session, neighbours(session, ids)),
      batch.map((b) => b.seam),
    )
    if (signal.aborted) return
    batch.forEach(({ key }, n) => seams.set(key, measured[n]!))
    if (i + BATCH >= missing.length || performance.now() - toldAt > TELL_MS) tell()
  }
}

/** The regions with those that lie beside them on their tracks. */
function neighbours(session: Session, ids: readonly string[]): string[] {
  const out = new Set(ids)
  for (const id of ids) {
    const row = regionsOf(session, session.regions[id]!.trackId)
    const at = row.findIndex((r) => r.id === id)
    for (const r of row.slice(Math.max(0, at - 1), at + 2)) out.add(r.id)
  }
  return [...out]
}
