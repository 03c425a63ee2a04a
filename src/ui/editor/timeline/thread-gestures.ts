import { moveKnots, plateau, removeKnots } from '../../../core/curve/knots'
import { shapeThread } from '../../../core/edit'
import type { Knot, Region } from '../../../core/model/session'
import { heightToDb } from '../../../core/units/taper'
import { showDb, showTime } from '../../../core/units/typed'
import { commit, dropPreview, preview } from '../../../store/edits'
import type { Dispatch } from '../../../store/store'
import { knotsSelected } from '../../../store/view-slice'
import type { Box } from './geometry'
import type { Gesture } from './gestures'
import { heightToY, sessionToSource, sourceToSession } from './thread-geometry'

/** What shaping a region's thread by hand needs to know. */
export interface ThreadPlace {
  region: Region
  knots: readonly Knot[]
  box: Box
  framesPerPixel: number
  sampleRate: number
  /** Shows a value beside the pointer; null takes it away. */
  say(text: string | null): void
}

/** Pixels outside the region's sound at which a dragged knot is let go. */
const LET_GO = 44

function gesture(dispatch: Dispatch, place: ThreadPlace, what: string, shape: (move: { dx: number; dy: number; fine: boolean }) => { knots: readonly Knot[]; text: string }): Gesture {
  let knots: readonly Knot[] = place.knots
  return {
    move(move) {
      const shaped = shape(move)
      knots = shaped.knots
      place.say(shaped.text)
      dispatch(preview(shapeThread, { regionId: place.region.id, knots, what }))
    },
    end() {
      place.say(null)
      dispatch(commit(shapeThread, { regionId: place.region.id, knots, what }))
    },
    cancel() {
      place.say(null)
      dispatch(dropPreview())
    },
  }
}

const level = (height: number) => showDb(Math.round(heightToDb(height) * 10) / 10)

/** Dragging knots: in time and level; far off the region they are let go. */
export function knotGesture(dispatch: Dispatch, place: ThreadPlace, indices: readonly number[]): Gesture {
  const grabbed = place.knots[indices[0]!]!
  return gesture(dispatch, place, 'Move knot in gain thread', ({ dx, dy, fine }) => {
    const scale = fine ? 0.1 : 1
    const y = heightToY(place.box, grabbed.value) + dy
    if (!fine && (y < place.box.y - LET_GO || y > place.box.y + place.box.height + LET_GO)) {
      dispatch(knotsSelected(null))
      return { knots: removeKnots(place.knots, indices), text: 'let go' }
    }
    const frames = Math.round(dx * place.framesPerPixel * scale) * (place.region.reversed ? -1 : 1)
    const knots = moveKnots(place.knots, indices, frames, (-dy * scale) / place.box.height)
    const now = knots[indices[0]!]!
    return { knots, text: `${level(now.value)} at ${showTime(sourceToSession(place.region, now.frame), place.sampleRate)}` }
  })
}

/** Dragging a stretch moves its two knots up and down; a thread without knots, or its ends, moves as a whole. */
export function stretchGesture(dispatch: Dispatch, place: ThreadPlace, index: number | null, startFrame: number): Gesture {
  const empty = place.knots.length === 0
  const base: readonly Knot[] = empty ? [{ frame: Math.round(sessionToSource(place.region, startFrame)), value: 10 ** (-12 / 60), shape: 'line', bend: 0 }] : place.knots
  const indices = empty ? [0] : index === null ? [startFrame <= sourceToSession(place.region, base[0]!.frame) !== place.region.reversed ? 0 : base.length - 1] : [index, index + 1]
  return gesture(dispatch, place, 'Level of stretch in gain thread', ({ dy, fine }) => {
    const knots = moveKnots(base, indices, 0, (-dy * (fine ? 0.1 : 1)) / place.box.height)
    return { knots, text: level(knots[indices[0]!]!.value) }
  })
}

/** Sweeping a plateau: along the sound is where, up or down is by how much. */
export function plateauGesture(dispatch: Dispatch, place: ThreadPlace, startFrame: number, shoulderFrames: number): Gesture {
  return gesture(dispatch, place, 'Plateau in gain thread', ({ dx, dy, fine }) => {
    const byDb = Math.round(-dy * (fine ? 0.02 : 0.2) * 10) / 10
    const clamp = (frame: number) => Math.max(place.region.offset, Math.min(place.region.offset + place.region.length, Math.round(sessionToSource(place.region, frame))))
    const [a, b] = [clamp(startFrame), clamp(startFrame + dx * place.framesPerPixel)]
    const [from, to] = [Math.min(a, b), Math.max(a, b)]
    if (to - from < 8) return { knots: place.knots, text: 'sweep along the sound' }
    return { knots: plateau(place.knots, from, to, byDb, shoulderFrames), text: `${showDb(byDb)} for ${showTime(to - from, place.sampleRate)}` }
  })
}
