import { z } from 'zod'
import { insertKindNames } from './inserts/insert-kinds'

/** Bounds that keep a session handleable; larger files are refused before memory is taken. */
export const LIMITS = {
  nameLength: 255,
  tracks: 1000,
  buses: 500,
  /** Inserts of one strip, and sends of one strip. */
  inserts: 64,
  sends: 64,
  regions: 200_000,
  sources: 100_000,
  /** Knots of all threads and lanes together. */
  knots: 1_000_000,
  markers: 10_000,
  /** Frames of a source or a position in the session: about 12 hours at 48 kHz. */
  frames: 2 ** 31 - 1,
  sampleRate: { min: 8000, max: 192_000 },
} as const

/**
 * Whether a text is the name of something that every object has, such as "constructor": looked up as an id it
 * would find that instead of an entity, so nothing may be called so.
 */
export const isReservedName = (text: string) => text in Object.prototype

const id = z
  .string()
  .min(1)
  .max(120)
  .refine((text) => !isReservedName(text), 'is a name that cannot be an id')
const name = z.string().max(LIMITS.nameLength)
const frame = z.int().min(0).max(LIMITS.frames)
const length = z.int().min(1).max(LIMITS.frames)
const finite = z.number()
/** What a strip's output is called where it goes to the mix. */
export const TO_MIX = 'mix'

const polarity = z.union([z.literal(1), z.literal(-1)])
const bend = z.number().min(-1).max(1)

export const dyes = ['pine', 'rust', 'woad', 'heather', 'lichen', 'walnut'] as const
export const fadeCurves = ['linear', 'equal-power', 's-curve', 'exponential', 'logarithmic'] as const
export const crossfadeLaws = ['equal-gain', 'equal-power', 'level', 'free'] as const
export const panLaws = ['equal-power', '-4.5', '-6'] as const
export const stretchShapes = ['line', 's-curve', 'hold'] as const
export const weaveShapes = ['square', 'triangle', 'sine', 'ramp-up', 'ramp-down', 'random'] as const

export const tempoChangeSchema = z.strictObject({
  beat: finite.min(0),
  bpm: finite.min(10).max(1000),
  beatsPerBar: z.int().min(1).max(64),
  beatUnit: z.union([1, 2, 4, 8, 16, 32].map((n) => z.literal(n))),
})

/**
 * A point of a thread: `value` is a height 0…1 for gains, -1…1 for pan; `shape` and `bend` belong to the
 * stretch that begins here. `part` says which piece of the shape the stretch is (from, to; 0…1) when a longer
 * one was divided, so that dividing changes nothing.
 */
export const knotSchema = z.strictObject({
  frame: z.int().min(-LIMITS.frames).max(LIMITS.frames),
  value: finite,
  shape: z.enum(stretchShapes),
  bend,
  part: z
    .tuple([z.number().min(0).max(1), z.number().min(0).max(1)])
    .refine(([from, to]) => from < to, 'must begin before it ends')
    .optional(),
})

/**
 * What a volume lane that gives way to other tracks was made from: those tracks, the settings, and the knots
 * that it had before.
 */
export const giveWaySchema = z.strictObject({
  others: z.array(id).min(1).max(1000),
  depthDb: z.number().min(0).max(60),
  attackMs: z.number().min(0).max(5000),
  holdMs: z.number().min(0).max(10_000),
  releaseMs: z.number().min(0).max(20_000),
  lookAheadMs: z.number().min(0).max(2000),
  gapMs: z.number().min(0).max(20_000),
  thresholdLufs: z.number().min(-70).max(0),
  base: z.array(knotSchema),
  /** A mark of how the others were when it was made, to notice that they have changed. */
  made: z.string().max(40).optional(),
})

/** Static values of parameters that have no field of their own, by their keys; those that are not listed are plain. */
const values = z.record(z.string().max(120), finite).optional()

/**
 * A repeating pattern: one cycle lasts a note value (in quarter notes, such as 0.75 for a dotted eighth) or so many
 * milliseconds; `low` and `high` are values of the thread; `phase` 0…1 is how far into its cycle it begins, `duty`
 * 0…1 the part of a square that is high, `seed` that of the random values.
 */
export const weaveSchema = z.strictObject({
  shape: z.enum(weaveShapes),
  period: z.union([
    z.strictObject({ beats: finite.min(1 / 64).max(1000) }),
    z.strictObject({ ms: finite.min(1).max(3_600_000) }),
  ]),
  low: finite,
  high: finite,
  phase: z.number().min(0).max(1),
  duty: z.number().min(0).max(1),
  seed: z.int(),
})

/**
 * A weave that lies in a lane between two frames. The cycles count from frame `origin`, which lies before `from` once
 * the weave was divided: so its pieces keep their phase. Its knots are among those of the lane.
 */
export const laneWeaveSchema = weaveSchema.extend({
  from: frame,
  to: frame,
  origin: z.int().min(-LIMITS.frames).max(LIMITS.frames),
})

/** Weaves of one lane, at most. */
export const MOST_WEAVES = 10_000

export const laneSchema = z.strictObject({
  knots: z.array(knotSchema),
  bypassed: z.boolean(),
  visible: z.boolean(),
  giveWay: giveWaySchema.optional(),
  /** The weaves of the lane, in the order of time; they do not overlap. */
  weaves: z.array(laneWeaveSchema).max(MOST_WEAVES).optional(),
})

/** Immutable audio. `sha256` is of the samples as 32-bit little-endian floats, interleaved. */
export const sourceSchema = z.strictObject({
  id,
  name,
  channels: z.union([z.literal(1), z.literal(2)]),
  frames: length,
  sampleRate: z.int().min(LIMITS.sampleRate.min).max(LIMITS.sampleRate.max),
  sha256: z.string().regex(/^[0-9a-f]{64}$/),
  /** Where the sound came from, in words for people: file name, original rate and depth. */
  origin: z.strictObject({ fileName: name, sampleRate: finite, format: z.string().max(80) }).optional(),
})

/**
 * A fade at a region's edge: length in frames, `level` is the start level of a fade in or the end level of a
 * fade out, 0…1.
 */
const gainFadeSchema = z.strictObject({
  kind: z.literal('gain'),
  length,
  curve: z.enum(fadeCurves),
  bend,
  level: z.number().min(0).max(1),
  /**
   * Which frames of a longer fade these are, counted from that fade's silent end, when its region was divided inside
   * it: `length` frames from frame `from` of a fade of `of` frames. So dividing changes no sample.
   */
  piece: z.strictObject({ from: z.int().min(0).max(LIMITS.frames), of: length }).optional(),
})

/**
 * A tape start or stop over `length` frames: the playback rate is u^k or (1-u)^k. Curve, bend and level are
 * kept for when it is a gain fade again.
 */
const tapeFadeSchema = z.strictObject({
  kind: z.literal('tape'),
  length,
  k: z.number().min(0.5).max(4).optional(),
  curve: z.enum(fadeCurves).optional(),
  bend: bend.optional(),
  level: z.number().min(0).max(1).optional(),
})

export const fadeSchema = z.discriminatedUnion('kind', [gainFadeSchema, tapeFadeSchema])

const sideDb = z.number().min(-24).max(24)

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
  clipGainDb: z.number().min(-72).max(36),
  polarity,
  reversed: z.boolean(),
  muted: z.boolean(),
  gainThreadId: id.nullable(),
  fadeIn: fadeSchema.nullable(),
  fadeOut: fadeSchema.nullable(),
  /** A dye of its own instead of its track's. */
  colour: z.enum(dyes).optional(),
  /** A locked region is neither moved nor trimmed nor deleted. */
  locked: z.boolean().optional(),
  /** Acts on a stereo source, before the clip gain. */
  sides: sidesSchema.optional(),
  /** Of a rendered region: the track of what it was made from, and the muted one on which that is kept. */
  madeFrom: z.strictObject({ trackId: id, keptId: id }).optional(),
})

const trimDb = z.number().min(-72).max(36)
const faderDb = z.number().min(-72).max(12).nullable()

/**
 * A processor of a strip. `values` holds what differs from its kind's defaults, by the keys of `INSERT_KINDS`; `key` is the
 * strip whose signal steers it, for kinds that listen to one.
 */
export const insertSchema = z.strictObject({
  id,
  kind: z.enum(insertKindNames),
  bypassed: z.boolean(),
  values: z.record(z.string().max(120), z.union([finite, z.boolean(), z.string().max(40), z.null()])),
  key: id.nullable().optional(),
})

const insertList = z.array(insertSchema).max(LIMITS.inserts)

/**
 * The other version of a strip's inserts, which is not heard, with the lanes of its inserts; `heard` says that the strip has
 * version B at present, and this is A.
 */
export const otherChainSchema = z.strictObject({
  inserts: insertList,
  lanes: z.record(z.string(), laneSchema),
  heard: z.boolean(),
})
const otherChain = otherChainSchema.optional()

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
  clipGainDb: z.number().min(-72).max(36),
  gainThreadId: id.nullable(),
  knots: z.array(knotSchema).nullable(),
})

/** The same of a track's regions and its volume lane. */
export const gainStateSchema = z.strictObject({
  regions: z.record(id, movedRegionSchema),
  lane: laneSchema.nullable(),
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
  sends: z.array(sendSchema).max(LIMITS.sends),
  /** Where it goes: the mix, or a bus by its id. */
  output: id,
  volumeDb: faderDb,
  pan: z.number().min(-1).max(1),
  panMode: z.enum(['balance', 'pair']),
  lanes: z.record(z.string(), laneSchema),
  values,
  chainB: otherChain,
  /** Acts on a stereo track or bus, after the trim and before the inserts. */
  sides: sidesSchema.optional(),
  moved: z
    .array(z.lazy(() => movedGainSchema))
    .max(LIMITS.inserts)
    .optional(),
})

/** A strip without regions that other strips are sent to, or go through. It is always stereo. */
export const busSchema = trackSchema.extend({ channels: z.literal(2) })

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
  correlation: z.number().min(-0.9).max(1).optional(),
})

/**
 * Tracks that were recorded together: an edit of a region goes to the regions of the other tracks that begin and end
 * with it. A track is in one group at most.
 */
export const groupSchema = z.strictObject({ id, name, trackIds: z.array(id).max(LIMITS.tracks) })

export const markerSchema = z.strictObject({ id, frame, name })

export const sessionSchema = z.strictObject({
  schema: z.literal('oaken-thread/session'),
  version: z.literal(2),
  id,
  title: name,
  sampleRate: z.int().min(LIMITS.sampleRate.min).max(LIMITS.sampleRate.max),
  panLaw: z.enum(panLaws),
  tempo: z.array(tempoChangeSchema).min(1).max(10_000),
  trackIds: z.array(id).max(LIMITS.tracks),
  tracks: z.record(id, trackSchema),
  busIds: z.array(id).max(LIMITS.buses),
  buses: z.record(id, busSchema),
  regions: z.record(id, regionSchema),
  sources: z.record(id, sourceSchema),
  gainThreads: z.record(id, gainThreadSchema),
  crossfades: z.record(id, crossfadeSchema),
  markers: z.array(markerSchema).max(LIMITS.markers),
  groups: z.array(groupSchema).max(LIMITS.tracks).optional(),
  mix: z.strictObject({
    /** 0 dB where a file says nothing of it. */
    trimDb: trimDb.optional(),
    volumeDb: faderDb,
    inserts: insertList,
    /** Those after its volume and pan; none where a file says nothing of them. */
    lastInserts: insertList.optional(),
    lanes: z.record(z.string(), laneSchema),
    /** The balance of both sides; in the centre where a file says nothing of it. */
    pan: z.number().min(-1).max(1).optional(),
    values,
    chainB: otherChain,
  }),
})

export type Session = z.infer<typeof sessionSchema>
export type Track = z.infer<typeof trackSchema>
export type Bus = z.infer<typeof busSchema>
export type Mix = Session['mix']
export type Insert = z.infer<typeof insertSchema>
export type MovedGain = z.infer<typeof movedGainSchema>
export type Send = z.infer<typeof sendSchema>
export type Region = z.infer<typeof regionSchema>
export type Source = z.infer<typeof sourceSchema>
export type SidesChange = z.infer<typeof sidesSchema>
export type Fade = z.infer<typeof fadeSchema>
export type GainFade = z.infer<typeof gainFadeSchema>
export type TapeFade = z.infer<typeof tapeFadeSchema>
export type FadeCurve = (typeof fadeCurves)[number]
export type Knot = z.infer<typeof knotSchema>
export type Lane = z.infer<typeof laneSchema>
export type Weave = z.infer<typeof weaveSchema>
export type WeaveShape = (typeof weaveShapes)[number]
export type LaneWeave = z.infer<typeof laneWeaveSchema>
export type GiveWay = z.infer<typeof giveWaySchema>
export type GainThread = z.infer<typeof gainThreadSchema>
export type Crossfade = z.infer<typeof crossfadeSchema>
export type CrossfadeLaw = (typeof crossfadeLaws)[number]
export type Group = z.infer<typeof groupSchema>
export type Marker = z.infer<typeof markerSchema>
export type PanLaw = (typeof panLaws)[number]
export type Dye = (typeof dyes)[number]
