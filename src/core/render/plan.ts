import { ThreadReader } from '../curve/thread'
import { parametersOf, type ApplyParameter, type Strip } from '../model/parameters'
import { isAudible, regionEnd, regionsByTrack } from '../model/queries'
import type { Crossfade, Fade, Lane, PanLaw, Region, Session, Track } from '../model/session'
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

export interface TrackPlan {
  id: string
  channels: 1 | 2
  audible: boolean
  regions: RegionPlan[]
  /** Track trim with polarity, linear. */
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

/** A session made flat and sorted, all that rendering needs to know besides the samples. */
export interface RenderPlan {
  sampleRate: number
  panLaw: PanLaw
  tracks: TrackPlan[]
  volume: number
  volumeLane: ThreadReader | null
  /** The balance of the mix. */
  pan: number
  panLane: ThreadReader | null
  afterPan: AppliedParameter[]
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
function readerOf(knots: Lane['knots'] | undefined, sampleRate: number): ThreadReader | null {
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

/** One region flat for rendering, without what lies around it. */
export function planRegion(
  session: Session,
  region: Region,
  sides: Sides | undefined,
  unshaped = false,
): RegionPlan {
  const thread = region.gainThreadId === null ? undefined : session.gainThreads[region.gainThreadId]?.knots
  return {
    id: region.id,
    sourceId: region.sourceId,
    channels: session.sources[region.sourceId]!.channels,
    sourceFrames: session.sources[region.sourceId]!.frames,
    sampleRate: session.sampleRate,
    start: region.start,
    end: regionEnd(region),
    sourceStart: region.reversed ? region.offset + region.length - 1 : region.offset,
    direction: region.reversed ? -1 : 1,
    gain: (unshaped ? 1 : dbToGain(region.clipGainDb)) * region.polarity,
    thread: unshaped ? null : readerOf(thread, session.sampleRate),
    fadeIn: unshaped ? null : region.fadeIn,
    fadeOut: unshaped ? null : region.fadeOut,
    crossIn: sides?.crossIn ?? null,
    crossOut: sides?.crossOut ?? null,
  }
}

/** The plan of a session, in the order of its tracks. The session must keep the rules. */
export function planSession(session: Session, options: PlanOptions = {}): RenderPlan {
  const unshaped = options.unshaped ?? false
  const sides = crossfadeSides(session, options.correlations)
  const byTrack = regionsByTrack(session.regions)
  const rate = session.sampleRate
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
      channels: track.channels,
      regions,
      audible:
        options.trackId !== undefined
          ? id === options.trackId
          : options.regionId !== undefined || isAudible(session, id),
      input: dbToGain(track.trimDb) * track.polarity,
      volume: fader(track.volumeDb),
      volumeLane: laneReader(track.lanes, 'volume', rate, unshaped),
      pan: track.pan,
      panMode: track.panMode,
      panLane: laneReader(track.lanes, 'pan', rate, unshaped),
      panLeftLane: laneReader(track.lanes, 'panLeft', rate, unshaped),
      panRightLane: laneReader(track.lanes, 'panRight', rate, unshaped),
      afterPan: appliedParameters(track, rate, unshaped),
    }
  })
  const { mix } = session
  return {
    sampleRate: rate,
    panLaw: session.panLaw,
    tracks,
    listen: options.listen ?? 1,
    length,
    volume: fader(mix.volumeDb),
    volumeLane: laneReader(mix.lanes, 'volume', rate, unshaped),
    pan: mix.pan ?? 0,
    panLane: laneReader(mix.lanes, 'pan', rate, unshaped),
    afterPan: appliedParameters(mix, rate, unshaped),
  }
}
