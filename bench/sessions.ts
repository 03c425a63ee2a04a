import { createSession, createTrack } from '../src/core/model/create'
import type { Knot, Session } from '../src/core/model/session'

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

/**
 * So many stereo tracks of noise, each with clip gain, a gain thread and volume and pan automation of a knot every
 * quarter second; with `sounding` fewer of them have a region.
 */
export function movingSession(
  tracks: number,
  seconds: number,
  stretches: Stretches,
  { from = 0, sounding = tracks }: { from?: number; sounding?: number } = {},
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
