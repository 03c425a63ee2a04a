import { clamp } from '../units/clamp'
import type { Knot } from '../model/session'
import { gainScale, panScale, type Scale } from '../units/scale'
import { arrivingValue, knotBefore, threadValue } from './thread'
import { thin, type RawPoint } from './thin'

/** What a thread's values are, and the value that it has without knots. */
export interface ThreadKind extends Scale {
  neutral: number
}

/** Threads on a scale that are at `neutral` without knots. */
export const threadKind = (scale: Scale, neutral = scale.defaultValue): ThreadKind => ({ ...scale, neutral })

/** Gain threads and volume lanes; without knots a lane is at its fader, given as a height. */
export const gainKind = (neutral?: number): ThreadKind => threadKind(gainScale, neutral)

/** Pan lanes; without knots a lane is at its static pan. */
export const panKind = (neutral?: number): ThreadKind => threadKind(panScale, neutral)

const gain = gainKind()

/** The value of a thread at a frame; one without knots is neutral. */
export const valueAt = (kind: ThreadKind, knots: readonly Knot[], frame: number): number =>
  knots.length === 0 ? kind.neutral : threadValue(knots, frame)

/**
 * The two pieces of the stretch that begins at a knot, divided at `u` in 0 < u < 1; they draw the same line
 * as before.
 */
function dividedShape(
  knot: Knot,
  u: number,
): [Pick<Knot, 'shape' | 'bend' | 'part'>, Pick<Knot, 'shape' | 'bend' | 'part'>] {
  const { shape, bend } = knot
  if (shape === 'hold' || (shape === 'line' && bend === 0))
    return [
      { shape, bend },
      { shape, bend },
    ]
  const [from, to] = knot.part ?? [0, 1]
  const middle = from + (to - from) * u
  return [
    { shape, bend, part: [from, middle] },
    { shape, bend, part: [middle, to] },
  ]
}

/**
 * The knots with one more at `frame`: on the drawn line, which stays as it is, or at `value`. Returns them
 * with the new one's index; where a knot is on that frame already it gets the value.
 */
export function insertKnot(
  knots: readonly Knot[],
  frame: number,
  value?: number,
  kind: ThreadKind = gain,
): { knots: Knot[]; index: number } {
  const at = knotBefore(knots, frame)
  const before = knots[at]
  if (before?.frame === frame)
    return {
      knots:
        value === undefined
          ? [...knots]
          : knots.map((k, i) => (i === at ? { ...k, value: clamp(value, kind.min, kind.max) } : k)),
      index: at,
    }
  const next = knots[at + 1]
  const drawn = valueAt(kind, knots, frame)
  const [first, second] =
    before && next
      ? dividedShape(before, (frame - before.frame) / (next.frame - before.frame))
      : [undefined, { shape: 'line' as const, bend: 0 }]
  const knot: Knot = { frame, value: clamp(value ?? drawn, kind.min, kind.max), ...second }
  const head = knots.slice(0, at + 1)
  if (first && before) head[at] = { frame: before.frame, value: before.value, ...first }
  return { knots: [...head, knot, ...knots.slice(at + 1)], index: at + 1 }
}

/** The knots with some of them replaced; those of other indices stay the same objects. */
function changed(knots: readonly Knot[], indices: readonly number[], change: (knot: Knot) => Knot): Knot[] {
  const next = knots.slice()
  for (const i of indices) if (next[i]) next[i] = change(next[i])
  return next
}

/**
 * The knots with some of them moved together: by frames, stopping at their neighbours, and in value, keeping
 * their differences until the first reaches an end. `indices` are sorted.
 */
export function moveKnots(
  knots: readonly Knot[],
  indices: readonly number[],
  byFrames: number,
  byValue: number,
  limits: { min: number; max: number } = gain,
): Knot[] {
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
  const frames = Math.round(clamp(byFrames, left, right))
  const value = clamp(byValue, down, up)
  return changed(knots, indices, (k) => ({
    ...k,
    frame: k.frame + frames,
    value: clamp(k.value + value, limits.min, limits.max),
  }))
}

/** The knots without some of them. */
export function removeKnots(knots: readonly Knot[], indices: readonly number[]): Knot[] {
  const removed = new Set(indices)
  return knots.filter((_, i) => !removed.has(i))
}

/** The knots with the values of some of them changed, within the kind's range. */
export const mapValues = (
  kind: ThreadKind,
  knots: readonly Knot[],
  indices: readonly number[],
  change: (value: number) => number,
): Knot[] => changed(knots, indices, (k) => ({ ...k, value: clamp(change(k.value), kind.min, kind.max) }))

/**
 * The knots with some of them scaled in value about `about`: `factor` 0.5 halves their distance to it, 0 puts
 * all there. They stay within the kind's range.
 */
export const scaleAbout = (
  kind: ThreadKind,
  knots: readonly Knot[],
  indices: readonly number[],
  about: number,
  factor: number,
): Knot[] => mapValues(kind, knots, indices, (value) => about + (value - about) * factor)

/**
 * The knots with some of them (sorted) stretched in time about frame `about` by a factor above 0; they keep
 * their order and do not pass the knots beside them.
 */
export function stretchKnots(
  knots: readonly Knot[],
  indices: readonly number[],
  about: number,
  factor: number,
): Knot[] {
  const [first, last] = [indices[0], indices.at(-1)]
  if (first === undefined || last === undefined) return [...knots]
  const chosen = new Set(indices)
  let [low, high] = [0, Math.max(factor, 0)]
  for (const i of indices) {
    const distance = knots[i]!.frame - about
    const room =
      distance > 0
        ? knots[i + 1] && !chosen.has(i + 1)
          ? knots[i + 1]!.frame - about
          : Infinity
        : distance < 0
          ? knots[i - 1] && !chosen.has(i - 1)
            ? about - knots[i - 1]!.frame
            : Infinity
          : Infinity
    if (distance !== 0) high = Math.min(high, room / Math.abs(distance))
    // Knots that lie between chosen ones hold these on their side.
    const inner =
      distance > 0
        ? knots[i - 1] && !chosen.has(i - 1) && i > first
          ? knots[i - 1]!.frame - about
          : 0
        : distance < 0
          ? knots[i + 1] && !chosen.has(i + 1) && i < last
            ? about - knots[i + 1]!.frame
            : 0
          : 0
    if (distance !== 0) low = Math.max(low, inner / Math.abs(distance))
  }
  const by = Math.max(low, high)
  return changed(knots, indices, (k) => ({
    ...k,
    frame: Math.max(0, Math.round(about + (k.frame - about) * by)),
  }))
}

/** The stretch that begins at a knot with another bend -1…1 (which makes it a line), or another shape. */
export const reshapeStretch = (
  knots: readonly Knot[],
  index: number,
  change: Partial<Pick<Knot, 'shape' | 'bend'>>,
): Knot[] =>
  changed(knots, [index], (k) => ({
    frame: k.frame,
    value: k.value,
    shape: change.shape ?? (change.bend !== undefined ? 'line' : k.shape),
    bend: change.shape !== undefined && change.shape !== 'line' ? 0 : clamp(change.bend ?? k.bend, -1, 1),
  }))

/** Indices of the knots from one frame to another, both included. */
export const knotsBetween = (knots: readonly Knot[], from: number, to: number): number[] =>
  knots.flatMap((k, i) => (k.frame >= from && k.frame <= to ? [i] : []))

/** Between which frames the shoulders of plateaus stay. */
export interface Bounds {
  from: number
  to: number
}
/** A thread begins with frame 0. */
const EVERYWHERE: Bounds = { from: 0, to: Infinity }

/**
 * Shifts a thread by so many dB (hundredths of pan) from one frame to another, the whole of it, with shoulders of so many
 * frames outside its ends (0 makes steps). These end at the next knot or bound: what is shaped beside it stays. On a plain
 * thread this takes exactly four knots. Beyond the shoulders nothing changes, whatever shape the thread has there; inside,
 * what it did is kept and shifted; with `flat` it becomes level, at what the thread is in the middle. Doing it again over the
 * same range changes the level of the plateau that is there. Throws a RangeError when `to` is not after `from`.
 */
export function plateau(
  knots: readonly Knot[],
  from: number,
  to: number,
  by: number,
  shoulder: number,
  kind: ThreadKind = gain,
  flat = false,
  bounds: Bounds = EVERYWHERE,
): Knot[] {
  if (!(to > from)) throw new RangeError(`a plateau from ${from} to ${to} has no length`)
  const existing = samePlateau(knots, from, to, kind)
  if (existing && !flat)
    return mapValues(kind, knots, [existing.high, existing.high + 1], (v) => kind.shift(v, by))
  const width = Math.round(shoulder)
  const before = knots.findLast((k) => k.frame < from)?.frame ?? -Infinity
  const after = knots.find((k) => k.frame > to)?.frame ?? Infinity
  const left = Math.min(from, Math.max(from - width, before, bounds.from))
  const right = Math.max(to, Math.min(to + width, after, bounds.to))
  // All four places become knots on the line as it is drawn; then what lies between the inner two is shifted.
  let divided: readonly Knot[] = knots
  for (const frame of [left, from, to, right]) divided = insertKnot(divided, frame, undefined, kind).knots
  const level = kind.shift(valueAt(kind, knots, (from + to) / 2), by)
  const shifted = (k: Knot): Knot =>
    flat ? { frame: k.frame, value: level, shape: 'line', bend: 0 } : { ...k, value: kind.shift(k.value, by) }
  const entering = (frame: number) => divided.find((k) => k.frame === frame)!
  const leaving = (frame: number) => divided.findLast((k) => k.frame === frame)!
  const straight = (k: Knot): Knot => ({ frame: k.frame, value: k.value, shape: 'line', bend: 0 })
  const inside = flat ? [] : divided.filter((k) => k.frame > from && k.frame < to)
  return [
    ...divided.filter((k) => k.frame < left),
    // Where a shoulder begins at a knot that steps, the step stays.
    ...(left < from ? divided.filter((k) => k.frame === left).slice(0, -1) : []),
    straight(left < from ? leaving(left) : entering(from)),
    shifted(leaving(from)),
    ...inside.map(shifted),
    shifted(straight(entering(to))),
    ...(right > to ? divided.filter((k) => k.frame === right) : [leaving(to)]),
    ...divided.filter((k) => k.frame > right),
  ]
}

/** dB (hundredths of pan) within which both ends of a plateau lie equally far from the line that its feet are on. */
const EVEN = 0.02

/**
 * Whether the range lies over a plateau that is there already, on a level thread or on a slope: its four
 * knots, `high` being the first of the upper two.
 */
function samePlateau(
  knots: readonly Knot[],
  from: number,
  to: number,
  kind: ThreadKind,
): { high: number } | null {
  const i = knotBefore(knots, (from + to) / 2)
  const [a, b, c, d] = [knots[i - 1], knots[i], knots[i + 1], knots[i + 2]]
  if (!a || !b || !c || !d || a.frame > from || d.frame < to) return null
  const slope = (frame: number) =>
    a.value + ((d.value - a.value) * (frame - a.frame)) / Math.max(1, d.frame - a.frame)
  const [left, right] = [kind.above(b.value, slope(b.frame)), kind.above(c.value, slope(c.frame))]
  const even = b.value === c.value || Math.abs(left - right) < EVEN
  return even &&
    Math.abs(left) > EVEN &&
    Math.abs(right) > EVEN &&
    b.frame - a.frame < (c.frame - b.frame) / 2 &&
    d.frame - c.frame < (c.frame - b.frame) / 2
    ? { high: i }
    : null
}

/**
 * The knots with what lies between two frames replaced by others there, joined to what is left by ramps of
 * `join` frames inside the range where the two do not meet, so that nothing jumps and nothing outside
 * changes. `inside` begins at `from` and ends at `to`.
 */
export function replaceBetween(
  knots: readonly Knot[],
  from: number,
  to: number,
  inside: readonly Knot[],
  join: number,
  kind: ThreadKind = gain,
): Knot[] {
  // Where the thread steps at an end, what counts is the side that is outside.
  const entry = knots.length === 0 ? kind.neutral : arrivingValue(knots, from)
  const exit = valueAt(kind, knots, to)
  const ramp = clamp(Math.round(join), 0, Math.floor((to - from) / 2))
  const [enters, leaves] = [
    Math.abs(threadValue(inside, from) - entry) > 1e-9,
    Math.abs(arrivingValue(inside, to) - exit) > 1e-9,
  ]
  const [first, last] = [enters ? from + ramp : from, leaves ? to - ramp : to]
  const line = (frame: number, value: number): Knot => ({ frame, value, shape: 'line', bend: 0 })
  let cut: readonly Knot[] = inside
  for (const frame of [first, last]) cut = insertKnot(cut, frame, undefined, kind).knots
  const kept = cut.filter((k) => k.frame >= first && k.frame <= last)
  // Of several knots at the end only the one that the line reaches belongs to it.
  while (kept.length > 1 && kept.at(-2)!.frame === last) kept.pop()
  const divided =
    knots.length === 0
      ? []
      : insertKnot(insertKnot(knots, from, undefined, kind).knots, to, undefined, kind).knots
  const after = divided.findLast((k) => k.frame === to) ?? line(to, exit)
  // Ends that as good as meet are made to meet, so that outside nothing changes at all.
  if (!enters) kept[0] = { ...kept[0]!, value: entry }
  return [
    ...divided.filter((k) => k.frame < from),
    ...(enters ? [line(from, entry)] : []),
    ...(leaves ? kept : kept.slice(0, -1)),
    after,
    ...divided.filter((k) => k.frame > to),
  ]
}

/**
 * What became of a line drawn by hand: the whole thread, how many knots the line took, and the largest
 * deviation from it.
 */
export interface Drawn {
  knots: Knot[]
  drawn: number
  worst: number
}

/**
 * A line drawn by hand put into a thread in place of what was there between its ends: thinned to the
 * tolerance (dB, or hundredths of pan), or with null as raw points. `join` is the length in frames of the
 * ramps that join it to what is left.
 */
export function drawInto(
  knots: readonly Knot[],
  points: readonly RawPoint[],
  tolerance: number | null,
  join: number,
  kind: ThreadKind = gain,
): Drawn {
  const inRange = points.map((p) => ({ ...p, value: clamp(p.value, kind.min, kind.max) }))
  const { knots: line, worst } = thin(inRange, tolerance ?? 0, kind.deviation)
  const [first, last] = [line[0], line.at(-1)]
  if (!first || !last || last.frame === first.frame) return { knots: [...knots], drawn: 0, worst: 0 }
  return {
    knots: replaceBetween(knots, first.frame, last.frame, line, join, kind),
    drawn: line.length,
    worst,
  }
}

/**
 * The selected knots (or all) thinned: those that straight lines between the others replace within the
 * tolerance go.
 */
export function thinKnots(
  knots: readonly Knot[],
  indices: readonly number[],
  tolerance: number,
  kind: ThreadKind = gain,
): Knot[] {
  const chosen = indices.length > 1 ? indices : knots.map((_, i) => i)
  const [from, to] = [chosen[0]!, chosen.at(-1)!]
  // Steps and curves are shapes of their own; only runs of straight stretches are thinned.
  const straight = (k: Knot) => k.shape === 'line' && k.bend === 0
  const out: Knot[] = [...knots.slice(0, from)]
  for (let i = from; i <= to;) {
    let end = i
    while (end < to && straight(knots[end]!) && knots[end + 1]!.frame > knots[end]!.frame) end++
    const kept = end > i ? thin(knots.slice(i, end + 1), tolerance, kind.deviation).knots : [knots[i]!]
    // The last of a run begins the next stretch, with its own shape.
    kept[kept.length - 1] = knots[end]!
    out.push(...(end === to || end === i ? kept : kept.slice(0, -1)))
    i = end === i ? i + 1 : end === to ? to + 1 : end
  }
  return [...out, ...knots.slice(to + 1)]
}
