import { clamp } from '../../../core/units/clamp'
import type { GiveWay } from '../../../core/model/session'

/** What the picture of giving way shows: times in milliseconds, the depth in dB. */
export type GiveWayShape = Pick<GiveWay, 'attackMs' | 'lookAheadMs' | 'holdMs' | 'releaseMs' | 'depthDb'>

/** The corners of the picture: where the level begins to go down, is down, begins to come up, is back. */
export type HandleName = 'begins' | 'down' | 'up' | 'back'

const TIMES = { begins: 'attackMs', down: 'lookAheadMs', up: 'holdMs', back: 'releaseMs' } as const

/** The longest times, in milliseconds, by the corner that sets them, and the greatest depth in dB. */
export const GIVE_WAY_LIMITS = { begins: 5000, down: 2000, up: 10_000, back: 20_000, depthDb: 60 }

/** Size of the picture, in its own pixels. */
export const PICTURE = { width: 352, height: 84 }

/**
 * How long the sound of the others lasts in the picture, in milliseconds, and how much time there is around
 * all of it, as a part of it.
 */
const SOUND_MS = 600
const AROUND = 0.12
/** Height of no change, and of the deepest that is shown (dB, pixels). */
const TOP = 12
const DEEPEST = { db: 30, y: 60 }

/** Where the others begin and end in the picture, and how many pixels a millisecond and a dB are. */
export interface PictureScale {
  begin: number
  end: number
  pixelsPerMs: number
  pixelsPerDb: number
}

/** The scale at which all of a shape is seen. */
export function pictureScale({ attackMs, lookAheadMs, holdMs, releaseMs }: GiveWayShape): PictureScale {
  const total = attackMs + lookAheadMs + SOUND_MS + holdMs + releaseMs
  const pixelsPerMs = PICTURE.width / (total * (1 + 2 * AROUND))
  const begin = (total * AROUND + attackMs + lookAheadMs) * pixelsPerMs
  return {
    begin,
    end: begin + SOUND_MS * pixelsPerMs,
    pixelsPerMs,
    pixelsPerDb: (DEEPEST.y - TOP) / DEEPEST.db,
  }
}

/** Where the corners of a shape stand in the picture, with the time that each sets. */
export function handlesOf(
  shape: GiveWayShape,
  { begin, end, pixelsPerMs, pixelsPerDb }: PictureScale,
): Record<HandleName, { x: number; y: number; ms: number }> {
  const deep = TOP + Math.min(DEEPEST.db, shape.depthDb) * pixelsPerDb
  const down = begin - shape.lookAheadMs * pixelsPerMs
  const up = end + shape.holdMs * pixelsPerMs
  return {
    begins: { x: down - shape.attackMs * pixelsPerMs, y: TOP, ms: shape.attackMs },
    down: { x: down, y: deep, ms: shape.lookAheadMs },
    up: { x: up, y: deep, ms: shape.holdMs },
    back: { x: up + shape.releaseMs * pixelsPerMs, y: TOP, ms: shape.releaseMs },
  }
}

/**
 * The shape after a corner went so many milliseconds to the right and so many dB down: its own time changes,
 * the inner corners change the depth too. In steps of 5 ms and half a dB, finely of 1 ms and a tenth, and
 * within the limits.
 */
export function afterDrag(
  shape: GiveWayShape,
  name: HandleName,
  byMs: number,
  byDb: number,
  fine: boolean,
): GiveWayShape {
  const stepped = (value: number, step: number, max: number) =>
    clamp(Math.round(Math.round(value / step) * step * 100) / 100, 0, max)
  // To the left of the others, time counts to the left.
  const towards = name === 'begins' || name === 'down' ? -1 : 1
  const time = TIMES[name]
  return {
    ...shape,
    [time]: byMs ? stepped(shape[time] + towards * byMs, fine ? 1 : 5, GIVE_WAY_LIMITS[name]) : shape[time],
    depthDb:
      byDb && (name === 'down' || name === 'up')
        ? stepped(shape.depthDb + byDb, fine ? 0.1 : 0.5, GIVE_WAY_LIMITS.depthDb)
        : shape.depthDb,
  }
}
