import type { ThreadReader } from '../../curve/thread'
import type { ParameterReader, ProcessorSetup } from '../../dsp/processors'
import type { InsertKindName } from '../../model/inserts/insert-kinds'
import type { Crossfade, Fade, PanLaw, Track } from '../../model/session'

/** How long sound that came in matters, over all of a plan; in frames. */
export interface PlanMemory {
  /** Whether anything remembers: else every frame can be rendered by itself. */
  remembers: boolean
  /** By how much some strip is rendered ahead of what comes out, at most. */
  aheadFrames: number
  /** For how long what came in is remembered, along the longest way. */
  tailFrames: number
  /** How long something sounds on after the last region at most, along the longest way. */
  ringFrames: number
  /** After so many frames it no longer matters (by more than 1e-6) where rendering began. */
  settleFrames: number
  /** Samples that delays hold to repeat them, all together. */
  heldSamples: number
}

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
  /** What left and right are multiplied by before all gains; null for a region whose sides are as they are. */
  sides: readonly [number, number] | null
  /** Clip gain with polarity, linear. */
  gain: number
  /** The gain thread in source frames, null when it has no knots. */
  thread: ThreadReader | null
  fadeIn: Fade | null
  fadeOut: Fade | null
  crossIn: CrossfadeSide | null
  crossOut: CrossfadeSide | null
}

/** The fader and pan of a strip, flat for rendering. */
export interface FaderPlan {
  channels: 1 | 2
  /** By which law it is placed; null for the balance of a stereo signal. */
  law: PanLaw | null
  /** Trim with polarity, linear. */
  input: number
  /** Gain of a mono track whose inserts made it stereo: that of its pan law in the centre; else 1. */
  centre: number
  volume: number
  volumeLane: ThreadReader | null
  pan: number
  panMode: Track['panMode']
  panLane: ThreadReader | null
  panLeftLane: ThreadReader | null
  panRightLane: ThreadReader | null
}

/** An insert that acts, flat for rendering. */
export interface InsertPlan {
  id: string
  kind: InsertKindName
  setup: ProcessorSetup
  /** Where a lane bypasses it: 0 is heard, 1 is not. */
  bypass: ParameterReader | null
}

/** A way from a strip to a bus, or with null to the mix. */
export interface FeedPlan {
  /** A word for it that stays the same while the session changes. */
  key: string
  /** Whether it is the strip's output, and not a send. */
  isOutput: boolean
  to: string | null
  /** Where it is taken: after the inserts, after the pan but without the volume, or after both. */
  point: 'inserts' | 'pre' | 'post'
  /** The insert of `to` that it steers, and is no part of the sound of; null for one that is heard there. */
  sidechainOf: string | null
  /** Its level: a linear gain, or a lane of heights. */
  level: number
  lane: ThreadReader | null
}

/** A track or a bus, flat for rendering. */
export interface TrackPlan extends FaderPlan {
  id: string
  /** Whether anything of it is heard, and not only by inserts that it steers. */
  audible: boolean
  isBus: boolean
  /** None of a bus. */
  regions: RegionPlan[]
  /** Channels of what enters it; `channels` are those that come out of its inserts. */
  inputChannels: 1 | 2
  inserts: InsertPlan[]
  /** The ways on which it is heard, in order, and after them those on which it steers. It is rendered if it has any. */
  feeds: FeedPlan[]
}

/** The mix, flat for rendering. */
export interface MixPlan extends FaderPlan {
  inserts: InsertPlan[]
  /** Those after its volume and pan. */
  lastInserts: InsertPlan[]
}

/** A session made flat and sorted, all that rendering needs to know besides the samples. */
export interface RenderPlan {
  sampleRate: number
  /** The tracks in their order, then the buses in theirs. Meters count them so. */
  tracks: TrackPlan[]
  /** Places in `tracks`, so that each strip comes after all that feed it. */
  order: number[]
  /** The only strips that are put out below the mix, where some were asked for. */
  only: ReadonlySet<string> | null
  mix: MixPlan
  memory: PlanMemory
  /** Linear gain of listening only, such as for comparing at equal loudness; 1 in everything that is exported. */
  listen: number
  /** End of the last region, in frames. */
  length: number
}
