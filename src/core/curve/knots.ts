import type { Knot } from '../model/session'
import { dbToHeight, heightToDb, UNITY_HEIGHT } from '../units/taper'
import { threadValue } from './thread'

/** Lowest level that a shift in dB leads to; below, a thread is silent. */
const FLOOR_DB = -90

/** The height so many dB above (or below) another one, within 0…1; silence stays silence. */
export function shiftedHeight(height: number, byDb: number): number {
  if (height <= 0) return 0
  const db = heightToDb(height) + byDb
  return db < FLOOR_DB ? 0 : dbToHeight(db)
}

/** The value of a gain thread at a frame; a thread without knots is at 0 dB. */
export const gainAtFrame = (knots: readonly Knot[], frame: number): number => (knots.length === 0 ? UNITY_HEIGHT : threadValue(knots, frame))

const within = (x: number, low: number, high: number) => Math.max(low, Math.min(high, x))

/** The knots with one more on the drawn line at `frame`, or at `value` there. Returns it with its index. */
export function insertKnot(knots: readonly Knot[], frame: number, value = gainAtFrame(knots, frame)): { knots: Knot[]; index: number } {
  let index = knots.findIndex((k) => k.frame > frame)
  if (index < 0) index = knots.length
  const before = knots[index - 1]
  // The new knot goes on with the shape of the stretch that it divides.
  const knot: Knot = { frame, value: within(value, 0, 1), shape: before?.shape ?? 'line', bend: 0 }
  return { knots: [...knots.slice(0, index), knot, ...knots.slice(index)], index }
}

/**
 * The knots with some of them moved together: by frames, stopping at their neighbours, and in height, keeping their differences
 * until the first reaches an end. `indices` are sorted.
 */
export function moveKnots(knots: readonly Knot[], indices: readonly number[], byFrames: number, byHeight: number, limits: { min: number; max: number } = { min: 0, max: 1 }): Knot[] {
  const chosen = new Set(indices)
  let [left, right] = [-Infinity, Infinity]
  let [down, up] = [-Infinity, Infinity]
  for (const i of indices) {
    const knot = knots[i]!
    if (i > 0 && !chosen.has(i - 1)) left = Math.max(left, knots[i - 1]!.frame - knot.frame)
    if (i + 1 < knots.length && !chosen.has(i + 1)) right = Math.min(right, knots[i + 1]!.frame - knot.frame)
    down = Math.max(down, limits.min - knot.value)
    up = Math.min(up, limits.max - knot.value)
  }
  const frames = Math.round(within(byFrames, left, right))
  const height = within(byHeight, down, up)
  return knots.map((k, i) => (chosen.has(i) ? { ...k, frame: k.frame + frames, value: within(k.value + height, limits.min, limits.max) } : k))
}

/** The knots without some of them. */
export const removeKnots = (knots: readonly Knot[], indices: readonly number[]): Knot[] => knots.filter((_, i) => !indices.includes(i))

/**
 * Raises (or lowers) a gain thread by so many dB between two frames, with shoulders of so many frames inside its ends (0 makes steps).
 * On a plain thread this takes exactly four knots. Outside nothing changes; inside, what the thread did is kept and shifted. Doing it
 * again over the same range changes the level of the plateau that is there. Throws a RangeError when `to` is not after `from`.
 */
export function plateau(knots: readonly Knot[], from: number, to: number, byDb: number, shoulder: number): Knot[] {
  if (!(to > from)) throw new RangeError(`a plateau from ${from} to ${to} has no length`)
  const width = Math.min(Math.round(shoulder), Math.floor((to - from) / 2))
  const inner = { from: from + width, to: to - width }
  const existing = samePlateau(knots, from, to)
  if (existing) return knots.map((k, i) => (i === existing.high || i === existing.high + 1 ? { ...k, value: shiftedHeight(k.value, byDb) } : k))
  const line = (frame: number, value: number, shape: Knot['shape'] = 'line', bend = 0): Knot => ({ frame, value, shape, bend })
  const lastBefore = knots.filter((k) => k.frame <= inner.to).at(-1)
  const inside = knots.filter((k) => k.frame > inner.from && k.frame < inner.to).map((k) => ({ ...k, value: shiftedHeight(k.value, byDb) }))
  const entry = knots.filter((k) => k.frame <= inner.from).at(-1)
  const exit = knots.filter((k) => k.frame <= to).at(-1)
  return [
    ...knots.filter((k) => k.frame < from),
    line(from, gainAtFrame(knots, from)),
    line(inner.from, shiftedHeight(gainAtFrame(knots, inner.from), byDb), entry?.shape === 'hold' ? 'hold' : 'line'),
    ...inside,
    line(inner.to, shiftedHeight(gainAtFrame(knots, inner.to), byDb), lastBefore?.shape === 'hold' && width === 0 ? 'hold' : 'line'),
    line(to, gainAtFrame(knots, to), exit?.shape ?? 'line', exit?.frame === to ? exit.bend : 0),
    ...knots.filter((k) => k.frame > to),
  ]
}

/** Whether the range lies over a plateau that is there already: its four knots, `high` being the first of the upper two. */
function samePlateau(knots: readonly Knot[], from: number, to: number): { high: number } | null {
  const i = knots.findIndex((k, n) => n + 1 < knots.length && k.frame <= (from + to) / 2 && knots[n + 1]!.frame > (from + to) / 2)
  const [a, b, c, d] = [knots[i - 1], knots[i], knots[i + 1], knots[i + 2]]
  if (!a || !b || !c || !d || a.frame > from || d.frame < to) return null
  return b.value === c.value && a.value !== b.value && c.value !== d.value && b.frame - a.frame < (c.frame - b.frame) / 2 && d.frame - c.frame < (c.frame - b.frame) / 2 ? { high: i } : null
}
