import { FADER_DB } from '../units/decibel'
import { defineEdit } from './edit'

/** Sets the volume of the mix in dB (-72…+12), null for silence. Throws a RangeError outside. */
export const setMixVolume = defineEdit<{ volumeDb: number | null }>({
  name: 'setMixVolume',
  label: () => 'Volume of the mix',
  apply(session, { volumeDb }) {
    if (volumeDb !== null && !(volumeDb >= FADER_DB.min && volumeDb <= FADER_DB.max)) throw new RangeError(`a volume of ${volumeDb} dB is outside ${FADER_DB.min}…${FADER_DB.max}`)
    return session.mix.volumeDb === volumeDb ? session : { ...session, mix: { ...session.mix, volumeDb } }
  },
})
