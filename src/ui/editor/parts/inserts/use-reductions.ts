import { insertKindOf } from '../../../../core/model/inserts/insert-kinds'
import { useEffect, useRef, useState } from 'react'
import { regionEnd } from '../../../../core/model/queries'
import type { Insert, Region, Session, Track } from '../../../../core/model/session'
import type { StripMeasure } from '../../../../core/render'
import { measureStrip } from '../../../../engine/background'

/** How long nothing must change before it is measured, in milliseconds, and the longest stretch that is, in seconds. */
const CALM = 350
const LONGEST_SECONDS = 120

export const compressorsOf = (track: Track | undefined): Insert[] =>
  track?.inserts.filter(({ kind, bypassed }) => insertKindOf(kind).reduces === 'loud' && !bypassed) ?? []

/** By how many dB the compressing inserts of a track turn it down together, in steps of `REDUCTION_STEP` frames. */
export function totalReduction({ reductions }: StripMeasure, inserts: readonly Insert[]): Float32Array {
  const chosen = reductions.filter(({ insertId }) => inserts.some(({ id }) => id === insertId))
  const sum = new Float32Array(Math.max(0, ...chosen.map(({ db }) => db.length)))
  for (const { db } of chosen) db.forEach((value, i) => (sum[i] = sum[i]! + value))
  return sum
}

/** How much a region is turned down by its track's inserts, now and before the last change; steps from its start. */
export interface Reductions {
  now: Float32Array
  before: Float32Array | null
}

/** What the inserts of a region's track turn it down by, read from the renderer; null where nothing does, or nothing is known yet. */
export function useReductions(session: Session, region: Region | null): Reductions | null {
  const track = region ? session.tracks[region.trackId] : undefined
  const inserts = compressorsOf(track)
  const wanted =
    region && inserts.length > 0 && region.length <= LONGEST_SECONDS * session.sampleRate ? region.id : null
  const [known, setKnown] = useState<(Reductions & { of: string; session: Session }) | null>(null)
  const latest = useRef(known)
  useEffect(() => void (latest.current = known), [known])
  useEffect(() => {
    if (wanted === null) return
    const now = session.regions[wanted]!
    let over = false
    const timer = window.setTimeout(() => {
      if (latest.current?.session === session) return
      void measureStrip(session, now.trackId, now.start, regionEnd(now)).then(
        (measure) => {
          if (over) return
          const db = totalReduction(measure, compressorsOf(session.tracks[now.trackId]))
          const last = latest.current
          const same = last?.of === wanted && last.now.length === db.length
          // What did not change it leaves what was before.
          if (same && last.now.every((x, i) => Math.abs(x - db[i]!) < 0.05)) return
          setKnown({ of: wanted, session, now: db, before: same ? last.now : null })
        },
        // Sound that is missing is told of elsewhere.
        () => undefined,
      )
    }, CALM)
    return () => {
      over = true
      window.clearTimeout(timer)
    }
  }, [session, wanted])
  return known && known.of === wanted ? known : null
}

/** The mean of a reduction where it, or the other one, does anything, and its largest; dB. */
export function reductionFigures(
  db: Float32Array,
  other: Float32Array | null,
): { mean: number; most: number } {
  let [sum, count, most] = [0, 0, 0]
  db.forEach((value, i) => {
    most = Math.max(most, value)
    if (value < 0.1 && !((other?.[i] ?? 0) >= 0.1)) return
    sum += value
    count++
  })
  return { mean: count ? sum / count : 0, most }
}

/** The same in words: "turned down 4.3 dB, 2.1 dB less than before". */
export function reductionWords({ now, before }: Reductions): string {
  const { mean, most } = reductionFigures(now, before)
  const one = (db: number) => `${db.toFixed(1)} dB`
  const figures = most < 0.1 ? 'Not turned down' : `Turned down ${one(mean)}, at most ${one(most)}`
  if (!before) return `${figures}.`
  const change = mean - reductionFigures(before, now).mean
  if (Math.abs(change) < 0.1) return `${figures}.`
  return `${figures}: compresses ${one(Math.abs(change))} ${change < 0 ? 'less' : 'more'} than before the change.`
}
