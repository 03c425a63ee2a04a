import type { Session, Track } from '../../model/session'
import { rowOf } from '../../model/strips'
import { CLIP_GAIN_DB } from '../../units/decibel'
import { counted, defineEdit } from '../shared/edit'

/** The settings of a track that can be set directly. */
export type TrackChange = Partial<Pick<Track, 'name' | 'muted' | 'soloed' | 'colour' | 'trimDb' | 'polarity'>>

const words: Record<keyof TrackChange, string> = {
  name: 'Name',
  muted: 'Mute',
  soloed: 'Solo',
  colour: 'Colour',
  trimDb: 'Input trim',
  polarity: 'Polarity',
}

/**
 * Changes settings of tracks and buses: name, mute, solo, colour, input trim (-72…+36 dB), polarity. Throws a RangeError for a trim
 * out of range.
 */
export const setTrack = defineEdit<{ trackIds: readonly string[]; change: TrackChange }>({
  name: 'setTrack',
  label(session, { trackIds, change }) {
    const key = Object.keys(change)[0] as keyof TrackChange
    const value = change[key]
    const verb =
      key === 'muted' || key === 'soloed'
        ? `${value ? '' : 'Un'}${words[key].toLowerCase()}`
        : `${words[key]} of`
    const only = trackIds.length === 1 ? rowOf(session, trackIds[0]!) : undefined
    const text = `${verb} ${only ? `“${only.name}”` : counted(trackIds.length, 'track')}`
    return text[0]!.toUpperCase() + text.slice(1)
  },
  apply(session, { trackIds, change }) {
    const { trimDb = 0 } = change
    if (!(trimDb >= CLIP_GAIN_DB.min && trimDb <= CLIP_GAIN_DB.max))
      throw new RangeError(`a trim of ${trimDb} dB is outside ${CLIP_GAIN_DB.min}…${CLIP_GAIN_DB.max}`)
    let tracks: Session['tracks'] | null = null
    let buses: Session['buses'] | null = null
    for (const id of trackIds) {
      const row = rowOf(session, id)
      if (!row || (Object.keys(change) as (keyof TrackChange)[]).every((key) => row[key] === change[key]))
        continue
      if (session.tracks[id]) {
        tracks ??= { ...session.tracks }
        tracks[id] = { ...session.tracks[id], ...change }
      } else {
        buses ??= { ...session.buses }
        buses[id] = { ...session.buses[id]!, ...change }
      }
    }
    return tracks || buses
      ? { ...session, tracks: tracks ?? session.tracks, buses: buses ?? session.buses }
      : session
  },
})
