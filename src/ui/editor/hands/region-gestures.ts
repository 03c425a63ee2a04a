import { least, most } from '../../../core/units/extremes'
import {
  carrying,
  changeClipGain,
  clipGainRoom,
  crossfadeJoins,
  joinRoom,
  moveRegions,
  setFade,
  shiftCrossfade,
  slipRegions,
  trimRegions,
  type FadeEdge,
  type Join,
} from '../../../core/edit'
import { regionEnd } from '../../../core/model/queries'
import { showDb } from '../../../core/units/typed'
import { commit, dropPreview, preview } from '../../../store/edits'
import { getPlayer } from '../../../store/playback'
import { MANY } from '../../../store/selectors'
import { rangeSet, selected, type View } from '../../../store/view-slice'
import type { Dispatch } from '../../../store/store'
import { regionsIn, xToFrame, type Box } from '../drawing/geometry'
import type { Region, Session } from '../../../core/model/session'
import { snap, type Snapped } from './snap'
import { gainTrial } from '../drawing/gain-trial'

/** How far the pointer has come since the gesture began, in pixels, and what is held. */
export interface Move {
  dx: number
  dy: number
  x: number
  fine: boolean
  shift: boolean
  ctrl: boolean
}

/**
 * One drag from press to release. `move` shows, `end` makes it one step of the history, `cancel` leaves
 * everything as it was.
 */
export interface Gesture {
  move(move: Move): void
  end(): void
  cancel(): void
}

/** Milliseconds between two times that very many regions are changed in the session while a hand moves them. */
const TOLD_EVERY = { playing: 80, silent: 250 }

/**
 * Shows a clip gain on very many regions while it is dragged: their pictures follow at once, the session a
 * little later and at most so often (while it plays, so that it is heard; else once the hand rests).
 */
function manyShown(dispatch: Dispatch, regionIds: readonly string[]): { by(db: number): void; end(): void } {
  const ids = new Set(regionIds)
  let [told, wanted, timer] = [0, 0, 0]
  const tell = () => {
    timer = 0
    told = wanted
    dispatch(preview(changeClipGain, { regionIds, byDb: told }))
    gainTrial.set(null)
  }
  return {
    by(db) {
      wanted = db
      gainTrial.set({ regionIds: ids, byDb: db - told })
      const playing = getPlayer()?.playing ?? false
      if (!playing) window.clearTimeout(timer)
      if (!playing || timer === 0)
        timer = window.setTimeout(tell, playing ? TOLD_EVERY.playing : TOLD_EVERY.silent)
    },
    end() {
      window.clearTimeout(timer)
      gainTrial.set(null)
    },
  }
}

/** Decibels per pixel, plain and fine. */
const GAIN_STEP = { plain: 0.1, fine: 0.01 }

/** Dragging on the hem: up is louder; all selected regions move together. */
export function gainGesture(
  dispatch: Dispatch,
  session: Session,
  regionIds: readonly string[],
  say: (text: string | null) => void,
): Gesture {
  const room = clipGainRoom(session, regionIds)
  let byDb = 0
  let last = 0
  const show =
    regionIds.length > MANY
      ? manyShown(dispatch, regionIds)
      : {
          by: (db: number) => void dispatch(preview(changeClipGain, { regionIds, byDb: db })),
          end: () => undefined,
        }
  return {
    move({ dy, fine }) {
      // Summed by movement, so that pressing Alt on the way does not make a jump.
      byDb -= (dy - last) * (fine ? GAIN_STEP.fine : GAIN_STEP.plain)
      last = dy
      const by = Math.max(room.down, Math.min(room.up, Math.round(byDb * 100) / 100))
      say(
        regionIds.length > 1
          ? `${showDb(by)}, ${regionIds.length} regions`
          : showDb(Math.round((session.regions[regionIds[0]!]!.clipGainDb + by) * 100) / 100),
      )
      show.by(by)
    },
    end() {
      show.end()
      say(null)
      dispatch(commit(changeClipGain, { regionIds, byDb: Math.round(byDb * 100) / 100 }))
    },
    cancel() {
      show.end()
      say(null)
      dispatch(dropPreview())
    },
  }
}

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
      bend = Math.round(Math.max(-1, Math.min(1, before + (dy / height) * (fine ? 0.2 : 2))) * 100) / 100
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

/** Sweeping a time range. */
export function rangeGesture(
  dispatch: Dispatch,
  view: View,
  startX: number,
  before: { from: number; to: number } | null,
): Gesture {
  return {
    move({ dx }) {
      const [a, b] = [xToFrame(view, startX), xToFrame(view, startX + dx)]
      const from = Math.max(0, Math.round(Math.min(a, b)))
      const to = Math.max(0, Math.round(Math.max(a, b)))
      dispatch(rangeSet(Math.abs(dx) >= 2 && to > from ? { from, to } : null))
    },
    end: () => undefined,
    cancel: () => void dispatch(rangeSet(before)),
  }
}

/** What moving and trimming need to know to catch on things. */
export interface SnapPlace {
  session: Session
  framesPerPixel: number
  targets: readonly { frame: number; what: string }[]
  timeScale: 'bars' | 'seconds'
  /** Shows (or, with null, hides) the line at what was caught. */
  show(snapped: Snapped | null): void
}

/** Pixels within which an edge catches. */
const REACH = 8

/** The movement with its edges caught on what is near; Shift and fine movement catch on nothing. */
function caught(place: SnapPlace, edges: readonly number[], by: number, free: boolean): number {
  const snapped = free
    ? null
    : snap(
        place.session,
        edges.map((e) => e + by),
        place.targets,
        REACH * place.framesPerPixel,
        place.framesPerPixel,
        place.timeScale,
      )
  place.show(snapped)
  return by + (snapped?.by ?? 0)
}

/**
 * Dragging regions: in time and to other tracks, together. `rowsMoved` gives the rows that the pointer has
 * moved; with `travels` the automation under the regions goes along.
 */
export function moveGesture(
  dispatch: Dispatch,
  place: SnapPlace,
  regionIds: readonly string[],
  rowsMoved: (dy: number) => number,
  travels: boolean,
): Gesture {
  const edit = carrying(moveRegions, travels)
  const regions = regionIds.flatMap((id) => place.session.regions[id] ?? [])
  const edges = [least(regions, (r) => r.start), most(regions, regionEnd)]
  let args = { regionIds, byFrames: 0, byTracks: 0 }
  return {
    move({ dx, dy, fine, shift }) {
      const by = Math.round(dx * place.framesPerPixel * (fine ? 0.1 : 1))
      args = { regionIds, byFrames: caught(place, edges, by, shift || fine), byTracks: rowsMoved(dy) }
      dispatch(preview(edit, args))
    },
    end() {
      place.show(null)
      dispatch(commit(edit, args))
    },
    cancel() {
      place.show(null)
      dispatch(dropPreview())
    },
  }
}

/** Dragging an edge: hides or shows sound at the start or the end of the selected regions. */
export function trimGesture(
  dispatch: Dispatch,
  place: SnapPlace,
  regionIds: readonly string[],
  edge: 'start' | 'end',
  edgeFrame: number,
): Gesture {
  let args = { regionIds, edge, byFrames: 0 }
  return {
    move({ dx, fine, shift }) {
      const by = Math.round(dx * place.framesPerPixel * (fine ? 0.1 : 1))
      args = { regionIds, edge, byFrames: caught(place, [edgeFrame], by, shift || fine) }
      dispatch(preview(trimRegions, args))
    },
    end() {
      place.show(null)
      dispatch(commit(trimRegions, args))
    },
    cancel() {
      place.show(null)
      dispatch(dropPreview())
    },
  }
}

/** Dragging with Ctrl: only the sound inside the regions moves; their edges stay. */
export function slipGesture(dispatch: Dispatch, place: SnapPlace, regionIds: readonly string[]): Gesture {
  let args = { regionIds, byFrames: 0 }
  return {
    move({ dx, fine }) {
      args = { regionIds, byFrames: Math.round(dx * place.framesPerPixel * (fine ? 0.1 : 1)) }
      dispatch(preview(slipRegions, args))
    },
    end: () => void dispatch(commit(slipRegions, args)),
    cancel: () => dispatch(dropPreview()),
  }
}
