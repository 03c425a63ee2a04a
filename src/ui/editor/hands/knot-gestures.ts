import { clamp } from '../../../core/units/clamp'
import { moveKnots, removeKnots, reshapeStretch, scaleAbout, stretchKnots } from '../../../core/curve/knots'
import type { Knot } from '../../../core/model/session'
import { least, most } from '../../../core/units/extremes'
import { showLength, showTime } from '../../../core/units/typed'
import { knotsSelected } from '../../../store/view'
import { stretchAt, type ThreadPlace, valuePerPixel, valueToY } from '../drawing/thread-place'
import type { Gesture } from './gesture'
import { gesture, LET_GO, type ThreadTools } from './thread-gesture'

/** Takes knots out of the selection while they are so far off that they are removed, and puts them back. */
function selectionWhileDragged(tools: ThreadTools, { ref }: ThreadPlace, indices: readonly number[]) {
  let gone = false
  return (far: boolean) => {
    if (far === gone) return
    gone = far
    tools.dispatch(knotsSelected(far ? null : { ref, indices: [...indices] }))
  }
}

/** What is said while dragged knots are so far off that they are removed. */
const letGoWords = (count: number) =>
  count > 1 ? `let go: ${count} knots are removed` : 'let go: it is removed'

/** Dragging knots: in time and value together; far off they are let go. `grabbed` is the one under the pointer. */
export function knotGesture(
  tools: ThreadTools,
  place: ThreadPlace,
  indices: readonly number[],
  grabbed: number,
): Gesture {
  const knot = place.knots[grabbed]!
  const from = place.toSession(knot.frame)
  const letGo = selectionWhileDragged(tools, place, indices)
  return gesture(
    tools,
    place,
    indices.length > 1 ? `Move ${indices.length} knots` : 'Move knot',
    ({ dx, dy, fine, shift, ctrl }) => {
      const scale = fine ? 0.1 : 1
      const y = valueToY(place, knot.value) + dy
      if (!fine && (y < place.box.y - LET_GO || y > place.box.y + place.box.height + LET_GO)) {
        letGo(true)
        return { knots: removeKnots(place.knots, indices), text: letGoWords(indices.length) }
      }
      letGo(false)
      const to = tools.catchFrame(
        from + Math.round(dx * place.framesPerPixel * scale),
        shift || fine || Math.abs(dx) < 3,
        ctrl,
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
    const bend = clamp(before + ((rising ? dy : -dy) / place.box.height) * (fine ? 0.2 : 2), -1, 1)
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
  const letGo = selectionWhileDragged(tools, place, indices)
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
        const above = least(
          chosen.map((k) => valueToY(place, k.value)),
          Number,
        )
        const below = most(
          chosen.map((k) => valueToY(place, k.value)),
          Number,
        )
        const { y, height } = place.box
        if (!fine && (below + dy < y - LET_GO || above + dy > y + height + LET_GO)) {
          letGo(true)
          return { knots: removeKnots(knots, indices), text: letGoWords(indices.length) }
        }
        letGo(false)
        const moved = moveKnots(knots, indices, 0, dy * scale * valuePerPixel(place), kind)
        return { knots: moved, text: kind.show(moved[indices[0]!]!.value) }
      }
      if (part === 'top') {
        const [top, bottom] = kind.upwards ? [highest, lowest] : [lowest, highest]
        const base = shift ? kind.defaultValue : bottom
        const factor =
          Math.abs(top - base) < 1e-9
            ? 1
            : clamp((top + dy * scale * valuePerPixel(place) - base) / (top - base), 0, 20)
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
