import { createRegion, createTrack } from '../model/create'
import { LIMITS, type Source } from '../model/session'
import { defineEdit } from './edit'
import { resolveOverlaps, withoutUnusedThreads } from './resolve-overlaps'

/**
 * Puts a rendered sound into the session: in place of regions of a track, or, without any, on a new track
 * below that one. `name` names the new region. Throws a RangeError when there is no room for another track.
 */
export const placeRendered = defineEdit<{
  source: Source
  regionId: string
  trackId: string
  newTrackId: string
  start: number
  name: string
  replaces: readonly string[]
}>({
  name: 'placeRendered',
  label: (_session, { name, replaces }) =>
    replaces.length ? `Render ${replaces.length} regions into “${name}”` : `Render the range into “${name}”`,
  apply(session, { source, regionId, trackId, newTrackId, start, name, replaces }) {
    const track = session.tracks[trackId]
    if (!track) return session
    const sources = { ...session.sources, [source.id]: source }
    const made = createRegion(regionId, replaces.length ? trackId : newTrackId, source, start, name)
    if (replaces.length) {
      const regions = { ...session.regions }
      for (const id of replaces) delete regions[id]
      regions[regionId] = made
      return withoutUnusedThreads(resolveOverlaps({ ...session, sources, regions }, [regionId]))
    }
    if (session.trackIds.length >= LIMITS.tracks)
      throw new RangeError(`a session has at most ${LIMITS.tracks} tracks`)
    const fresh = {
      ...createTrack(newTrackId, name, source.channels, session.trackIds.length),
      colour: track.colour,
      volumeDb: track.volumeDb,
      pan: track.pan,
      ...(track.values ? { values: track.values } : {}),
    }
    const at = session.trackIds.indexOf(trackId) + 1
    return {
      ...session,
      sources,
      tracks: { ...session.tracks, [newTrackId]: fresh },
      trackIds: [...session.trackIds.slice(0, at), newTrackId, ...session.trackIds.slice(at)],
      regions: { ...session.regions, [regionId]: made },
    }
  },
})
