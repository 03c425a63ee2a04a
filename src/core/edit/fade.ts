import { regionEnd } from '../model/queries'
import type { Fade, Region, Session } from '../model/session'
import { defineEdit, mapRegions, regionWords } from './edit'

export type FadeEdge = 'in' | 'out'

/** What of a fade is changed; a length of 0 removes it. A new fade is linear, from silence. */
export interface FadeChange {
  lengthFrames?: number
  /** Instead of a length: so many frames more (or less) than each fade has. */
  byFrames?: number
  curve?: Fade['curve']
}

const newFade = (length: number): Fade => ({ kind: 'gain', length, curve: 'linear', bend: 0, level: 0 })

/** Frames that crossfades take at each end of a region. */
export function crossfadeRoom(session: Session, regionId: string): { in: number; out: number } {
  const room = { in: 0, out: 0 }
  for (const fade of Object.values(session.crossfades)) {
    if (fade.leftId !== regionId && fade.rightId !== regionId) continue
    const overlap = regionEnd(session.regions[fade.leftId]!) - session.regions[fade.rightId]!.start
    room[fade.leftId === regionId ? 'out' : 'in'] = overlap
  }
  return room
}

/** A region whose fade out gives way to its fade in (or the other way round), so that both fit into `length` frames. */
function fitted(region: Region, first: FadeEdge, length: number): Region {
  const kept = first === 'in' ? region.fadeIn : region.fadeOut
  const pushed = first === 'in' ? region.fadeOut : region.fadeIn
  if (!pushed) return region
  const room = length - (kept?.length ?? 0)
  if (pushed.length <= room) return region
  const shorter = room > 0 ? { ...pushed, length: room } : null
  return first === 'in' ? { ...region, fadeOut: shorter } : { ...region, fadeIn: shorter }
}

/**
 * Makes, changes or removes the fade in or out of regions. A fade is at most as long as its region (less its crossfades); a longer
 * one pushes the other. An edge that a crossfade takes has no fade and stays as it is.
 */
export const setFade = defineEdit<{ regionIds: readonly string[]; edge: FadeEdge; change: FadeChange }>({
  name: 'setFade',
  label: (session, { regionIds, edge, change }) => `${change.lengthFrames === 0 ? 'Remove fade' : 'Fade'} ${edge} of ${regionWords(session, regionIds)}`,
  apply(session, { regionIds, edge, change }) {
    return mapRegions(session, regionIds, (region) => {
      const taken = crossfadeRoom(session, region.id)
      if (taken[edge] > 0) return region
      const room = region.length - taken.in - taken.out
      const key = edge === 'in' ? 'fadeIn' : 'fadeOut'
      const before = region[key]
      const length = Math.min(room, Math.max(0, Math.round(change.lengthFrames ?? (before?.length ?? 0) + (change.byFrames ?? 0))))
      if (length === 0) return before ? { ...region, [key]: null } : region
      const fade = { ...(before ?? newFade(length)), length, ...(change.curve ? { curve: change.curve } : {}) }
      if (before && before.length === fade.length && before.curve === fade.curve) return region
      return fitted({ ...region, [key]: fade }, edge, room)
    })
  },
})
