import { carrying, copyRegionsBy, moveRegions, slipRegions, trimRegions } from '../../../core/edit'
import { regionEnd } from '../../../core/model/queries'
import type { Session } from '../../../core/model/session'
import { least, most } from '../../../core/units/extremes'
import { commit, dropPreview, preview } from '../../../store/edits'
import { andSelectNew } from '../../../store/actions/region-actions'
import { toast } from '../../parts/messages/toast'
import type { Dispatch } from '../../../store/store'
import type { Gesture } from './gesture'
import { snap, TIME_REACH, type Snapped, type Target } from './snap'

/** What moving and trimming need for snapping. */
export interface SnapPlace {
  session: Session
  framesPerPixel: number
  targets: readonly Target[]
  timeScale: 'bars' | 'seconds'
  /** Shows (or, with null, hides) the line at what was caught. */
  show(snapped: Snapped | null): void
}

/** The movement, snapped; Shift and fine movement do not snap. */
function caught(place: SnapPlace, edges: readonly number[], by: number, free: boolean): number {
  const snapped = free
    ? null
    : snap(
        place.session,
        edges.map((e) => e + by),
        place.targets,
        TIME_REACH * place.framesPerPixel,
        place.framesPerPixel,
        place.timeScale,
      )
  place.show(snapped)
  return by + (snapped?.by ?? 0)
}

/** Pixels that a drag has to go sideways before it moves regions in time: a hand that goes to another track is not still. */
const TIME_HOLDS = 8

/**
 * Dragging regions: in time and to other tracks, together. `rowsMoved` gives the rows that the pointer has
 * moved; with `travels` the automation under the regions goes along. On its way to another track a region keeps its time
 * until the pointer has gone some pixels sideways, and with Alt all along. With Ctrl a copy goes, and is selected;
 * the regions stay.
 */
export function moveGesture(
  dispatch: Dispatch,
  place: SnapPlace,
  regionIds: readonly string[],
  rowsMoved: (dy: number) => number,
  travels: boolean,
): Gesture {
  const regions = regionIds.flatMap((id) => place.session.regions[id] ?? [])
  const edges = [least(regions, (r) => r.start), most(regions, regionEnd)]
  let copies = false
  const edit = () => carrying(copies ? copyRegionsBy : moveRegions, travels)
  let args = { regionIds, byFrames: 0, byTracks: 0 }
  let sideways = false
  return {
    move({ dx, dy, fine, shift, ctrl }) {
      sideways ||= Math.abs(dx) >= TIME_HOLDS
      const byTracks = rowsMoved(dy)
      const stays = byTracks === 0 ? !sideways && !shift && !fine : !sideways || fine
      const by = Math.round(dx * place.framesPerPixel * (fine ? 0.1 : 1))
      if (stays) place.show(null)
      args = { regionIds, byFrames: stays ? 0 : caught(place, edges, by, shift || fine), byTracks }
      copies = ctrl
      dispatch(preview(edit(), args))
    },
    end() {
      place.show(null)
      const action = commit(edit(), args)
      // What is acted on next is the copy that lies under the hand; it must not be there already, as a preview.
      if (copies) dispatch(dropPreview())
      if (!dispatch(copies ? andSelectNew(action) : action) || args.byTracks === 0) return
      const { sources, trackIds, tracks } = place.session
      const words = regions.flatMap((r) => {
        const from = trackIds.indexOf(r.trackId)
        const to = tracks[trackIds[from + args.byTracks] ?? '']
        const { channels } = sources[r.sourceId]!
        return to && to.channels !== channels && to.channels !== tracks[r.trackId]!.channels
          ? [PLACED[channels]]
          : []
      })
      if (words[0]) toast({ text: words[0], stays: 6000 })
    },
    cancel() {
      place.show(null)
      dispatch(dropPreview())
    },
  }
}

/** What is said where a region comes onto a track with another number of channels. */
const PLACED = {
  1: 'A mono region on a stereo track sounds on both sides.',
  2: 'A stereo region on a mono track sounds as the mean of its two sides.',
} as const

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
