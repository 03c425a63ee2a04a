import * as z from 'zod/mini'
import { insertKindNames } from './inserts/insert-kinds'
import {
  LIMITS,
  isReservedName,
  dyes,
  fadeCurves,
  crossfadeLaws,
  panLaws,
  stretchShapes,
  weaveShapes,
  MOST_WEAVES,
} from './limits'
import { integer, list, number, text } from './schema-fields'

const id = z.string().check(
  z.minLength(1),
  z.maxLength(120),
  z.refine((name) => !isReservedName(name), 'is a name that cannot be an id'),
)
const name = text(LIMITS.nameLength)
const frame = integer(0, LIMITS.frames)
const length = integer(1, LIMITS.frames)
const finite = z.number()
const polarity = z.union([z.literal(1), z.literal(-1)])
const bend = number(-1, 1)

export const tempoChangeSchema = z.strictObject({
  beat: z.number().check(z.minimum(0)),
  bpm: number(10, 1000),
  beatsPerBar: integer(1, 64),
  beatUnit: z.union([1, 2, 4, 8, 16, 32].map((n) => z.literal(n))),
})

/**
 * A point of a thread: `value` is a height 0…1 for gains, -1…1 for pan; `shape` and `bend` belong to the
 * stretch that begins here. `part` says which piece of the shape the stretch is (from, to; 0…1) when a longer
 * one was divided, so that dividing changes nothing.
 */
export const knotSchema = z.strictObject({
  frame: integer(-LIMITS.frames, LIMITS.frames),
  value: finite,
  shape: z.enum(stretchShapes),
  bend,
  part: z.optional(
    z
      .tuple([number(0, 1), number(0, 1)])
      .check(z.refine(([from, to]) => from < to, 'must begin before it ends')),
  ),
})

/**
 * What a volume lane that gives way to other tracks was made from: those tracks, the settings, and the knots
 * that it had before.
 */
export const giveWaySchema = z.strictObject({
  others: list(id, 1000, 1),
  depthDb: number(0, 60),
  attackMs: number(0, 5000),
  holdMs: number(0, 10_000),
  releaseMs: number(0, 20_000),
  lookAheadMs: number(0, 2000),
  gapMs: number(0, 20_000),
  thresholdLufs: number(-70, 0),
  base: z.array(knotSchema),
  /** A mark of how the others were when it was made, to notice that they have changed. */
  made: z.optional(text(40)),
})

/**
 * A repeating pattern: one cycle lasts a note value (in quarter notes, such as 0.75 for a dotted eighth) or so many
 * milliseconds; `low` and `high` are values of the thread; `phase` 0…1 is how far into its cycle it begins, `duty`
 * 0…1 the part of a square that is high, `seed` that of the random values.
 */
export const weaveSchema = z.strictObject({
  shape: z.enum(weaveShapes),
  period: z.union([
    z.strictObject({ beats: number(1 / 64, 1000) }),
    z.strictObject({ ms: number(1, 3_600_000) }),
  ]),
  low: finite,
  high: finite,
  phase: number(0, 1),
  duty: number(0, 1),
  seed: z.int(),
})

/**
 * A weave that lies in a lane between two frames. The cycles count from frame `origin`, which lies before `from` once
 * the weave was divided: so its pieces keep their phase. Its knots are among those of the lane.
 */
export const laneWeaveSchema = z.extend(weaveSchema, {
  from: frame,
  to: frame,
  origin: integer(-LIMITS.frames, LIMITS.frames),
})

export const laneSchema = z.strictObject({
  knots: z.array(knotSchema),
  bypassed: z.boolean(),
  visible: z.boolean(),
  giveWay: z.optional(giveWaySchema),
  /** The weaves of the lane, in the order of time; they do not overlap. */
  weaves: z.optional(list(laneWeaveSchema, MOST_WEAVES)),
})

/** Immutable audio. `sha256` is of the samples as 32-bit little-endian floats, interleaved. */
export const sourceSchema = z.strictObject({
  id,
  name,
  channels: z.union([z.literal(1), z.literal(2)]),
  frames: length,
  sampleRate: integer(LIMITS.sampleRate.min, LIMITS.sampleRate.max),
  sha256: z.string().check(z.regex(/^[0-9a-f]{64}$/)),
  /** Where the sound came from, in words for people: file name, original rate and depth. */
  origin: z.optional(z.strictObject({ fileName: name, sampleRate: finite, format: text(80) })),
})

/**
 * A fade at a region's edge: length in frames, `level` is the start level of a fade in or the end level of a
 * fade out, 0…1.
 */
export const gainFadeSchema = z.strictObject({
  kind: z.literal('gain'),
  length,
  curve: z.enum(fadeCurves),
  bend,
  level: number(0, 1),
  /**
   * Which frames of a longer fade these are, counted from that fade's silent end, when its region was divided inside
   * it: `length` frames from frame `from` of a fade of `of` frames. So dividing changes no sample.
   */
  piece: z.optional(z.strictObject({ from: integer(0, LIMITS.frames), of: length })),
})

/**
 * A tape start or stop over `length` frames: the playback rate is u^k or (1-u)^k. Curve, bend and level are
 * kept for when it is a gain fade again.
 */
export const tapeFadeSchema = z.strictObject({
  kind: z.literal('tape'),
  length,
  k: z.optional(number(0.5, 4)),
  curve: z.optional(z.enum(fadeCurves)),
  bend: z.optional(bend),
  level: z.optional(number(0, 1)),
})

export const fadeSchema = z.discriminatedUnion('kind', [gainFadeSchema, tapeFadeSchema])

const sideDb = number(-24, 24)

/** What left and right of a stereo sound are changed by, each by itself: gains in dB, and polarities. */
export const sidesSchema = z.strictObject({
  gainDb: z.tuple([sideDb, sideDb]),
  polarity: z.tuple([polarity, polarity]),
})

export const regionSchema = z.strictObject({
  id,
  trackId: id,
  sourceId: id,
  start: frame,
  offset: frame,
  length,
  name,
  clipGainDb: number(-72, 36),
  polarity,
  reversed: z.boolean(),
  muted: z.boolean(),
  gainThreadId: z.nullable(id),
  fadeIn: z.nullable(fadeSchema),
  fadeOut: z.nullable(fadeSchema),
  /** A dye of its own instead of its track's. */
  colour: z.optional(z.enum(dyes)),
  /** A locked region is neither moved nor trimmed nor deleted. */
  locked: z.optional(z.boolean()),
  /** Acts on a stereo source, before the clip gain. */
  sides: z.optional(sidesSchema),
  /** Of a rendered region: the track of what it was made from, and the muted one on which that is kept. */
  madeFrom: z.optional(z.strictObject({ trackId: id, keptId: id })),
})

const trimDb = number(-72, 36)
const faderDb = z.nullable(number(-72, 12))

/**
 * A processor of a strip. `values` holds what differs from its kind's defaults, by the keys of `INSERT_KINDS`; `key` is the
 * strip whose signal steers it, for kinds that listen to one.
 */
export const insertSchema = z.strictObject({
  id,
  kind: z.enum(insertKindNames),
  bypassed: z.boolean(),
  values: z.record(text(120), z.union([finite, z.boolean(), text(40), z.null()])),
  key: z.optional(z.nullable(id)),
})

const insertList = list(insertSchema, LIMITS.inserts)

/**
 * The other version of a strip's inserts, which is not heard, with the lanes of its inserts; `heard` says that the strip has
 * version B at present, and this is A.
 */
export const otherChainSchema = z.strictObject({
  inserts: insertList,
  lanes: z.record(z.string(), laneSchema),
  heard: z.boolean(),
})
const otherChain = z.optional(otherChainSchema)

/** What of a strip goes to a bus besides its output, taken after the pan: before the fader (`pre`) or after it (`post`). */
export const sendSchema = z.strictObject({
  id,
  to: id,
  levelDb: faderDb,
  muted: z.boolean(),
  point: z.enum(['pre', 'post']),
})

/** Where the gain of a region stood, when gain was moved from one side of the inserts to the other. */
export const movedRegionSchema = z.strictObject({
  clipGainDb: number(-72, 36),
  gainThreadId: z.nullable(id),
  knots: z.nullable(z.array(knotSchema)),
})

/** The same of a track's regions and its volume lane. */
export const gainStateSchema = z.strictObject({
  regions: z.record(id, movedRegionSchema),
  lane: z.nullable(laneSchema),
})

/** Gain that was moved to the other side of a track's inserts: how it was, and how it became, for the way back. */
export const movedGainSchema = z.strictObject({ id, before: gainStateSchema, after: gainStateSchema })

export const trackSchema = z.strictObject({
  id,
  name,
  colour: z.enum(dyes),
  channels: z.union([z.literal(1), z.literal(2)]),
  trimDb,
  polarity,
  muted: z.boolean(),
  soloed: z.boolean(),
  inserts: insertList,
  sends: list(sendSchema, LIMITS.sends),
  /** Where it goes: the mix, or a bus by its id. */
  output: id,
  volumeDb: faderDb,
  pan: number(-1, 1),
  panMode: z.enum(['balance', 'pair']),
  lanes: z.record(z.string(), laneSchema),
  chainB: otherChain,
  /** Acts on a stereo track or bus, after the trim and before the inserts. */
  sides: z.optional(sidesSchema),
  moved: z.optional(
    list(
      z.lazy(() => movedGainSchema),
      LIMITS.inserts,
    ),
  ),
})

/** A strip without regions that other strips are sent to, or go through. It is always stereo. */
export const busSchema = z.extend(trackSchema, { channels: z.literal(2) })

export const gainThreadSchema = z.strictObject({ id, knots: z.array(knotSchema) })

const side = z.strictObject({ curve: z.enum(fadeCurves), bend })

/**
 * The crossfade of two overlapping regions; its place is the overlap. `correlation` may tell readers of the
 * file what ρ was; rendering measures it.
 */
export const crossfadeSchema = z.strictObject({
  id,
  leftId: id,
  rightId: id,
  law: z.enum(crossfadeLaws),
  out: side,
  in: side,
  correlation: z.optional(number(-0.9, 1)),
})

/**
 * Tracks that were recorded together: an edit of a region goes to the regions of the other tracks that begin and end
 * with it. A track is in one group at most.
 */
export const groupSchema = z.strictObject({ id, name, trackIds: list(id, LIMITS.tracks) })

export const markerSchema = z.strictObject({ id, frame, name })

export const sessionSchema = z.strictObject({
  schema: z.literal('oaken-thread/session'),
  version: z.literal(2),
  id,
  title: name,
  sampleRate: integer(LIMITS.sampleRate.min, LIMITS.sampleRate.max),
  panLaw: z.enum(panLaws),
  tempo: list(tempoChangeSchema, 10_000, 1),
  trackIds: list(id, LIMITS.tracks),
  tracks: z.record(id, trackSchema),
  busIds: list(id, LIMITS.buses),
  buses: z.record(id, busSchema),
  regions: z.record(id, regionSchema),
  sources: z.record(id, sourceSchema),
  gainThreads: z.record(id, gainThreadSchema),
  crossfades: z.record(id, crossfadeSchema),
  markers: list(markerSchema, LIMITS.markers),
  groups: z.optional(list(groupSchema, LIMITS.tracks)),
  mix: z.strictObject({
    /** 0 dB where a file says nothing of it. */
    trimDb: z.optional(trimDb),
    volumeDb: faderDb,
    inserts: insertList,
    /** Those after its volume and pan; none where a file says nothing of them. */
    lastInserts: z.optional(insertList),
    lanes: z.record(z.string(), laneSchema),
    /** The balance of both sides; in the centre where a file says nothing of it. */
    pan: z.optional(number(-1, 1)),
    chainB: otherChain,
  }),
})
