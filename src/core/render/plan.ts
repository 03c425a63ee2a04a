import { ThreadReader } from '../curve/thread'
import { panMono } from '../dsp/pan'
import { ParameterReader, processorKind, type ProcessorSetup } from '../dsp/processors'
import { BYPASSED, insertKindOf, insertValue, type InsertParameter } from '../model/insert-kinds'
import { placedKnots } from '../model/lane-places'
import { insertLaneKey, parametersOf, sendLaneKey } from '../model/parameters'
import { regionEnd, regionsByTrack } from '../model/queries'
import {
  TO_MIX,
  type Insert,
  type Knot,
  type Lane,
  type Region,
  type Session,
  type Source,
} from '../model/session'
import {
  feedKey,
  lastInsertsOf,
  rowIds,
  rowOf,
  sortedBuses,
  soundingFeeds,
  type Row,
  type Strip,
} from '../model/strips'
import { dbToGain } from '../units/decibel'
import { planMemory, soundingEnd } from './memory'
import type {
  AppliedParameter,
  CrossfadeSide,
  FaderPlan,
  FeedPlan,
  InsertPlan,
  MixPlan,
  RegionPlan,
  RenderPlan,
  TrackPlan,
} from './render-plan'

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

const readers = new WeakMap<readonly unknown[], Map<number, ThreadReader>>()

/** A reader of knots, kept as long as the knots themselves, since plans are made anew after every edit. */
function readerOf(knots: readonly Knot[] | undefined, sampleRate: number): ThreadReader | null {
  if (!knots || knots.length === 0) return null
  const known = readers.get(knots) ?? new Map<number, ThreadReader>()
  readers.set(knots, known)
  const reader = known.get(sampleRate) ?? new ThreadReader(knots, sampleRate)
  known.set(sampleRate, reader)
  return reader
}

const laneReader = (lanes: Record<string, Lane>, key: string, sampleRate: number, unshaped: boolean) => {
  const lane = lanes[key]
  return !lane || lane.bypassed || unshaped ? null : readerOf(lane.knots, sampleRate)
}

const fader = (db: number | null) => (db === null ? 0 : dbToGain(db))

function appliedParameters(strip: Strip, sampleRate: number, unshaped: boolean): AppliedParameter[] {
  return parametersOf(strip).flatMap(({ key, apply, scale, lanePlain }) => {
    if (!apply) return []
    const lane = laneReader(strip.lanes, key, sampleRate, unshaped)
    const value = lanePlain(strip)
    return lane || value !== scale.plain ? [{ apply, value, lane }] : []
  })
}

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
    gain: (unshaped ? 1 : dbToGain(region.clipGainDb)) * region.polarity,
    thread: unshaped ? null : readerOf(knots, sampleRate),
    fadeIn: unshaped ? null : region.fadeIn,
    fadeOut: unshaped ? null : region.fadeOut,
    crossIn,
    crossOut,
  }
}

/** The fader of a strip whose inserts put out so many channels. The mix is stereo. */
function planFader(session: Session, strip: Strip, channels: 1 | 2, unshaped: boolean): FaderPlan {
  const own = 'channels' in strip ? strip.channels : 2
  const lane = (key: string) => laneReader(strip.lanes, key, session.sampleRate, unshaped)
  return {
    channels,
    law: channels === 1 ? session.panLaw : null,
    input: dbToGain(strip.trimDb ?? 0) * ('polarity' in strip ? strip.polarity : 1),
    centre: channels > own ? panMono(session.panLaw, 0).left : 1,
    volume: fader(strip.volumeDb),
    volumeLane: lane('volume'),
    pan: strip.pan ?? 0,
    panMode: 'panMode' in strip && channels === own ? strip.panMode : 'balance',
    panLane: lane('pan'),
    panLeftLane: lane('panLeft'),
    panRightLane: lane('panRight'),
    afterPan: appliedParameters(strip, session.sampleRate, unshaped),
  }
}

/** A reader of a parameter of an insert: its lane, or the value that stays. */
function parameterReader(
  session: Session,
  strip: Strip,
  insert: Insert,
  { key, scale, moves }: InsertParameter,
  unshaped: boolean,
): ParameterReader {
  const still = key === BYPASSED.key ? 0 : insertValue(insert, key)
  const lane = moves === 'never' ? undefined : strip.lanes[insertLaneKey(insert.id, key)]
  const reader =
    !lane || lane.bypassed || unshaped ? null : readerOf(placedKnots(scale, lane.knots), session.sampleRate)
  return new ParameterReader(still, reader, scale.toValue ?? null)
}

/** The inserts of a list that act, and the channels that come out of them. One that is bypassed is not there at all. */
function planInserts(
  session: Session,
  strip: Strip,
  list: readonly Insert[],
  channelsIn: 1 | 2,
  unshaped: boolean,
): { inserts: InsertPlan[]; channels: 1 | 2 } {
  let channels = channelsIn
  const inserts: InsertPlan[] = []
  for (const insert of list) {
    const bypass = parameterReader(session, strip, insert, BYPASSED, unshaped)
    if (!bypass.lane && insert.bypassed) continue
    const setup: ProcessorSetup = {
      sampleRate: session.sampleRate,
      tempo: session.tempo,
      channels,
      values: Object.fromEntries(
        insertKindOf(insert.kind).parameters.map((parameter) => [
          parameter.key,
          parameterReader(session, strip, insert, parameter, unshaped),
        ]),
      ),
    }
    inserts.push({ id: insert.id, kind: insert.kind, setup, bypass: bypass.lane ? bypass : null })
    channels = processorKind(insert.kind).channels(setup)
  }
  return { inserts, channels }
}

/** The ways on which a row is heard. */
function planFeeds(session: Session, row: Row, sounding: ReadonlySet<string>, unshaped: boolean): FeedPlan[] {
  const { id, output, sends, lanes } = row
  const feeds: FeedPlan[] = []
  const target = (to: string) => (to === TO_MIX ? null : to)
  const out = feedKey({ from: id, sendId: null })
  if (sounding.has(out))
    feeds.push({ key: out, isOutput: true, to: target(output), point: 'post', level: 1, lane: null })
  for (const send of sends) {
    const key = feedKey({ from: id, sendId: send.id })
    if (!sounding.has(key)) continue
    const lane = laneReader(lanes, sendLaneKey(send.id), session.sampleRate, unshaped)
    const level = fader(send.levelDb)
    feeds.push({ key, isOutput: false, to: target(send.to), point: send.point, level, lane })
  }
  return feeds
}

/** Rows as they were planned last, with what they were made of besides themselves. */
const plannedRows = new WeakMap<Row, { of: readonly unknown[]; plan: TrackPlan }>()

function planRow(
  session: Session,
  row: Row,
  regions: readonly RegionPlan[],
  sounding: ReadonlySet<string>,
  unshaped: boolean,
): TrackPlan {
  const heard = [null, ...row.sends.map((send) => send.id)].map((sendId) =>
    sounding.has(feedKey({ from: row.id, sendId })),
  )
  const of = [session.sampleRate, session.panLaw, session.tempo, unshaped, ...heard, ...regions]
  const known = plannedRows.get(row)
  if (known?.of.length === of.length && known.of.every((part, i) => part === of[i])) return known.plan
  const { inserts, channels } = planInserts(session, row, row.inserts, row.channels, unshaped)
  const feeds = planFeeds(session, row, sounding, unshaped)
  const plan: TrackPlan = {
    id: row.id,
    audible: feeds.length > 0,
    isBus: session.buses[row.id] !== undefined,
    regions: [...regions],
    inputChannels: row.channels,
    inserts,
    feeds,
    ...planFader(session, row, channels, unshaped),
  }
  plannedRows.set(row, { of, plan })
  return plan
}

function planMix(session: Session, unshaped: boolean): MixPlan {
  const { mix } = session
  const { inserts } = planInserts(session, mix, mix.inserts, 2, unshaped)
  const last = planInserts(session, mix, lastInsertsOf(mix), 2, unshaped)
  return { ...planFader(session, mix, 2, unshaped), inserts, lastInserts: last.inserts }
}

/** The order in which strips are rendered: tracks first, then buses after what feeds them. */
function renderOrder(session: Session): number[] {
  const sorted = sortedBuses(session)
  if ('circle' in sorted) throw new RangeError(`strips ${sorted.circle.join(', ')} form a circle`)
  const places = new Map(rowIds(session).map((id, place) => [id, place]))
  return [...session.trackIds, ...sorted.order].map((id) => places.get(id)!)
}

/** The plan of a session, in the order of its tracks. The session must keep the rules. */
export function planSession(session: Session, options: PlanOptions = {}): RenderPlan {
  const unshaped = options.unshaped ?? false
  const sides = crossfadeSides(session, options.correlations)
  const byTrack = regionsByTrack(session.regions)
  const region = options.regionId === undefined ? undefined : session.regions[options.regionId]
  const only = options.trackIds ?? (options.trackId === undefined ? undefined : [options.trackId])
  const sounding = soundingFeeds(session, only ?? (region && [region.trackId]))
  let length = 0
  const tracks = rowIds(session).map((id): TrackPlan => {
    const all = byTrack.get(id) ?? NO_REGIONS
    const wanted = options.regionId === undefined ? all : all.filter((r) => r.id === options.regionId)
    const regions: RegionPlan[] = []
    for (const r of wanted) {
      length = Math.max(length, regionEnd(r))
      if (!r.muted) regions.push(planRegion(session, r, sides.get(r.id), unshaped))
    }
    return planRow(session, rowOf(session, id)!, regions, sounding, unshaped)
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
