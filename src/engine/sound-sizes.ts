import {
  audioDb,
  headsDb,
  sessionsDb,
  withStorageErrors,
  type AudioRecord,
  type SessionHead,
  type SessionRecord,
} from './storage'

/** Bytes of sound: of one session alone, and of what it shares with others. */
export interface SoundSize {
  own: number
  shared: number
}

/** How much sound every session holds, those in the trash included, its history's too; by id. */
export async function soundSizes(): Promise<Map<string, SoundSize>> {
  const bytes = new Map<string, number>()
  const users = new Map<string, Set<string>>()
  const use = (id: string, sounds: readonly string[]) => {
    for (const sound of sounds) {
      const ids = users.get(sound)
      if (ids) ids.add(id)
      else users.set(sound, new Set([id]))
    }
  }
  const sizes = new Map<string, SoundSize>()
  await withStorageErrors(async () => {
    await audioDb.iterate<AudioRecord, void>(
      ({ sha256, frames, channels }) => void bytes.set(sha256, frames * channels * 4),
    )
    await sessionsDb.iterate<SessionRecord, void>(({ sounds }, id) => {
      sizes.set(id, { own: 0, shared: 0 })
      use(id, sounds)
    })
    await headsDb.iterate<SessionHead, void>(({ sounds }, id) => use(id, sounds))
  })
  for (const [sound, ids] of users)
    for (const id of ids) {
      const size = sizes.get(id)
      if (size) size[ids.size === 1 ? 'own' : 'shared'] += bytes.get(sound) ?? 0
    }
  return sizes
}
