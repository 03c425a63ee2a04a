import { hearKeys } from '../../model/sidechain'
import { regionEnd, regionsByTrack } from '../../model/queries'
import type { Region, Session } from '../../model/session'
import { rowIds, rowOf, sortedRows, soundingFeeds } from '../../model/strips'
import { planMemory, soundingEnd } from '../state/memory'
import { crossfadeSides, planRegion, type Correlations } from './plan-region'
import { planMix, planRow } from './plan-strip'
import type { RegionPlan, RenderPlan, TrackPlan } from './render-plan'

/** What to leave out of a plan. */
export interface PlanOptions {
  /** Without gain threads, lanes, clip gains and fades; crossfades stay. */
  unshaped?: boolean
  /** Only this track or bus, heard whether muted or not. */
  trackId?: string
  /** Only these. */
  trackIds?: readonly string[]
  /** Only this region. */
  regionId?: string
  /** Linear gain of listening only. */
  listen?: number
  /** ρ of crossfades by the level law (see `measureCorrelations`); 0 for those that are missing. */
  correlations?: Correlations
}

/** The order in which strips are rendered: each after all that it hears. */
function renderOrder(session: Session): number[] {
  const sorted = sortedRows(session)
  if ('circle' in sorted) throw new RangeError(`strips ${sorted.circle.join(', ')} form a circle`)
  const places = new Map(rowIds(session).map((id, place) => [id, place]))
  return sorted.order.map((id) => places.get(id)!)
}

/** The plan of a session, in the order of its tracks. The session must keep the rules. */
export function planSession(session: Session, options: PlanOptions = {}): RenderPlan {
  const unshaped = options.unshaped ?? false
  const sides = crossfadeSides(session, options.correlations)
  const byTrack = regionsByTrack(session.regions)
  const region = options.regionId === undefined ? undefined : session.regions[options.regionId]
  const only = options.trackIds ?? (options.trackId === undefined ? undefined : [options.trackId])
  const ways = hearKeys(session, soundingFeeds(session, only ?? (region && [region.trackId])))
  let length = 0
  const tracks = rowIds(session).map((id): TrackPlan => {
    const all = byTrack.get(id) ?? NO_REGIONS
    // Of a region that is rendered alone, what steers its track is whole.
    const others = ways.keys.length ? all : NO_REGIONS
    const wanted =
      options.regionId === undefined ? all : region?.trackId === id ? all.filter((r) => r === region) : others
    const regions: RegionPlan[] = []
    for (const r of wanted) {
      if (!options.regionId || r === region) length = Math.max(length, regionEnd(r))
      if (!r.muted) regions.push(planRegion(session, r, sides.get(r.id), unshaped))
    }
    return planRow(session, rowOf(session, id)!, regions, ways, unshaped)
  })
  const order = renderOrder(session)
  const mix = planMix(session, unshaped)
  return {
    sampleRate: session.sampleRate,
    tracks,
    order,
    only: only ? new Set(only) : null,
    mix,
    memory: planMemory(tracks, order, mix),
    listen: options.listen ?? 1,
    length,
  }
}

const NO_REGIONS: readonly Region[] = []

const lengths = new WeakMap<Session, number>()

/** Length of what a session sounds, in frames: to where its last region has died away; 0 where it has none. */
export function soundingLength(session: Session): number {
  const known = lengths.get(session) ?? soundingEnd(planSession(session)).end
  lengths.set(session, known)
  return known
}
