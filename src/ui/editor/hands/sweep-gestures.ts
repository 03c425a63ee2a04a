import type { Region } from '../../../core/model/session'
import type { Dispatch } from '../../../store/store'
import { knotsSelected, rangeSet, selected, type View } from '../../../store/view'
import { regionsIn, type Box, xToFrame } from '../drawing/geometry'
import type { ThreadPlace } from '../drawing/thread-place'
import type { Gesture } from './gesture'
import type { ThreadTools } from './thread-gesture'

/** What a sweep needs to know to select regions. */
export interface SweepPlace {
  view: View
  rows: readonly (readonly Region[])[]
  start: { x: number; y: number }
  /** Regions that stay selected besides the swept ones. */
  kept: readonly string[]
  show(box: Box | null): void
}

/** Sweeping a rectangle selects the regions it touches. */
export function sweepGesture(dispatch: Dispatch, place: SweepPlace): Gesture {
  const { start } = place
  return {
    move({ dx, dy }) {
      const box = {
        x: Math.min(start.x, start.x + dx),
        y: Math.min(start.y, start.y + dy),
        width: Math.abs(dx),
        height: Math.abs(dy),
      }
      place.show(box)
      dispatch(
        selected({ regionIds: [...new Set([...place.kept, ...regionsIn(place.view, place.rows, box)])] }),
      )
    },
    end: () => place.show(null),
    cancel() {
      place.show(null)
      dispatch(selected({ regionIds: [...place.kept] }))
    },
  }
}

/** Sweeping a time range. Its ends are caught by `catchFrame`; a modifier pressed after the start frees them. */
export function rangeGesture(
  dispatch: Dispatch,
  view: View,
  startX: number,
  before: { from: number; to: number } | null,
  catchFrame: (frame: number, free: boolean) => number,
): Gesture {
  return {
    move({ dx, fine }) {
      const [a, b] = [startX, startX + dx].map((x) => catchFrame(Math.max(0, xToFrame(view, x)), fine)) as [
        number,
        number,
      ]
      const from = Math.max(0, Math.round(Math.min(a, b)))
      const to = Math.max(0, Math.round(Math.max(a, b)))
      dispatch(rangeSet(Math.abs(dx) >= 2 && to > from ? { from, to } : null))
    },
    end: () => void catchFrame(0, true),
    cancel() {
      catchFrame(0, true)
      dispatch(rangeSet(before))
    },
  }
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
