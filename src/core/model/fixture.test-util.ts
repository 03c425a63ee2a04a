import { createSession, createTrack } from './create'
import type { Region, Session, Track } from './session'

/** A region for tests: source "s", one second from the start of the session, unless said otherwise. */
export const testRegion = (id: string, more: Partial<Region> = {}): Region => ({
  id,
  trackId: 't',
  sourceId: 's',
  start: 0,
  offset: 0,
  length: 48000,
  name: id,
  clipGainDb: 0,
  polarity: 1,
  reversed: false,
  muted: false,
  gainThreadId: null,
  fadeIn: null,
  fadeOut: null,
  ...more,
})

/** A session for tests at 48 kHz: one mono track "t", a mono source "s" of ten seconds, the given regions. */
export function testSession(
  regions: readonly Region[],
  track: Partial<Track> = {},
  more: Partial<Session> = {},
): Session {
  return {
    ...createSession('test', 'Test', 48000),
    trackIds: ['t'],
    tracks: { t: { ...createTrack('t', 'Track', 1, 0), ...track } },
    sources: {
      s: { id: 's', name: 's.wav', channels: 1, frames: 480000, sampleRate: 48000, sha256: '0'.repeat(64) },
    },
    regions: Object.fromEntries(regions.map((r) => [r.id, r])),
    ...more,
  }
}
