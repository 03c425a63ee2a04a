import { clamp } from '../../../core/units/clamp'
import { valueAt, type ThreadKind } from '../../../core/curve/knots'
import { knotBefore } from '../../../core/curve/thread'
import { refKey, threadOf, threadWords, stripOf, type LaneRef, type ThreadRef } from '../../../core/edit'
import { parameterOf, type Parameter, type ThreadLook } from '../../../core/model/parameters'
import { regionEnd } from '../../../core/model/queries'
import type { Knot, LaneWeave, Region, Session } from '../../../core/model/session'
import { ROW_HEIGHT, type View } from '../../../store/view'
import { frameToX, regionBox, ROW_PAD, seenAcross, soundBox, type Box } from './geometry'

/** The session frame at which a source frame of a region sounds; a reversed region plays it from its end. */
export const sourceToSession = (region: Region, frame: number) =>
  region.reversed
    ? region.start + region.offset + region.length - 1 - frame
    : region.start + frame - region.offset

/** The source frame that sounds at a session frame. */
export const sessionToSource = (region: Region, frame: number) =>
  region.reversed
    ? region.offset + region.length - 1 - (frame - region.start)
    : region.offset + frame - region.start

/** A thread where it is drawn: all that its picture and the gestures on it need to know, whatever it belongs to. */
export interface ThreadPlace {
  ref: ThreadRef
  knots: readonly Knot[]
  weaves: readonly LaneWeave[]
  kind: ThreadKind
  look: ThreadLook
  box: Box
  framesPerPixel: number
  /** What it is called: "wheel turn", "volume of Narrator". */
  name: string
  /** From session frames to the thread's own and back; `direction` is -1 where the thread runs backwards. */
  toThread(frame: number): number
  toSession(frame: number): number
  direction: 1 | -1
  /** The session frames over which it is drawn. */
  from: number
  to: number
  /** A bypassed lane is drawn but does not act. */
  bypassed?: boolean
  /** Whether it is a lane opened below its track. */
  opened?: boolean
  /** What stands beside the line of a lane. */
  tag?: string
}

/** The gain thread of a region on a row of the timeline. */
export function regionPlace(session: Session, view: View, region: Region, row: number): ThreadPlace {
  const ref: ThreadRef = { kind: 'region', regionId: region.id }
  return {
    ref,
    ...threadOf(session, ref)!,
    box: soundBox(regionBox(view, region, row)),
    framesPerPixel: view.framesPerPixel,
    name: region.name,
    toThread: (frame) => sessionToSource(region, frame),
    toSession: (frame) => sourceToSession(region, frame),
    direction: region.reversed ? -1 : 1,
    from: region.start,
    to: regionEnd(region),
  }
}

/** The words beside the line of a lane. */
const laneTag = ({ laneName }: Parameter) => laneName[0]!.toLowerCase() + laneName.slice(1)

/** Between the edge of a row or of an opened lane and its highest and lowest values, in pixels. */
export const LANE_PAD = ROW_PAD + 2

const same = (frame: number) => frame

/** Places of lanes as they were made last, by their knots: what has not changed need not be drawn anew. */
const placed = new WeakMap<readonly Knot[], Map<string, { view: View; place: ThreadPlace }>>()

/** A lane of a track, drawn over its row or below it. The same place as before where nothing of it has changed. */
export function lanePlace(
  session: Session,
  view: View,
  trackId: string | null,
  lane: string,
  y: number,
  height = ROW_HEIGHT.first,
  opened = false,
): ThreadPlace {
  const ref: ThreadRef = { kind: 'lane', trackId, lane }
  const made = newLanePlace(session, view, ref, y, height, opened)!
  let places = placed.get(made.knots)
  if (!places) placed.set(made.knots, (places = new Map()))
  const before = places.get(refKey(ref))
  const { place } = before ?? {}
  if (
    place &&
    before!.view === view &&
    place.box.y === made.box.y &&
    place.box.height === made.box.height &&
    place.kind.neutral === made.kind.neutral &&
    place.weaves === made.weaves &&
    place.name === made.name &&
    place.bypassed === made.bypassed &&
    place.opened === made.opened
  )
    return place
  places.set(refKey(ref), { view, place: made })
  return made
}

/** The same, always made anew; null when its track is not there. */
export function newLanePlace(
  session: Session,
  view: View,
  ref: LaneRef,
  y: number,
  height = ROW_HEIGHT.first,
  opened = false,
): ThreadPlace | null {
  const { trackId, lane } = ref
  const thread = threadOf(session, ref)
  return (
    thread && {
      ref,
      opened,
      ...thread,
      box: { x: frameToX(view, 0), y: y + LANE_PAD, width: view.width + 1e6, height: height - 2 * LANE_PAD },
      framesPerPixel: view.framesPerPixel,
      name: threadWords(session, ref).replace(/[“”]/g, ''),
      tag: laneTag(parameterOf(stripOf(session, trackId)!, lane)),
      bypassed: stripOf(session, trackId)!.lanes[lane]?.bypassed ?? false,
      toThread: same,
      toSession: same,
      direction: 1,
      from: 0,
      to: Infinity,
    }
  )
}

/** Vertical place of a value: gains with the loudest at the top, pans with left at the top. */
export function valueToY({ box, kind }: Pick<ThreadPlace, 'box' | 'kind'>, value: number): number {
  const part = (value - kind.min) / (kind.max - kind.min)
  return box.y + box.height * (kind.upwards ? 1 - part : part)
}

/** The value at a vertical place, within the range. */
export function yToValue({ box, kind }: Pick<ThreadPlace, 'box' | 'kind'>, y: number): number {
  const part = clamp((y - box.y) / box.height, 0, 1)
  return kind.min + (kind.max - kind.min) * (kind.upwards ? 1 - part : part)
}

/** How much a value changes when the pointer goes down by so many pixels. */
export const valuePerPixel = ({ box, kind }: Pick<ThreadPlace, 'box' | 'kind'>) =>
  ((kind.max - kind.min) / box.height) * (kind.upwards ? -1 : 1)

/** A knot on the screen. */
export interface KnotPlace {
  index: number
  x: number
  y: number
}

/**
 * The indices of the knots that may be seen between two pixels: first and one past the last, with one more on
 * either side.
 */
function knotsInSight(
  view: View,
  { knots, toThread }: ThreadPlace,
  fromX: number,
  toX: number,
): { first: number; last: number } {
  const ends = [
    toThread(view.left + fromX * view.framesPerPixel),
    toThread(view.left + toX * view.framesPerPixel),
  ]
  return {
    first: Math.max(0, knotBefore(knots, Math.min(...ends)) - 1),
    last: Math.min(knots.length, knotBefore(knots, Math.max(...ends)) + 2),
  }
}

/** The knots of a thread that lie where it is drawn and on the screen. */
export function knotPlaces(view: View, place: ThreadPlace): KnotPlace[] {
  const places: KnotPlace[] = []
  const seen = seenAcross(view)
  const { first, last } = knotsInSight(view, place, seen.from - 12, seen.to + 12)
  for (let index = first; index < last; index++) {
    const knot = place.knots[index]!
    const frame = place.toSession(knot.frame)
    const x = frameToX(view, frame)
    if (frame >= place.from && frame <= place.to && x >= seen.from - 10 && x <= seen.to + 10)
      places.push({ index, x, y: valueToY(place, knot.value) })
  }
  return places
}

/**
 * The knots that can be picked: not those of weaves, which belong to these as wholes. A knot on which a weave begins or
 * ends counts as the weave's unless the thread steps there.
 */
export function freeKnotPlaces(view: View, place: ThreadPlace): KnotPlace[] {
  const { knots, weaves } = place
  const places = knotPlaces(view, place)
  if (weaves.length === 0) return places
  const taken = weaves.map(
    ({ from, to }) => [knotBefore(knots, from), knotBefore(knots, to - 1) + 1] as const,
  )
  return places.filter(({ index }) => !taken.some(([first, last]) => index >= first && index <= last))
}

/** The frame about a weave on the screen. */
export interface WeaveFrame extends Box {
  weave: LaneWeave
}

/** The frames about the weaves of a lane that may be seen. */
export function weaveFrames(view: View, place: ThreadPlace): WeaveFrame[] {
  const seen = seenAcross(view)
  return place.weaves.flatMap((weave) => {
    const [x, end] = [frameToX(view, weave.from), frameToX(view, weave.to)]
    if (end < seen.from || x > seen.to) return []
    const ys = [valueToY(place, weave.low), valueToY(place, weave.high)]
    const y = Math.min(...ys)
    return [{ weave, x, y, width: end - x, height: Math.max(...ys) - y }]
  })
}

/**
 * Threads and their knots are drawn in runs so wide, so that a knot that moves has only its own run painted
 * anew. In pixels.
 */
const RUN = 128

/** A piece of a thread, or of its knots: in which column of the sheet it begins, and its path. */
export interface Run {
  column: number
  d: string
}

/** From the middle of a knot to its corners, in pixels. */
const HALF = 6.4

/** The outline of one knot: round, or a square on a corner. */
export const knotOutline = (x: number, y: number, round: boolean) =>
  round
    ? `M${x - 4.8} ${y}a4.8 4.8 0 1 1 9.6 0a4.8 4.8 0 1 1-9.6 0z`
    : `M${x} ${y - HALF}l${HALF} ${HALF}-${HALF} ${HALF}-${HALF}-${HALF}z`

/** The outlines of knots as a few SVG paths: hundreds of shapes of their own would be slow to paint. */
export function knotRuns(places: readonly KnotPlace[], round: boolean): Run[] {
  const runs: Run[] = []
  for (const { x, y } of places) {
    const column = Math.floor(x / RUN)
    if (column !== runs.at(-1)?.column) runs.push({ column, d: '' })
    runs.at(-1)!.d += knotOutline(x, y, round)
  }
  return runs
}

/** Between two points of a curve, in pixels. */
const FINE = 3

/** More knots in sight than this many a pixel are drawn as the stretch between their highest and lowest values. */
const DENSE = 2

/** A point of a drawn line, in pixels. */
type Point = readonly [x: number, y: number]

const isCurved = (knot: Knot | undefined) =>
  knot !== undefined && (knot.shape === 's-curve' || (knot.shape === 'line' && knot.bend !== 0))

/**
 * The drawn thread as SVG paths, for its visible part: one for each column of the sheet, which begins where
 * the one before ended.
 */
export function threadRuns(view: View, place: ThreadPlace): Run[] {
  const seen = seenAcross(view)
  const from = Math.max(frameToX(view, place.from), seen.from - 4)
  const to = Math.min(frameToX(view, place.to), seen.to + 4)
  const runs: Run[] = []
  if (to <= from) return runs
  const drawn = drawnBefore(view, place)
  for (let column = Math.floor(from / RUN); column * RUN < to; column++) {
    const [begin, end] = [Math.max(from, column * RUN), Math.min(to, (column + 1) * RUN)]
    const whole = end - begin === RUN
    const d = (whole && drawn.get(column)) || columnPath(view, place, begin, end)
    if (whole) drawn.set(column, d)
    runs.push({ column, d })
  }
  return runs
}

/** Ways of drawing the same knots that are remembered: on the timeline, in the bench, and a few zooms. */
const MOST_WAYS = 6

const known = new WeakMap<readonly Knot[], Map<string, Map<number, string>>>()

/** The columns of a thread that were drawn already in the same way: a sheet that goes on has only few new ones. */
function drawnBefore(
  view: View,
  { knots, kind, box, direction, toSession }: ThreadPlace,
): Map<number, string> {
  let ways = known.get(knots)
  if (!ways || ways.size > MOST_WAYS) known.set(knots, (ways = new Map()))
  const way = `${view.left} ${view.framesPerPixel} ${box.y} ${box.height} ${kind.name} ${kind.neutral} ${toSession(0)} ${direction}`
  let drawn = ways.get(way)
  if (!drawn) ways.set(way, (drawn = new Map()))
  return drawn
}

/**
 * A thread between two places, in pixels: straight between knots, points every few pixels on curves; with
 * very many knots a line from the highest to the lowest of each pixel.
 */
function columnPath(view: View, place: ThreadPlace, from: number, to: number): string {
  const { knots, kind, direction } = place
  const { first, last } = knotsInSight(view, place, from, to)
  const at = (x: number): Point => [
    x,
    valueToY(place, valueAt(kind, knots, place.toThread(view.left + x * view.framesPerPixel))),
  ]
  if (last - first > (to - from) * DENSE)
    return pathOf([at(from), ...densePoints(view, place, first, last, from, to), at(to)])
  const points: Point[] = [at(from)]
  /** Points up to a place on the stretch that begins at a knot; in a column always the same ones. */
  const followCurve = (knot: Knot | undefined, end: number) => {
    if (isCurved(knot))
      for (let x = (Math.floor(points.at(-1)![0] / FINE) + 1) * FINE; x < end; x += FINE) points.push(at(x))
  }
  const onScreen = direction === 1 ? { begin: first, end: last } : { begin: last - 1, end: first - 1 }
  for (let i = onScreen.begin; i !== onScreen.end; i += direction) {
    const knot = knots[i]!
    const x = frameToX(view, place.toSession(knot.frame))
    if (x < from || x > to) continue
    followCurve(knots[direction === 1 ? i - 1 : i], x)
    const y = valueToY(place, knot.value)
    const held = knots[i - 1]?.shape === 'hold' ? valueToY(place, knots[i - 1]!.value) : y
    // Where it steps it has both heights, in the order of the screen.
    points.push([x, direction === 1 ? held : y])
    if (held !== y) points.push([x, direction === 1 ? y : held])
  }
  const end = place.toThread(view.left + to * view.framesPerPixel)
  followCurve(knots[knotBefore(knots, end)], to)
  points.push(at(to))
  return pathOf(points)
}

/** Whether a path is one level line: its ends meet those beside it without a seam when they are cut straight. */
export const isLevel = (path: string) => /^M\S+ (\S+)(L\S+ \1)+$/.test(path)

const pathOf = (points: readonly Point[]) =>
  `M${points.map(([x, y]) => `${x.toFixed(1)} ${y.toFixed(1)}`).join('L')}`

/** For every pixel its highest and its lowest knot. */
function densePoints(
  view: View,
  place: ThreadPlace,
  first: number,
  last: number,
  from: number,
  to: number,
): Point[] {
  const columns = new Map<number, [number, number]>()
  for (let i = first; i < last; i++) {
    const x = Math.round(frameToX(view, place.toSession(place.knots[i]!.frame)))
    if (x < from || x > to) continue
    const y = valueToY(place, place.knots[i]!.value)
    const pixel = columns.get(x)
    if (pixel) [pixel[0], pixel[1]] = [Math.min(pixel[0], y), Math.max(pixel[1], y)]
    else columns.set(x, [y, y])
  }
  return [...columns]
    .sort(([a], [b]) => a - b)
    .flatMap(([x, [high, low]]): Point[] => [
      [x, high],
      [x, low],
    ])
}

/**
 * The index of the knot at whose right (in thread frames) a frame lies: the stretch under it; null outside
 * all knots.
 */
export function stretchAt(knots: readonly Knot[], frame: number): number | null {
  const after = knots.findIndex((k) => k.frame > frame)
  return after > 0 ? after - 1 : null
}
