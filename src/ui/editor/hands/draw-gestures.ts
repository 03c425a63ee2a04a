import { clamp } from '../../../core/units/clamp'
import { drawInto, type Drawn, plateau } from '../../../core/curve/knots'
import { knotBefore } from '../../../core/curve/thread'
import type { ShapedThread } from '../../../core/edit'
import type { Knot } from '../../../core/model/session'
import { knotsSelected } from '../../../store/view'
import { showTime } from '../../../core/units/typed'
import { type ThreadPlace, valuePerPixel, yToValue } from '../drawing/thread-place'
import type { Gesture, Move } from './gesture'
import { gesture, type ThreadTools } from './thread-gesture'

/**
 * By how much a plateau is higher or lower when the pointer goes down by so many pixels: in dB to a tenth, or
 * as far as the pointer goes.
 */
const plateauUnits = (place: ThreadPlace, down: number): number =>
  place.kind.plateauPerPixel === null
    ? Math.round(down * valuePerPixel(place) * 100)
    : Math.round(down * place.kind.plateauPerPixel * 10) / 10

/** Shoulders of a sweep are at most such a part of it. */
const SHOULDER_PART = 0.1
/** A sweep of fewer pixels catches only on what is very near: it is about one hit, not about beats. */
const SHORT_SWEEP = 64

/**
 * Sweeping a plateau: along the sound is where, up or down is by how much. All that is swept over has the new level;
 * shoulders lie outside, inside the bounds of the thread. With Ctrl it is level inside, whatever the thread did there.
 */
export function plateauGesture(
  tools: ThreadTools,
  place: ThreadPlace,
  startFrame: number,
  shoulderFrames: number,
): Gesture {
  const inside = (frame: number) => clamp(frame, place.from, place.to)
  const { kind } = place
  const [first, last] = [place.from, place.to].map((f) => Math.round(place.toThread(f))) as [number, number]
  const bounds = { from: Math.min(first, last), to: Math.max(first, last) }
  /** Where it lies, in frames of the thread. */
  let [from, to] = [0, 0]
  const shoulder = () => Math.min(shoulderFrames, Math.floor((to - from) * SHOULDER_PART))
  const shape = ({ dx, dy, fine, shift, ctrl }: Move) => {
    const by = plateauUnits(place, dy * (fine ? 0.1 : 1))
    const on = Math.abs(dx) < SHORT_SWEEP ? 'near' : 'places'
    const start = tools.start(startFrame, on)
    const end = tools.catchFrame(startFrame + dx * place.framesPerPixel, shift || fine, false, on)
    const [a, b] = [inside(start), inside(end)].map((f) => Math.round(place.toThread(f))) as [number, number]
    ;[from, to] = [Math.min(a, b), Math.max(a, b)]
    if (to - from < 4) return { knots: place.knots, text: 'sweep along the sound' }
    return {
      knots: plateau(place.knots, from, to, by, shoulder(), kind, ctrl, bounds),
      text: `${ctrl ? 'level, ' : ''}${kind.showChange(by)} for ${showTime(to - from, tools.sampleRate)}`,
    }
  }
  return gesture(tools, place, 'Plateau', shape, (knots) => {
    // What was raised or lowered stays selected, so that its level can be typed.
    const raised = plateauKnots(knots, from, to)
    if (raised.length) tools.dispatch(knotsSelected({ ref: place.ref, indices: raised }))
  })
}

/** The knots of a plateau: the last on its first frame, the first on its last one, and all between. */
function plateauKnots(knots: readonly Knot[], from: number, to: number): number[] {
  if (to - from < 4) return []
  const [first, last] = [knotBefore(knots, from), knotBefore(knots, to - 1) + 1]
  return Array.from({ length: Math.max(0, last - first + 1) }, (_, i) => first + i).filter((i) => i >= 0)
}

/** Length in seconds of the ramps that join a drawn line to what is left. */
const JOIN_SECONDS = 0.005

/**
 * Drawing by hand: the value follows the pointer; going back draws over. With Shift a straight line from
 * where the stroke began, with Ctrl a curve. `tolerance` is that of thinning, null keeps every point. `told`
 * hears what thinning did, and can ask for the threads with every point. The same line goes into `others`, so much higher or lower as these stand without
 * it.
 */
export function drawGesture(
  tools: ThreadTools,
  place: ThreadPlace,
  start: { frame: number; x: number; y: number },
  tolerance: number | null,
  told: (drawn: Drawn, points: number, raw: () => readonly ShapedThread[]) => void,
  others: readonly ThreadPlace[] = [],
): Gesture {
  // One value for each pixel that the stroke passed.
  const columns = new Map<number, number>([[0, start.y]])
  let last = { x: 0, y: start.y }
  let drawn: Drawn | null = null
  let points = 0
  const frameAt = (dx: number) =>
    Math.round(place.toThread(clamp(start.frame + dx * place.framesPerPixel, place.from, place.to)))
  const lineTo = (x: number, y: number) => {
    const step = Math.sign(x - last.x)
    if (step === 0) columns.set(x, y)
    for (let c = last.x; c !== x; c += step)
      columns.set(c + step, last.y + ((y - last.y) * (c + step - last.x)) / (x - last.x))
    last = { x, y }
  }
  /** The line as it was drawn. What went beyond an end of the thread says nothing: one value for each frame. */
  const rawLine = () => {
    const values = new Map<number, number>()
    for (const [c, at] of columns) values.set(frameAt(c), yToValue(place, at))
    return [...values].map(([frame, value]) => ({ frame, value })).sort((a, b) => a.frame - b.frame)
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
      const raw = rawLine()
      drawn = drawInto(place.knots, raw, tolerance, join, place.kind)
      points = raw.length
      return { knots: drawn.knots, text, also: into(raw, tolerance) }
    },
    () =>
      drawn &&
      drawn.drawn > 0 &&
      told(drawn, points, () => [
        { ref: place.ref, knots: drawInto(place.knots, rawLine(), null, join, place.kind).knots },
        ...into(rawLine(), null),
      ]),
  )
}
