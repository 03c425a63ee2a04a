import { clamp } from '../../../core/units/clamp'
import { weaveInto } from '../../../core/curve/weave'
import { placedWeave, resizedWeave, setWeave, type LaneRef } from '../../../core/edit'
import type { LaneWeave, Weave } from '../../../core/model/session'
import type { TempoChange } from '../../../core/units/tempo'
import { showTime } from '../../../core/units/typed'
import { commit, dropPreview, preview } from '../../../store/edits'
import { type LastWeave, weaveDrawn, weavePicked, weaveSet } from '../../../store/view'
import { type ThreadPlace, valuePerPixel, valueToY, yToValue } from '../drawing/thread-place'
import type { Gesture, Move } from './gesture'
import { gesture, type ThreadTools } from './thread-gesture'

/**
 * Pixels above 0 dB that a weave stays at 0 dB, so that nothing is woven above it by accident; marked while
 * weaving.
 */
export const STOP = 16

/**
 * Sweeping a weave: along the sound is where, caught on the grid; where the stroke starts is one limit and
 * where it goes the other. Gains do not go above 0 dB unless the hand goes well past it. A weave of a lane is picked
 * afterwards; that of a gain thread is drawn anew while its values are changed right away.
 */
export function weaveGesture(
  tools: ThreadTools,
  place: ThreadPlace,
  start: { frame: number; y: number },
  weave: Weave,
  tempo: readonly TempoChange[],
): Gesture {
  const { kind, ref } = place
  const inside = (frame: number) => clamp(frame, place.from, place.to)
  const limit = (y: number) => {
    const stop = kind.catchesPlain ? valueToY(place, kind.defaultValue) : -Infinity
    return y < stop && y > stop - STOP ? kind.defaultValue : yToValue(place, y > stop ? y : y + STOP)
  }
  // A pattern belongs to the beat: an edge somewhere else, which may not even be seen, is not where it begins.
  const first = tools.start(start.frame, 'grid')
  let last: LastWeave | null = null
  let settings = weave
  /** What a movement asks for; null while it is too short for a weave. */
  const swept = ({ dx, dy, shift, fine }: Move) => {
    const end = tools.catchFrame(start.frame + dx * place.framesPerPixel, shift || fine, false, 'grid')
    const [a, b] = [inside(first), inside(end)].map((f) => Math.round(place.toThread(f))) as [number, number]
    const [from, to] = [Math.min(a, b), Math.max(a, b)]
    const [p, q] = [limit(start.y), limit(start.y + dy)]
    settings = { ...weave, low: Math.min(p, q), high: Math.max(p, q) }
    return to - from < 16
      ? null
      : { from, to, text: `${kind.show(settings.low)} to ${kind.show(settings.high)}` }
  }
  const TOO_SHORT = 'sweep along the sound'
  if (ref.kind === 'lane') {
    let made: LaneWeave | null = null
    return {
      move(move) {
        const where = swept(move)
        made = where && placedWeave(settings, where.from, where.to)
        tools.say(where?.text ?? TOO_SHORT)
        tools.dispatch(made ? preview(setWeave, { ref, weave: made, replaces: null }) : dropPreview())
      },
      end() {
        tools.say(null)
        if (!made || !tools.dispatch(commit(setWeave, { ref, weave: made, replaces: null }))) return
        tools.dispatch(weaveSet(settings))
        tools.dispatch(weavePicked({ ref, from: made.from }))
      },
      cancel() {
        tools.say(null)
        tools.dispatch(dropPreview())
      },
    }
  }
  return gesture(
    tools,
    place,
    'Weave',
    (move) => {
      const where = swept(move)
      if (!where) return { knots: place.knots, text: TOO_SHORT }
      const { from, to, text } = where
      last = { ref, from, to, before: place.knots }
      return { knots: weaveInto(place.knots, settings, from, to, tempo, tools.sampleRate, kind), text }
    },
    () => {
      tools.dispatch(weaveSet(settings))
      tools.dispatch(weaveDrawn(last))
    },
  )
}

/** Edges of the frame about a weave, and its inside. */
export type WeavePart = 'move' | 'top' | 'bottom' | 'left' | 'right'

/**
 * Dragging a weave by its frame: its inside moves it in time and level, its top and bottom are its limits, its sides
 * its start and end. What it does in between follows.
 */
export function weaveFrameGesture(
  tools: ThreadTools,
  place: ThreadPlace,
  weave: LaneWeave,
  part: WeavePart,
): Gesture {
  const { kind } = place
  const ref = place.ref as LaneRef
  const value = (of: number, dy: number) => clamp(of + dy * valuePerPixel(place), kind.min, kind.max)
  const [above, below] = kind.upwards ? (['high', 'low'] as const) : (['low', 'high'] as const)
  /** Where the weave would lie; along both axes once the pointer has left the small place of a press. */
  const changed = ({ dx, dy, fine, shift, ctrl }: Move): LaneWeave => {
    const scale = fine ? 0.1 : 1
    const along = (frame: number) =>
      tools.catchFrame(
        Math.max(0, frame + Math.round(dx * scale * place.framesPerPixel)),
        shift || fine || Math.abs(dx) < 3,
        ctrl,
      )
    if (part === 'top') return inOrder({ ...weave, [above]: value(weave[above], dy * scale) })
    if (part === 'bottom') return inOrder({ ...weave, [below]: value(weave[below], dy * scale) })
    if (part === 'left')
      return resizedWeave(weave, Math.min(along(weave.from), weave.to - SHORTEST), weave.to)
    if (part === 'right')
      return resizedWeave(weave, weave.from, Math.max(along(weave.to), weave.from + SHORTEST))
    const by = Math.abs(dx) < 3 ? 0 : along(weave.from) - weave.from
    const room = clamp(
      Math.abs(dy) < 3 ? 0 : dy * scale * valuePerPixel(place),
      kind.min - weave.low,
      kind.max - weave.high,
    )
    return {
      ...weave,
      from: weave.from + by,
      to: weave.to + by,
      origin: weave.origin + by,
      low: weave.low + room,
      high: weave.high + room,
    }
  }
  let made: LaneWeave | null = null
  const args = (to: LaneWeave) => ({
    ref,
    weave: to,
    replaces: weave.from,
    what: part === 'left' || part === 'right' ? 'Place of a weave' : 'Level of a weave',
  })
  return {
    move(move) {
      made = changed(move)
      tools.say(
        part === 'left' || part === 'right'
          ? `${showTime(made.from, tools.sampleRate)} to ${showTime(made.to, tools.sampleRate)}`
          : `${kind.show(made.low)} to ${kind.show(made.high)}`,
      )
      tools.dispatch(preview(setWeave, args(made)))
    },
    end() {
      tools.say(null)
      if (made && tools.dispatch(commit(setWeave, args(made))))
        tools.dispatch(weavePicked({ ref, from: made.from }))
    },
    cancel() {
      tools.say(null)
      tools.dispatch(dropPreview())
    },
  }
}

/** The shortest weave, in frames. */
const SHORTEST = 16

const inOrder = (weave: LaneWeave): LaneWeave => ({
  ...weave,
  low: Math.min(weave.low, weave.high),
  high: Math.max(weave.low, weave.high),
})
