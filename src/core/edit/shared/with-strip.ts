import type { Bus, Mix, Session, Track } from '../../model/session'

/** The session with some of a track, or of a bus, changed. */
export const withTrack = (session: Session, id: string, change: Partial<Track>): Session =>
  session.tracks[id]
    ? { ...session, tracks: { ...session.tracks, [id]: { ...session.tracks[id], ...change } } }
    : {
        ...session,
        buses: { ...session.buses, [id]: { ...session.buses[id]!, ...(change as Partial<Bus>) } },
      }

/** The session with some of its mix changed. */
export const withMix = (session: Session, change: Partial<Mix>): Session => ({
  ...session,
  mix: { ...session.mix, ...change },
})

/** The session with some of a track, a bus, or with null of the mix, changed. */
export const withStrip = (session: Session, id: string | null, change: Partial<Track & Mix>): Session =>
  id === null ? withMix(session, change) : withTrack(session, id, change)
