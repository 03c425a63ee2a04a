import { regionEnd } from '../../model/queries'
import type { Knot, Region, Session, Source } from '../../model/session'
import { dbToGain } from '../../units/decibel'
import { sideFactors } from '../../model/sides'
import { readerOf } from './lane-reader'
import type { CrossfadeSide, RegionPlan } from './render-plan'

/** The crossfades at a region's two ends. */
export interface Sides {
  crossIn: CrossfadeSide | null
  crossOut: CrossfadeSide | null
}

/** The measured ρ of crossfades, by their ids. */
export type Correlations = ReadonlyMap<string, number>

const NONE: Correlations = new Map()

/** The crossfades at the ends of every region that has any, by region id. */
export function crossfadeSides(session: Session, correlations: Correlations = NONE): Map<string, Sides> {
  const map = new Map<string, Sides>()
  const entry = (id: string) => map.get(id) ?? map.set(id, { crossIn: null, crossOut: null }).get(id)!
  for (const fade of Object.values(session.crossfades)) {
    const from = session.regions[fade.rightId]!.start
    const length = regionEnd(session.regions[fade.leftId]!) - from
    const side = { fade, from, length, correlation: correlations.get(fade.id) ?? 0 }
    entry(fade.leftId).crossOut = side
    entry(fade.rightId).crossIn = side
  }
  return map
}

/** Plans of regions as they were made last, with all that they were made of besides the region. */
const planned = new WeakMap<Region, { of: PlannedOf; plan: RegionPlan }>()

interface PlannedOf {
  source: Source
  knots: readonly Knot[] | undefined
  sampleRate: number
  crossIn: CrossfadeSide | null
  crossOut: CrossfadeSide | null
  unshaped: boolean
}

const sameSide = (a: CrossfadeSide | null, b: CrossfadeSide | null) =>
  a === b ||
  (a !== null &&
    b !== null &&
    a.fade === b.fade &&
    a.from === b.from &&
    a.length === b.length &&
    a.correlation === b.correlation)

const sameOf = (a: PlannedOf, b: PlannedOf) =>
  a.source === b.source &&
  a.knots === b.knots &&
  a.sampleRate === b.sampleRate &&
  a.unshaped === b.unshaped &&
  sameSide(a.crossIn, b.crossIn) &&
  sameSide(a.crossOut, b.crossOut)

/**
 * One region flat for rendering, without what lies around it. The same plan as before while nothing of it has changed: an
 * edit makes anew only what it is about.
 */
export function planRegion(
  session: Session,
  region: Region,
  sides: Sides | undefined,
  unshaped = false,
): RegionPlan {
  const of: PlannedOf = {
    source: session.sources[region.sourceId]!,
    knots: region.gainThreadId === null ? undefined : session.gainThreads[region.gainThreadId]?.knots,
    sampleRate: session.sampleRate,
    crossIn: sides?.crossIn ?? null,
    crossOut: sides?.crossOut ?? null,
    unshaped,
  }
  const known = planned.get(region)
  if (known && sameOf(known.of, of)) return known.plan
  const plan = newRegionPlan(region, of)
  planned.set(region, { of, plan })
  return plan
}

function newRegionPlan(
  region: Region,
  { source, knots, sampleRate, crossIn, crossOut, unshaped }: PlannedOf,
): RegionPlan {
  return {
    id: region.id,
    sourceId: region.sourceId,
    channels: source.channels,
    sourceFrames: source.frames,
    sampleRate,
    start: region.start,
    end: regionEnd(region),
    sourceStart: region.reversed ? region.offset + region.length - 1 : region.offset,
    direction: region.reversed ? -1 : 1,
    sides: source.channels === 2 ? sideFactors(region) : null,
    gain: (unshaped ? 1 : dbToGain(region.clipGainDb)) * region.polarity,
    thread: unshaped ? null : readerOf(knots, sampleRate),
    fadeIn: unshaped ? null : region.fadeIn,
    fadeOut: unshaped ? null : region.fadeOut,
    crossIn,
    crossOut,
  }
}
