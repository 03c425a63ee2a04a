import { ThreadReader } from '../curve/thread'
import { parametersOf, type ApplyParameter, type Strip } from '../model/parameters'
import { regionEnd, regionsByTrack } from '../model/queries'
import type { Crossfade, Fade, Knot, Lane, PanLaw, Region, Session, Source, Track } from '../model/session'
import { dbToGain } from '../units/decibel'

/** One side of a crossfade as a region sees it: the overlap in session frames. */
export interface CrossfadeSide {
  fade: Crossfade
  from: number
  length: number
  /** ρ of the two regions over the overlap, for the level law. */
  correlation: number
}

/** A region made flat for rendering; frames are session frames unless said otherwise. */
export interface RegionPlan {
  id: string
  sourceId: string
  channels: 1 | 2
  /** Frames of the whole source. */
  sourceFrames: number
  sampleRate: number
  start: number
  end: number
  /** Source frame that plays at `start`, and +1 or -1 (reversed) per frame. */
  sourceStart: number
  direction: 1 | -1
  /** Clip gain with polarity, linear. */
  gain: number
  /** The gain thread in source frames, null when it has no knots. */
  thread: ThreadReader | null
  fadeIn: Fade | null
  fadeOut: Fade | null
  crossIn: CrossfadeSide | null
  crossOut: CrossfadeSide | null
}

/** A parameter that acts after the pan of a strip: its value on its scale, or the lane that moves it. */
export interface AppliedParameter {
  apply: ApplyParameter
  value: number
  lane: ThreadReader | null
}

/** The fader and pan of a strip, flat for rendering. */
export interface FaderPlan {
  channels: 1 | 2
  /** By which law it is placed; null for the balance of a stereo signal. */
  law: PanLaw | null
  /** Trim with polarity, linear. */
  input: number
  volume: number
  volumeLane: ThreadReader | null
  pan: number
  panMode: Track['panMode']
  panLane: ThreadReader | null
  panLeftLane: ThreadReader | null
  panRightLane: ThreadReader | null
  /** What acts after the pan, in order; without those that change nothing. */
  afterPan: AppliedParameter[]
}

export interface TrackPlan extends FaderPlan {
  id: string
  audible: boolean
  regions: RegionPlan[]
}

/** A session made flat and sorted, all that rendering needs to know besides the samples. */
export interface RenderPlan {
  sampleRate: number
  tracks: TrackPlan[]
  mix: FaderPlan
  /** Linear gain of listening only, such as for comparing at equal loudness; 1 in everything that is exported. */
  listen: number
  /** End of the last region, in frames. */
  length: number
}

/** What to leave out of a plan. */
export interface PlanOptions {
  /** Without gain threads, lanes, clip gains and fades; crossfades stay. */
  unshaped?: boolean
  /** Only this track, heard whether muted or not. */
  trackId?: string
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

/** The fader of a strip. The mix is stereo. */
function planFader(session: Session, strip: Strip, unshaped: boolean): FaderPlan {
  const channels = 'channels' in strip ? strip.channels : 2
  const lane = (key: string) => laneReader(strip.lanes, key, session.sampleRate, unshaped)
  return {
    channels,
    law: channels === 1 ? session.panLaw : null,
    input: dbToGain(strip.trimDb ?? 0) * ('polarity' in strip ? strip.polarity : 1),
    volume: fader(strip.volumeDb),
    volumeLane: lane('volume'),
    pan: strip.pan ?? 0,
    panMode: 'panMode' in strip ? strip.panMode : 'balance',
    panLane: lane('pan'),
    panLeftLane: lane('panLeft'),
    panRightLane: lane('panRight'),
    afterPan: appliedParameters(strip, session.sampleRate, unshaped),
  }
}

/** The plan of a session, in the order of its tracks. The session must keep the rules. */
export function planSession(session: Session, options: PlanOptions = {}): RenderPlan {
  const unshaped = options.unshaped ?? false
  const sides = crossfadeSides(session, options.correlations)
  const byTrack = regionsByTrack(session.regions)
  const rate = session.sampleRate
  const soloed = session.trackIds.some((id) => session.tracks[id]!.soloed)
  let length = 0
  const tracks = session.trackIds.map((id): TrackPlan => {
    const track = session.tracks[id]!
    const wanted =
      options.regionId === undefined
        ? (byTrack.get(id) ?? [])
        : (byTrack.get(id) ?? []).filter((r) => r.id === options.regionId)
    const regions = wanted
      .filter((r) => !r.muted)
      .map((r) => planRegion(session, r, sides.get(r.id), unshaped))
    for (const region of wanted) length = Math.max(length, regionEnd(region))
    return {
      id,
      regions,
      audible:
        options.trackId !== undefined
          ? id === options.trackId
          : options.regionId !== undefined || (!track.muted && (track.soloed || !soloed)),
      ...planFader(session, track, unshaped),
    }
  })
  return {
    sampleRate: rate,
    tracks,
    mix: planFader(session, session.mix, unshaped),
    listen: options.listen ?? 1,
    length,
  }
}
