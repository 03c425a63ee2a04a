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

/** Weaves of one lane, at most. */
export const MOST_WEAVES = 10_000

/** What a strip's output is called where it goes to the mix. */
export const TO_MIX = 'mix'

export const dyes = ['pine', 'rust', 'woad', 'heather', 'lichen', 'walnut'] as const
export const fadeCurves = ['linear', 'equal-power', 's-curve', 'exponential', 'logarithmic'] as const
export const crossfadeLaws = ['equal-gain', 'equal-power', 'level', 'free'] as const
export const panLaws = ['equal-power', '-4.5', '-6'] as const
export const stretchShapes = ['line', 's-curve', 'hold'] as const
export const weaveShapes = ['square', 'triangle', 'sine', 'ramp-up', 'ramp-down', 'random'] as const
