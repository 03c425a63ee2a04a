import { least, most } from '../../../core/units/extremes'
import {
  drawInto,
  moveKnots,
  plateau,
  removeKnots,
  reshapeStretch,
  scaleAbout,
  stretchKnots,
  type Drawn,
} from '../../../core/curve/knots'
import { weaveInto, type Weave } from '../../../core/curve/weave'
import { shapeThreads, type ThreadRef } from '../../../core/edit'
import type { Knot } from '../../../core/model/session'
import type { TempoChange } from '../../../core/units/tempo'
import { showLength, showTime } from '../../../core/units/typed'
import { commit, dropPreview, preview } from '../../../store/edits'
import type { Dispatch } from '../../../store/store'
import { knotsSelected, weaveSet, type LastWeave } from '../../../store/view-slice'
import type { Gesture, Move } from './region-gestures'
import { stretchAt, valuePerPixel, valueToY, yToValue, type ThreadPlace } from '../drawing/thread-place'

/** What a gesture on a thread needs besides the thread: how to tell a value, and what a moved frame catches on. */
export interface ThreadTools {
  dispatch: Dispatch
  sampleRate: number
  /** Shows a value beside the pointer; null takes it away. */
  say(text: string | null): void
  /** The session frame that a moved one catches on; the same one where nothing is near or `free` is set. */
  catchFrame(frame: number, free: boolean): number
}

/** Pixels outside a thread's box at which a dragged knot is let go. */
const LET_GO = 44

/** What a movement makes of a thread, and of others that are shaped along with it. */
interface Shaped {
  knots: readonly Knot[]
  text: string
  also?: { ref: ThreadRef; knots: readonly Knot[] }[]
}

function gesture(
  { dispatch, say }: ThreadTools,
  place: ThreadPlace,
  what: string,
  shape: (move: Move) => Shaped,
  done?: () => void,
): Gesture {
  let threads: { ref: ThreadRef; knots: readonly Knot[] }[] = []
  return {
    move(move) {
      const { knots, text, also = [] } = shape(move)
      threads = [{ ref: place.ref, knots }, ...also]
      say(text)
      dispatch(preview(shapeThreads, { threads, what }))
    },
    end() {
      say(null)
      if (threads.length) dispatch(commit(shapeThreads, { threads, what }))
      done?.()
    },
    cancel() {
      say(null)
      dispatch(dropPreview())
    },
  }
}

/** Dragging knots: in time and value together; far off they are let go. `grabbed` is the one under the pointer. */
export function knotGesture(
  tools: ThreadTools,
  place: ThreadPlace,
  indices: readonly number[],
  grabbed: number,
): Gesture {
  const knot = place.knots[grabbed]!
  const from = place.toSession(knot.frame)
  return gesture(
    tools,
    place,
    indices.length > 1 ? `Move ${indices.length} knots` : 'Move knot',
    ({ dx, dy, fine, shift }) => {
      const scale = fine ? 0.1 : 1
      const y = valueToY(place, knot.value) + dy
      if (!fine && (y < place.box.y - LET_GO || y > place.box.y + place.box.height + LET_GO)) {
        tools.dispatch(knotsSelected(null))
        return { knots: removeKnots(place.knots, indices), text: 'let go' }
      }
      const to = tools.catchFrame(
        from + Math.round(dx * place.framesPerPixel * scale),
        shift || fine || Math.abs(dx) < 3,
      )
      const knots = moveKnots(
        place.knots,
        indices,
        (to - from) * place.direction,
        dy * scale * valuePerPixel(place),
        place.kind,
      )
      const now = knots[grabbed]!
      // Held back by a neighbour it has not caught on anything.
      if (place.toSession(now.frame) !== to) tools.catchFrame(to, true)
      return {
        knots,
        text: `${place.kind.show(now.value)} at ${showTime(place.toSession(now.frame), tools.sampleRate)}`,
      }
    },
  )
}

/** Dragging a stretch moves its two knots up and down; a thread without knots, or its ends, moves as a whole. */
export function stretchGesture(tools: ThreadTools, place: ThreadPlace, startFrame: number): Gesture {
  const empty = place.knots.length === 0
  const at = Math.round(place.toThread(startFrame))
  const base: readonly Knot[] = empty
    ? [{ frame: at, value: place.kind.neutral, shape: 'line', bend: 0 }]
    : place.knots
  const index = empty ? null : stretchAt(base, at)
  const indices = empty
    ? [0]
    : index === null
      ? [at < base[0]!.frame ? 0 : base.length - 1]
      : [index, index + 1]
  return gesture(tools, place, 'Level of stretch', ({ dy, fine }) => {
    const knots = moveKnots(base, indices, 0, dy * (fine ? 0.1 : 1) * valuePerPixel(place), place.kind)
    return { knots, text: place.kind.show(knots[indices[0]!]!.value) }
  })
}

/** Dragging a stretch with Ctrl bends it: up bows it upwards on the screen. */
export function bendGesture(tools: ThreadTools, place: ThreadPlace, startFrame: number): Gesture | null {
  const index = stretchAt(place.knots, place.toThread(startFrame))
  if (index === null) return null
  const [knot, next] = [place.knots[index]!, place.knots[index + 1]!]
  const rising = valueToY(place, next.value) < valueToY(place, knot.value)
  const before = knot.shape === 'line' ? knot.bend : 0
  return gesture(tools, place, 'Bend stretch', ({ dy, fine }) => {
    const bend = Math.max(
      -1,
      Math.min(1, before + ((rising ? dy : -dy) / place.box.height) * (fine ? 0.2 : 2)),
    )
    return {
      knots: reshapeStretch(place.knots, index, { bend: Math.round(bend * 100) / 100 }),
      text: `bend ${Math.round(bend * 100)} %`,
    }
  })
}

/** Edges of the box about selected knots, and its inside. */
export type RangePart = 'move' | 'top' | 'left' | 'right'

/**
 * Dragging the box about selected knots: its inside moves them up and down as a whole, its top scales them
 * about the lowest (with Shift about 0 dB, or the centre), its sides stretch them about the other side.
 */
export function rangeOfKnotsGesture(
  tools: ThreadTools,
  place: ThreadPlace,
  indices: readonly number[],
  part: RangePart,
): Gesture {
  const { kind, knots } = place
  const chosen = indices.map((i) => knots[i]!)
  const values = chosen.map((k) => k.value)
  const [lowest, highest] = [least(values, Number), most(values, Number)]
  const [first, last] = [chosen[0]!.frame, chosen.at(-1)!.frame]
  // On the screen the left side is the last one of a thread that runs backwards.
  const grabbed = (part === 'left') === (place.direction === 1) ? first : last
  const about = grabbed === first ? last : first
  return gesture(
    tools,
    place,
    part === 'move'
      ? `Level of ${indices.length} knots`
      : part === 'top'
        ? 'Scale the stretch'
        : 'Stretch in time',
    ({ dx, dy, fine, shift }) => {
      const scale = fine ? 0.1 : 1
      if (part === 'move') {
        const moved = moveKnots(knots, indices, 0, dy * scale * valuePerPixel(place), kind)
        return { knots: moved, text: kind.show(moved[indices[0]!]!.value) }
      }
      if (part === 'top') {
        const [top, bottom] = kind.upwards ? [highest, lowest] : [lowest, highest]
        const base = shift ? kind.plain : bottom
        const factor =
          Math.abs(top - base) < 1e-9
            ? 1
            : Math.max(0, Math.min(20, (top + dy * scale * valuePerPixel(place) - base) / (top - base)))
        return { knots: scaleAbout(kind, knots, indices, base, factor), text: `× ${factor.toFixed(2)}` }
      }
      const from = place.toSession(grabbed)
      const to = tools.catchFrame(from + Math.round(dx * scale * place.framesPerPixel), shift || fine)
      const factor = grabbed === about ? 1 : (place.toThread(to) - about) / (grabbed - about)
      const stretched = stretchKnots(knots, indices, about, Math.max(0.001, factor))
      return {
        knots: stretched,
        text: showLength(stretched[indices.at(-1)!]!.frame - stretched[indices[0]!]!.frame, tools.sampleRate),
      }
    },
  )
}

/**
 * By how much a plateau is higher or lower when the pointer goes down by so many pixels: in dB to a tenth, or
 * as far as the pointer goes.
 */
const plateauUnits = (place: ThreadPlace, down: number): number =>
  place.kind.plateauPerPixel === null
    ? Math.round(down * valuePerPixel(place) * 100)
    : Math.round(down * place.kind.plateauPerPixel * 10) / 10

/**
 * Sweeping a plateau: along the sound is where, up or down is by how much. With Ctrl it is level inside,
 * whatever the thread did there.
 */
export function plateauGesture(
  tools: ThreadTools,
  place: ThreadPlace,
  startFrame: number,
  shoulderFrames: number,
): Gesture {
  const inside = (frame: number) => Math.max(place.from, Math.min(place.to, frame))
  const { kind } = place
  const start = tools.catchFrame(startFrame, true)
  return gesture(tools, place, 'Plateau', ({ dx, dy, fine, shift, ctrl }) => {
    const by = plateauUnits(place, dy * (fine ? 0.1 : 1))
    const end = tools.catchFrame(startFrame + dx * place.framesPerPixel, shift || fine)
    const [a, b] = [inside(start), inside(end)].map((f) => Math.round(place.toThread(f))) as [number, number]
    const [from, to] = [Math.min(a, b), Math.max(a, b)]
    if (to - from < 4) return { knots: place.knots, text: 'sweep along the sound' }
    return {
      knots: plateau(place.knots, from, to, by, shoulderFrames, kind, ctrl),
      text: `${ctrl ? 'level, ' : ''}${kind.showChange(by)} for ${showTime(to - from, tools.sampleRate)}`,
    }
  })
}

/** Length in seconds of the ramps that join a drawn line to what is left. */
const JOIN_SECONDS = 0.005

/**
 * Drawing by hand: the value follows the pointer; going back draws over. With Shift a straight line from
 * where the stroke began, with Ctrl a curve. `tolerance` is that of thinning, null keeps every point. `told`
 * hears what thinning did. The same line goes into `others`, so much higher or lower as these stand without
 * it.
 */
export function drawGesture(
  tools: ThreadTools,
  place: ThreadPlace,
  start: { frame: number; x: number; y: number },
  tolerance: number | null,
  told: (drawn: Drawn, points: number) => void,
  others: readonly ThreadPlace[] = [],
): Gesture {
  // One value for each pixel that the stroke passed.
  const columns = new Map<number, number>([[0, start.y]])
  let last = { x: 0, y: start.y }
  let drawn: Drawn | null = null
  let points = 0
  const frameAt = (dx: number) =>
    Math.round(
      place.toThread(Math.max(place.from, Math.min(place.to, start.frame + dx * place.framesPerPixel))),
    )
  const lineTo = (x: number, y: number) => {
    const step = Math.sign(x - last.x)
    if (step === 0) columns.set(x, y)
    for (let c = last.x; c !== x; c += step)
      columns.set(c + step, last.y + ((y - last.y) * (c + step - last.x)) / (x - last.x))
    last = { x, y }
  }
  const join = JOIN_SECONDS * tools.sampleRate
  const into = (line: readonly { frame: number; value: number }[], thinning: number | null) =>
    others.map(({ ref, knots, kind }) => {
      const by = kind.change(kind.neutral, place.kind.neutral)
      return {
        ref,
        knots: drawInto(
          knots,
          line.map((p) => ({ ...p, value: kind.shift(p.value, by) })),
          thinning,
          join,
          kind,
        ).knots,
      }
    })
  const many = others.length ? `, ${others.length + 1} tracks` : ''
  return gesture(
    tools,
    place,
    'Draw',
    ({ dx, dy, shift, ctrl }) => {
      const [x, y] = [Math.round(dx), start.y + dy]
      const value = yToValue(place, y)
      const text = place.kind.show(value) + many
      if (shift || ctrl) {
        const ends = [
          { frame: frameAt(0), value: yToValue(place, start.y) },
          { frame: frameAt(x), value },
        ].sort((a, b) => a.frame - b.frame)
        drawn = drawInto(place.knots, ends, 0, join, place.kind)
        points = 2
        if (ctrl)
          drawn = {
            ...drawn,
            knots: drawn.knots.map((k) =>
              k.frame >= ends[0]!.frame && k.frame < ends[1]!.frame && k.shape === 'line'
                ? { ...k, shape: 's-curve' }
                : k,
            ),
          }
        return { knots: drawn.knots, text, also: into(ends, 0) }
      }
      lineTo(x, y)
      const raw = [...columns]
        .map(([c, at]) => ({ frame: frameAt(c), value: yToValue(place, at) }))
        .sort((a, b) => a.frame - b.frame)
      drawn = drawInto(place.knots, raw, tolerance, join, place.kind)
      points = raw.length
      return { knots: drawn.knots, text, also: into(raw, tolerance) }
    },
    () => drawn && drawn.drawn > 0 && told(drawn, points),
  )
}

/**
 * Pixels above 0 dB that a weave stays at 0 dB, so that nothing is woven above it by accident; marked while
 * weaving.
 */
export const STOP = 16

/**
 * Sweeping a weave: along the sound is where, caught on the grid; where the stroke starts is one limit and
 * where it goes the other. Gains do not go above 0 dB unless the hand goes well past it. `drawn` hears what
 * was woven, so that it can be drawn anew with other settings.
 */
export function weaveGesture(
  tools: ThreadTools,
  place: ThreadPlace,
  start: { frame: number; y: number },
  weave: Weave,
  tempo: readonly TempoChange[],
  drawn: (last: LastWeave | null) => void,
): Gesture {
  const { kind } = place
  const inside = (frame: number) => Math.max(place.from, Math.min(place.to, frame))
  const limit = (y: number) => {
    const stop = kind.catchesPlain ? valueToY(place, kind.plain) : -Infinity
    return y < stop && y > stop - STOP ? kind.plain : yToValue(place, y > stop ? y : y + STOP)
  }
  const first = tools.catchFrame(start.frame, false)
  let last: LastWeave | null = null
  let settings = weave
  return gesture(
    tools,
    place,
    'Weave',
    ({ dx, dy, shift, fine }) => {
      const end = tools.catchFrame(start.frame + dx * place.framesPerPixel, shift || fine)
      const [a, b] = [inside(first), inside(end)].map((f) => Math.round(place.toThread(f))) as [
        number,
        number,
      ]
      const [from, to] = [Math.min(a, b), Math.max(a, b)]
      const [p, q] = [limit(start.y), limit(start.y + dy)]
      settings = { ...weave, low: Math.min(p, q), high: Math.max(p, q) }
      const text = `${kind.show(settings.low)} to ${kind.show(settings.high)}`
      if (to - from < 16) return { knots: place.knots, text: 'sweep along the sound' }
      last = { ref: place.ref, from, to, before: place.knots }
      return { knots: weaveInto(place.knots, settings, from, to, tempo, tools.sampleRate, kind), text }
    },
    () => {
      tools.dispatch(weaveSet(settings))
      drawn(last)
    },
  )
}

/** Sweeping a box over a thread selects the knots in it; the thread itself stays. */
export function knotSweepGesture(
  tools: ThreadTools,
  place: ThreadPlace,
  start: { x: number; y: number },
  kept: readonly number[],
  placesOf: () => { index: number; x: number; y: number }[],
  show: (box: { x: number; y: number; width: number; height: number } | null) => void,
): Gesture {
  return {
    move({ dx, dy }) {
      const box = {
        x: Math.min(start.x, start.x + dx),
        y: Math.min(start.y, start.y + dy),
        width: Math.abs(dx),
        height: Math.abs(dy),
      }
      show(box)
      const inside = placesOf()
        .filter((k) => k.x >= box.x && k.x <= box.x + box.width && k.y >= box.y && k.y <= box.y + box.height)
        .map((k) => k.index)
      const indices = [...new Set([...kept, ...inside])].sort((a, b) => a - b)
      tools.dispatch(knotsSelected(indices.length ? { ref: place.ref, indices } : null))
    },
    end: () => show(null),
    cancel() {
      show(null)
      tools.dispatch(knotsSelected(kept.length ? { ref: place.ref, indices: [...kept] } : null))
    },
  }
}
