import type { Session, Track } from '../model/session'

/** The session with some of a track changed. */
export const withTrack = (session: Session, trackId: string, change: Partial<Track>): Session => ({
  ...session,
  tracks: { ...session.tracks, [trackId]: { ...session.tracks[trackId]!, ...change } },
})

/** The session with some of its mix changed. */
export const withMix = (session: Session, change: Partial<Session['mix']>): Session => ({
  ...session,
  mix: { ...session.mix, ...change },
})
