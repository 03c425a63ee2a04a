import type { Session, Source } from '../../model/session'
import { defineEdit } from '../shared/edit'

/**
 * Lets sources sound from other audio of the same length: regions, fades and threads stay where they are. Does
 * nothing for a source that is not there. Throws `RangeError` where channels, rate or length differ.
 */
export const replaceSounds = defineEdit<{
  sounds: readonly { sourceId: string; sound: Omit<Source, 'id'> }[]
}>({
  name: 'replaceSounds',
  label: (session, { sounds }) =>
    sounds.length === 1
      ? `Use “${sounds[0]!.sound.name}” for “${session.sources[sounds[0]!.sourceId]?.name ?? ''}”`
      : `Replace ${sounds.length} sounds`,
  apply(session: Session, { sounds }) {
    const sources = { ...session.sources }
    for (const { sourceId, sound } of sounds) {
      const old = sources[sourceId]
      if (!old) continue
      for (const part of ['channels', 'sampleRate', 'frames'] as const)
        if (old[part] !== sound[part])
          throw new RangeError(`${part} of “${sound.name}” is ${sound[part]}, and ${old[part]} is needed`)
      sources[sourceId] = { ...sound, id: sourceId }
    }
    return { ...session, sources }
  },
})
