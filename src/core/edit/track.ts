import { FADER_DB } from '../units/decibel'
import type { Session, Track } from '../model/session'
import { counted, defineEdit } from './edit'

/** The settings of a track that can be set directly. */
export type TrackChange = Partial<Pick<Track, 'name' | 'muted' | 'soloed' | 'volumeDb' | 'pan'>>

const words: Record<keyof TrackChange, string> = {
  name: 'Name',
  muted: 'Mute',
  soloed: 'Solo',
  volumeDb: 'Volume',
  pan: 'Pan',
}

/** Changes settings of tracks: name, mute, solo, volume in dB (-72…+12, null is silence) or pan (-1…1). Throws a RangeError outside. */
export const setTrack = defineEdit<{ trackIds: readonly string[]; change: TrackChange }>({
  name: 'setTrack',
  label(session, { trackIds, change }) {
    const key = Object.keys(change)[0] as keyof TrackChange
    const value = change[key]
    const verb =
      key === 'muted' || key === 'soloed'
        ? `${value ? '' : 'Un'}${words[key].toLowerCase()}`
        : `${words[key]} of`
    const only = trackIds.length === 1 ? session.tracks[trackIds[0]!] : undefined
    const text = `${verb} ${only ? `“${only.name}”` : counted(trackIds.length, 'track')}`
    return text[0]!.toUpperCase() + text.slice(1)
  },
  apply(session, { trackIds, change }) {
    const { volumeDb, pan } = change
    if (typeof volumeDb === 'number' && !(volumeDb >= FADER_DB.min && volumeDb <= FADER_DB.max))
      throw new RangeError(`a volume of ${volumeDb} dB is outside ${FADER_DB.min}…${FADER_DB.max}`)
    if (pan !== undefined && !(pan >= -1 && pan <= 1)) throw new RangeError(`a pan of ${pan} is outside -1…1`)
    let tracks: Session['tracks'] | null = null
    for (const id of trackIds) {
      const track = session.tracks[id]
      if (!track || (Object.keys(change) as (keyof TrackChange)[]).every((key) => track[key] === change[key]))
        continue
      tracks ??= { ...session.tracks }
      tracks[id] = { ...track, ...change }
    }
    return tracks ? { ...session, tracks } : session
  },
})
