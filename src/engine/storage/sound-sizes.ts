import type { AudioRecord, SessionRecord } from './storage'

/** Bytes of sound: of one session alone, and of what it shares with others. */
export interface SoundSize {
  own: number
  shared: number
}

/** How much of the stored sound every session holds, its history's too, by id. Sound that is missing counts nothing. */
export function soundSizes(
  sessions: readonly Pick<SessionRecord, 'session' | 'sounds'>[],
  audio: readonly Pick<AudioRecord, 'sha256' | 'frames' | 'channels'>[],
): Map<string, SoundSize> {
  const bytes = new Map(audio.map(({ sha256, frames, channels }) => [sha256, frames * channels * 4]))
  const users = new Map<string, number>()
  for (const { sounds } of sessions)
    for (const sound of new Set(sounds)) users.set(sound, (users.get(sound) ?? 0) + 1)
  return new Map(
    sessions.map(({ session, sounds }) => {
      const size: SoundSize = { own: 0, shared: 0 }
      for (const sound of new Set(sounds))
        size[users.get(sound) === 1 ? 'own' : 'shared'] += bytes.get(sound) ?? 0
      return [session.id, size]
    }),
  )
}
