import { dyes, TO_MIX, type Bus, type Region, type Session, type Source, type Track } from './session'

/** An empty session at 120 bpm, 4/4. */
export function createSession(id: string, title: string, sampleRate: number): Session {
  return {
    schema: 'oaken-thread/session',
    version: 2,
    id,
    title,
    sampleRate,
    panLaw: 'equal-power',
    tempo: [{ beat: 0, bpm: 120, beatsPerBar: 4, beatUnit: 4 }],
    trackIds: [],
    tracks: {},
    busIds: [],
    buses: {},
    regions: {},
    sources: {},
    gainThreads: {},
    crossfades: {},
    markers: [],
    mix: { trimDb: 0, volumeDb: 0, inserts: [], lastInserts: [], lanes: {} },
  }
}

/** A track at 0 dB in the middle; `index` picks its dye. */
export function createTrack(id: string, name: string, channels: 1 | 2, index: number): Track {
  return {
    id,
    name,
    colour: dyes[index % dyes.length]!,
    channels,
    trimDb: 0,
    polarity: 1,
    muted: false,
    soloed: false,
    inserts: [],
    sends: [],
    output: TO_MIX,
    volumeDb: 0,
    pan: 0,
    panMode: 'balance',
    lanes: {},
  }
}

/** A bus to the mix at 0 dB; `index` picks its dye, another one than that of the track of the same place. */
export const createBus = (id: string, name: string, index: number): Bus => ({
  ...createTrack(id, name, 2, index + dyes.length - 1),
  channels: 2,
})

/** A region over the whole of a source, at 0 dB and without fades. `start` is a session frame. */
export function createRegion(
  id: string,
  trackId: string,
  source: Source,
  start: number,
  name: string,
): Region {
  return {
    id,
    trackId,
    sourceId: source.id,
    start,
    offset: 0,
    length: source.frames,
    name,
    clipGainDb: 0,
    polarity: 1,
    reversed: false,
    muted: false,
    gainThreadId: null,
    fadeIn: null,
    fadeOut: null,
  }
}
