import { loudnessOf } from '../measure/loudness'
import type { GiveWay, Knot } from '../model/session'
import { dbToHeight } from '../units/taper'
import { multiplyThreads } from './even-out'
import { noiseAndSignal } from './noise-floor'

/** Seconds of one step in which the others are listened to. */
export const GIVE_WAY_STEP_SECONDS = 0.01

/** Frames from `from` to `to` in which the others sound. */
export interface Sounding {
  from: number
  to: number
}

/**
 * Settings of giving way as they are proposed first; the threshold only until the others were measured (see
 * `usualThreshold`).
 */
export const usualGiveWay: Omit<GiveWay, 'others' | 'base' | 'made'> = {
  depthDb: 9,
  attackMs: 150,
  holdMs: 250,
  releaseMs: 600,
  lookAheadMs: 50,
  gapMs: 800,
  thresholdLufs: -42,
}

/** The threshold (LUFS) that tells others from the noise between them, by their own levels. */
export const usualThreshold = (steps: readonly number[]): number =>
  noiseAndSignal(steps, GIVE_WAY_STEP_SECONDS).floor

/** A rest is at least so long, in seconds; shorter pauses belong to what sounds. */
const REST_SECONDS = 0.5

/** What lies so many LU below the louder tenth of a sound, or below this level, is silence in it. */
const BELOW_LU = 30
const SILENT_LUFS = -60

/**
 * The part 0…1 of a track's span, from where it first sounds to where it last does, in which it rests; 1 for silence.
 * `steps` are K-weighted mean squares as `whereOthersSound` takes them.
 */
export function restShare(steps: readonly number[]): number {
  const levels = steps.map((step) => loudnessOf(step))
  const loud = [...levels].filter((l) => l > SILENT_LUFS).sort((a, b) => b - a)
  if (loud.length === 0) return 1
  const silent = Math.max(SILENT_LUFS, loud[Math.floor(loud.length / 10)]! - BELOW_LU)
  const [first, last] = [levels.findIndex((l) => l > silent), levels.findLastIndex((l) => l > silent)]
  let [rests, run] = [0, 0]
  for (let i = first; i <= last; i++) {
    if (levels[i]! > silent) {
      if (run * GIVE_WAY_STEP_SECONDS >= REST_SECONDS) rests += run
      run = 0
    } else run++
  }
  return rests / (last - first + 1)
}

/** Tracks that rest for less than this part of their span are music that gives way; others are given way to. */
export const MUSIC_RESTS = 1 / 3

/** A ramp is at least this long, so that knots keep 5 ms between them. */
const SHORTEST_MS = 10

/**
 * Where the others sound, in session frames: where the K-weighted mean square of a step (from frame 0 on)
 * passes the threshold, held for a while, and joined over gaps that are too short for the level to come back
 * and go down again.
 */
export function whereOthersSound(
  steps: readonly number[],
  sampleRate: number,
  settings: Omit<GiveWay, 'others' | 'base' | 'made'>,
): Sounding[] {
  const frames = Math.round(sampleRate * GIVE_WAY_STEP_SECONDS)
  const ms = (n: number) => Math.round((n * sampleRate) / 1000)
  // Down to full depth and back again takes this long at the least.
  const least =
    ms(settings.holdMs + settings.releaseMs + settings.attackMs + settings.lookAheadMs) + ms(SHORTEST_MS)
  const gap = Math.max(least, ms(settings.gapMs))
  const out: Sounding[] = []
  steps.forEach((step, i) => {
    if (!(loudnessOf(step) > settings.thresholdLufs)) return
    const [from, to] = [i * frames, (i + 1) * frames]
    const last = out.at(-1)
    if (last && from - last.to < gap) last.to = to
    else out.push({ from, to })
  })
  return out
}

/**
 * The volume lane of music that gives way: what it does (`base`, with at least one knot) lowered by the depth
 * from before each place where the others sound until they have ended and the hold is over; four knots a
 * place.
 */
export function giveWayKnots(
  base: readonly Knot[],
  places: readonly Sounding[],
  settings: Omit<GiveWay, 'others' | 'base' | 'made'>,
  sampleRate: number,
): Knot[] {
  const ms = (n: number) => Math.round((n * sampleRate) / 1000)
  const attack = Math.max(ms(SHORTEST_MS), ms(settings.attackMs))
  const release = Math.max(ms(SHORTEST_MS), ms(settings.releaseMs))
  const knot = (frame: number, db: number): Knot => ({ frame, value: dbToHeight(db), shape: 'line', bend: 0 })
  const duck = places.flatMap(({ from, to }) => {
    const down = Math.max(0, from - ms(settings.lookAheadMs))
    const begin = Math.max(0, down - attack)
    const up = to + ms(settings.holdMs)
    return [
      ...(down - begin >= ms(5) ? [knot(begin, 0)] : []),
      knot(down, -settings.depthDb),
      knot(up, -settings.depthDb),
      knot(up + release, 0),
    ]
  })
  return duck.length ? multiplyThreads(base, duck) : [...base]
}
