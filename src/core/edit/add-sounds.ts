import { createRegion, createTrack } from '../model/create'
import { regionEnd, regionsOf } from '../model/queries'
import { LIMITS, type Session, type Source } from '../model/session'
import { counted, defineEdit } from './edit'

/** Sounds that were imported, with the ids that they, their tracks and regions shall have. */
export interface NewSound {
  source: Source
  trackId: string
  regionId: string
}

const withoutEnding = (name: string) => name.replace(/\.[a-z0-9]{1,5}$/i, '') || name

/**
 * Puts imported sounds into the session, each as a region at `start`. With `onTrackId` they go on that track
 * one after another, where it has room and the same number of channels; every other one gets a track of its
 * own, below.
 */
export const addSounds = defineEdit<{
  sounds: readonly NewSound[]
  start: number
  onTrackId?: string | undefined
}>({
  name: 'addSounds',
  label: (_session, { sounds }) =>
    sounds.length === 1 ? `Import “${sounds[0]!.source.name}”` : `Import ${counted(sounds.length, 'file')}`,
  apply(session, { sounds, start, onTrackId }) {
    let next = session
    let at = start
    for (const { source, trackId, regionId } of sounds) {
      const track = onTrackId === undefined ? undefined : next.tracks[onTrackId]
      const fits =
        track !== undefined &&
        track.channels === source.channels &&
        hasRoom(next, track.id, at, source.frames)
      const target = fits
        ? track
        : createTrack(trackId, withoutEnding(source.name), source.channels, next.trackIds.length)
      if (!fits && next.trackIds.length >= LIMITS.tracks)
        throw new RangeError(`a session has at most ${LIMITS.tracks} tracks`)
      const region = createRegion(regionId, target.id, source, fits ? at : start, withoutEnding(source.name))
      if (fits) at += source.frames
      next = {
        ...next,
        trackIds: fits ? next.trackIds : [...next.trackIds, target.id],
        tracks: fits ? next.tracks : { ...next.tracks, [target.id]: target },
        sources: { ...next.sources, [source.id]: source },
        regions: { ...next.regions, [regionId]: region },
      }
    }
    return next
  },
})

function hasRoom(session: Session, trackId: string, start: number, length: number): boolean {
  return regionsOf(session, trackId).every((r) => regionEnd(r) <= start || r.start >= start + length)
}
