import { createSession, createTrack } from '../src/core/model/create'
import type { Session } from '../src/core/model/session'
import { planSession, Renderer, type SourceReader } from '../src/core/render'
import { seededRandom } from '../src/core/units/random'
import { exactWav } from '../src/formats/package'
import { writePackage } from '../src/formats/package.test-util'
import { samplesHash } from '../src/formats/samples-hash.test-util'

/** A session of many tracks, each with a sound of its own, in a package; and how to render it here. */
export interface ManyTracks {
  session: Session
  bytes: Uint8Array<ArrayBuffer>
  /** The files of its sounds, by what they are called in a package. */
  audio: Map<string, Uint8Array>
  reader: SourceReader
}

const RATE = 48000

/**
 * So many tracks of so many seconds: 16-bit tones of a pitch of its own each, with a little noise, from 0 on.
 * Together they stay below full scale, but for the loud track: from `loudFrom` seconds on it passes full
 * scale by itself for half a second.
 */
export function manyTracks(count: number, seconds: number, loudFrom: number): ManyTracks {
  const frames = seconds * RATE
  const session: Session = createSession('tide-mill', 'Many tracks', RATE)
  const sounds = new Map<string, Float32Array>()
  const audio = new Map<string, Uint8Array>()
  for (let t = 0; t < count; t++) {
    const id = `t${t}`
    const random = seededRandom(t + 1)
    const step = (2 * Math.PI * (110 + 7 * t)) / RATE
    const samples = new Float32Array(frames)
    for (let n = 0; n < frames; n++)
      samples[n] =
        Math.round((0.5 * Math.sin(step * n) + 0.02 * random()) * (20_000 / Math.sqrt(count) / 4)) / 32768
    if (t === 0)
      for (let n = loudFrom * RATE; n < (loudFrom + 0.5) * RATE; n++)
        samples[n] = Math.round(32_000 * Math.sin(step * n)) / 32768
    const sha256 = samplesHash([samples])
    sounds.set(id, samples)
    audio.set(sha256, exactWav([samples], RATE))
    session.trackIds.push(id)
    session.tracks[id] = {
      ...createTrack(id, `Track ${t + 1}`, 1, t),
      pan: (t % 21) / 10 - 1,
      volumeDb: t === 0 ? 3 : 0,
    }
    session.sources[id] = { id, name: `${id}.wav`, channels: 1, frames, sampleRate: RATE, sha256 }
    session.regions[id] = {
      id,
      trackId: id,
      sourceId: id,
      start: 0,
      offset: 0,
      length: frames,
      name: `tone ${t + 1}`,
      clipGainDb: -(t % 3),
      polarity: 1,
      reversed: false,
      muted: false,
      gainThreadId: null,
      fadeIn: { kind: 'gain', length: 480, curve: 'linear', bend: 0, level: 0 },
      fadeOut: { kind: 'gain', length: 480, curve: 'linear', bend: 0, level: 0 },
    }
  }
  return {
    session,
    bytes: writePackage(session, audio),
    audio,
    reader: {
      read: (id, _c, frame, length, out) => void out.set(sounds.get(id)!.subarray(frame, frame + length)),
    },
  }
}

/** What a session sounds like from a frame on, rendered here. */
export function renderedHere(
  { reader }: ManyTracks,
  session: Session,
  from: number,
  frames: number,
): Float32Array[] {
  const sides = [new Float32Array(frames), new Float32Array(frames)] as const
  new Renderer(planSession(session), reader).render(from, ...sides)
  return [...sides]
}

/** The same session with each region so many times, one after another at a distance in seconds. */
export function overAndOver(session: Session, times: number, seconds: number): Session {
  const regions = Object.values(session.regions).flatMap((region) =>
    Array.from({ length: times }, (_, k) => ({
      ...region,
      id: `${region.id}-${k}`,
      start: region.start + k * seconds * RATE,
    })),
  )
  return { ...session, regions: Object.fromEntries(regions.map((region) => [region.id, region])) }
}
