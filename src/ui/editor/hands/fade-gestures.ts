import { clamp } from '../../../core/units/clamp'
import {
  crossfadeJoins,
  type FadeEdge,
  type Join,
  joinRoom,
  setFade,
  shiftCrossfade,
} from '../../../core/edit'
import type { Session } from '../../../core/model/session'
import { commit, dropPreview, preview } from '../../../store/edits'
import type { Dispatch } from '../../../store/store'
import type { Gesture } from './gesture'

/**
 * Dragging a fade handle: inwards is longer. Past the edge of a region that touches a neighbour it becomes a
 * crossfade with it, twice as long as it is past. `length` is that of the grabbed fade, `neighbour` the join
 * at that edge.
 */
export function fadeGesture(
  dispatch: Dispatch,
  regionIds: readonly string[],
  edge: FadeEdge,
  framesPerPixel: number,
  length: number,
  neighbour: Join | null,
): Gesture {
  let pixels = 0
  let last = 0
  const by = () => Math.round(pixels * framesPerPixel) * (edge === 'in' ? 1 : -1)
  const crossing = () =>
    neighbour && length + by() < -3 * framesPerPixel
      ? { joins: [neighbour], lengthFrames: -2 * (length + by()), law: 'equal-power' as const }
      : null
  const args = () => ({ regionIds, edge, change: { byFrames: by() } })
  return {
    move({ dx, fine }) {
      pixels += (dx - last) * (fine ? 0.1 : 1)
      last = dx
      const cross = crossing()
      dispatch(cross ? preview(crossfadeJoins, cross) : preview(setFade, args()))
    },
    end() {
      const cross = crossing()
      dispatch(cross ? commit(crossfadeJoins, cross) : commit(setFade, args()))
    },
    cancel: () => dispatch(dropPreview()),
  }
}

/** Dragging the curve of a fade bends it: up comes sooner, down later. */
export function bendFadeGesture(
  dispatch: Dispatch,
  regionIds: readonly string[],
  edge: FadeEdge,
  before: number,
  height: number,
): Gesture {
  let bend = before
  return {
    move({ dy, fine }) {
      bend = Math.round(clamp(before + (dy / height) * (fine ? 0.2 : 2), -1, 1) * 100) / 100
      dispatch(preview(setFade, { regionIds, edge, change: { bend } }))
    },
    end: () => void dispatch(commit(setFade, { regionIds, edge, change: { bend } })),
    cancel: () => dispatch(dropPreview()),
  }
}

/**
 * Dragging across a join makes a crossfade, twice as long as the hand has gone; `told` hears when there is
 * too little sound for it.
 */
export function joinGesture(
  dispatch: Dispatch,
  session: Session,
  join: Join,
  framesPerPixel: number,
  told: (text: string | null) => void,
): Gesture {
  let args = { joins: [join], lengthFrames: 1, law: 'equal-power' as const }
  const room = joinRoom(session, join)
  return {
    move({ dx, fine }) {
      args = {
        ...args,
        lengthFrames: Math.max(1, Math.round(2 * Math.abs(dx) * framesPerPixel * (fine ? 0.1 : 1))),
      }
      const ms = (frames: number) => `${Math.round((frames / session.sampleRate) * 1000)} ms`
      told(
        room && args.lengthFrames > room.left + room.right
          ? `longest possible: ${ms(room.left + room.right)} (${ms(room.left)} left, ${ms(room.right)} right)`
          : ms(args.lengthFrames),
      )
      dispatch(preview(crossfadeJoins, args))
    },
    end() {
      told(null)
      dispatch(commit(crossfadeJoins, args))
    },
    cancel() {
      told(null)
      dispatch(dropPreview())
    },
  }
}

/** Dragging a crossfade slides it, both edges together. */
export function slideGesture(dispatch: Dispatch, crossfadeId: string, framesPerPixel: number): Gesture {
  let args = { crossfadeId, edge: 'both' as const, byFrames: 0 }
  return {
    move({ dx, fine }) {
      args = { ...args, byFrames: Math.round(dx * framesPerPixel * (fine ? 0.1 : 1)) }
      dispatch(preview(shiftCrossfade, args))
    },
    end: () => void dispatch(commit(shiftCrossfade, args)),
    cancel: () => dispatch(dropPreview()),
  }
}
