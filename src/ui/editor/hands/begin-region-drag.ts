import { regionEnd } from '../../../core/model/queries'
import type { Region } from '../../../core/model/session'
import { getPlayer } from '../../../store/playback/playback'
import { regionBox, rowAt, soundBox } from '../drawing/geometry'
import { bendFadeGesture, fadeGesture } from './fade-gestures'
import { gainGesture } from './gain-gesture'
import type { Gesture } from './gesture'
import type { TimelineContext } from './gesture-context'
import { moveGesture, slipGesture, trimGesture } from './move-gestures'
import { snapTargets } from './snap'

/** What a drag of a region, or of one of its handles, does. */
export function regionGesture(
  context: TimelineContext,
  kind: string | undefined,
  region: Region,
  moved: readonly string[],
  x: number,
  y: number,
  event: PointerEvent,
): Gesture {
  const { dispatch, session, state, view } = context
  if (kind === 'gain')
    return gainGesture(dispatch, session, moved, (text) =>
      context.say(text === null ? null : { x: x + 14, y: y + 22, text }),
    )
  if (kind === 'fade-in' || kind === 'fade-out') {
    const edge = kind === 'fade-in' ? 'in' : 'out'
    const row = context.rows[session.trackIds.indexOf(region.trackId)] ?? []
    const other = row[row.findIndex((r) => r.id === region.id) + (edge === 'in' ? -1 : 1)]
    const touches =
      other && (edge === 'in' ? regionEnd(other) === region.start : other.start === regionEnd(region))
    const join = touches
      ? edge === 'in'
        ? { leftId: other.id, rightId: region.id }
        : { leftId: region.id, rightId: other.id }
      : null
    return fadeGesture(
      dispatch,
      moved,
      edge,
      view.framesPerPixel,
      (edge === 'in' ? region.fadeIn : region.fadeOut)?.length ?? 0,
      join,
    )
  }
  if (kind === 'bend-in' || kind === 'bend-out') {
    const edge = kind === 'bend-in' ? 'in' : 'out'
    return bendFadeGesture(
      dispatch,
      moved,
      edge,
      (edge === 'in' ? region.fadeIn : region.fadeOut)?.bend ?? 0,
      soundBox(regionBox(view, region, session.trackIds.indexOf(region.trackId))).height,
    )
  }
  const targets = snapTargets(session, new Set(moved), getPlayer()?.position() ?? 0, state.selection.range)
  const place = {
    session,
    framesPerPixel: view.framesPerPixel,
    targets,
    show: context.showSnapped,
    timeScale: state.preferences.timeScale,
  }
  if (kind === 'trim-start') return trimGesture(dispatch, place, moved, 'start', region.start)
  if (kind === 'trim-end') return trimGesture(dispatch, place, moved, 'end', regionEnd(region))
  if (event.ctrlKey || event.metaKey) return slipGesture(dispatch, place, moved)
  return moveGesture(
    dispatch,
    place,
    moved,
    (dy) => rowAt(view, y + dy) - rowAt(view, y),
    state.preferences.travels,
  )
}
