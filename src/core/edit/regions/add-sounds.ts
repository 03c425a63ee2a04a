import { createRegion, createTrack } from '../../model/create'
import { regionEnd, regionsOf } from '../../model/queries'
import { LIMITS, type Session, type Source } from '../../model/session'
import { counted, defineEdit } from '../shared/edit'

/** Sounds that were imported, with the ids that they, their tracks and regions shall have. */
export interface NewSound {
  source: Source
  trackId: string
  regionId: string
  /** Its own place, as a session frame; without one it goes where all of them go. */
  start?: number
}

const withoutEnding = (name: string) => name.replace(/\.[a-z0-9]{1,5}$/i, '') || name

/** A track that takes sounds one after another, and where the next one goes. */
interface Row {
  trackId: string
  at: number
}

/**
 * Puts imported sounds into the session, each as a region at its own place, or at `start`. With `onTrackId`
 * those without a place of their own go on that track one after another, where it has room and the same number
 * of channels. Every other one gets a track of its own, below; with `inRow` mono sounds share one and stereo
 * sounds another, as far as they have room.
 */
export const addSounds = defineEdit<{
  sounds: readonly NewSound[]
  start: number
  onTrackId?: string | undefined
  inRow?: boolean
}>({
  name: 'addSounds',
  label: (_session, { sounds }) =>
    sounds.length === 1 ? `Import “${sounds[0]!.source.name}”` : `Import ${counted(sounds.length, 'file')}`,
  apply(session, { sounds, start, onTrackId, inRow }) {
    let next = session
    const given: Row | null = onTrackId === undefined ? null : { trackId: onTrackId, at: start }
    const rows = new Map<number, Row>()
    for (const sound of sounds) {
      const { source, regionId } = sound
      const placeOn = (row: Row) => sound.start ?? row.at
      const row = [given, rows.get(source.channels) ?? null].find(
        (r) =>
          r !== null &&
          next.tracks[r.trackId]?.channels === source.channels &&
          hasRoom(next, r.trackId, placeOn(r), source.frames),
      )
      const at = row ? placeOn(row) : (sound.start ?? start)
      const trackId = row?.trackId ?? sound.trackId
      if (!row) next = withTrack(next, sound)
      const end = at + source.frames
      if (row) row.at = Math.max(row.at, end)
      else if (inRow && !rows.has(source.channels)) rows.set(source.channels, { trackId, at: end })
      const region = createRegion(regionId, trackId, source, at, withoutEnding(source.name))
      next = {
        ...next,
        sources: { ...next.sources, [source.id]: source },
        regions: { ...next.regions, [regionId]: region },
      }
    }
    return next
  },
})

/** The session with an empty track for a sound below the others. */
function withTrack(session: Session, { source, trackId }: NewSound): Session {
  if (session.trackIds.length >= LIMITS.tracks)
    throw new RangeError(`a session has at most ${LIMITS.tracks} tracks`)
  const track = createTrack(trackId, withoutEnding(source.name), source.channels, session.trackIds.length)
  return {
    ...session,
    trackIds: [...session.trackIds, trackId],
    tracks: { ...session.tracks, [trackId]: track },
  }
}

function hasRoom(session: Session, trackId: string, start: number, length: number): boolean {
  return regionsOf(session, trackId).every((r) => regionEnd(r) <= start || r.start >= start + length)
}
