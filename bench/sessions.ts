import { createSession, createTrack } from '../src/core/model/create'
import type { Insert, Knot, Session } from '../src/core/model/session'

export const RATE = 48000

/** What the knots of all moving stretches look like. */
export type Stretches = Pick<Knot, 'shape' | 'bend'>

/** A knot every quarter second, between two values, for so many seconds. */
export const movingKnots = (
  seconds: number,
  seed: number,
  min: number,
  max: number,
  { shape, bend }: Stretches,
): Knot[] =>
  Array.from({ length: seconds * 4 }, (_, i) => ({
    frame: i * (RATE / 4),
    value: min + (max - min) * (0.5 + 0.5 * Math.sin(i * 1.7 + seed)),
    shape,
    bend,
  }))

/** Four filters and a compressor, as the yardstick has them. */
const FILTERS_AND_COMPRESSOR: Insert[] = [
  {
    id: 'equaliser',
    kind: 'equaliser',
    bypassed: false,
    values: Object.fromEntries(
      [80, 400, 2500, 9000].flatMap((hz, n) =>
        Object.entries({ on: true, frequencyHz: hz, gainDb: 3, q: 1 }).map(([key, value]) => [
          `b${n + 1}.${key}`,
          value,
        ]),
      ),
    ),
  },
  { id: 'compressor', kind: 'compressor', bypassed: false, values: { thresholdDb: -24, ratio: 4 } },
]

export interface MovingOptions {
  /** The session frame at which they begin. */
  from?: number
  /** How many of them have a region. */
  sounding?: number
  /** With four filters and a compressor each. */
  processed?: boolean
}

/**
 * So many stereo tracks of noise, each with clip gain, a gain thread and volume and pan automation of a knot every
 * quarter second.
 */
export function movingSession(
  tracks: number,
  seconds: number,
  stretches: Stretches,
  { from = 0, sounding = tracks, processed = false }: MovingOptions = {},
): Session {
  const session = createSession('bench', 'Bench', RATE)
  const frames = seconds * RATE
  for (let t = 0; t < tracks; t++) {
    const id = `t${t}`
    const knots = (seed: number, min: number, max: number) =>
      movingKnots(seconds, seed, min, max, stretches).map((k) => ({ ...k, frame: k.frame + from }))
    session.trackIds.push(id)
    session.tracks[id] = {
      ...createTrack(id, id, 2, t),
      inserts: processed ? FILTERS_AND_COMPRESSOR : [],
      lanes: {
        volume: { knots: knots(t, 0.3, 0.7), bypassed: false, visible: true },
        pan: { knots: knots(t + 9, -0.8, 0.8), bypassed: false, visible: true },
      },
    }
    if (t >= sounding) continue
    session.sources[id] = { id, name: id, channels: 2, frames, sampleRate: RATE, sha256: '0'.repeat(64) }
    session.gainThreads[id] = {
      id,
      knots: movingKnots(seconds, t + 3, 0.4, 0.7, stretches),
    }
    session.regions[id] = {
      id,
      trackId: id,
      sourceId: id,
      start: from,
      offset: 0,
      length: frames,
      name: id,
      clipGainDb: -3,
      polarity: 1,
      reversed: false,
      muted: false,
      gainThreadId: id,
      fadeIn: null,
      fadeOut: null,
    }
  }
  return session
}
