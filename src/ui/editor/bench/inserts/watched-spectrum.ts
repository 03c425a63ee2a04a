import { getPlayer } from '../../../../store/playback/playback'
import { LiveSpectrum } from '../../parts/inserts/live-spectrum'

/** The spectrum of the sound before or after the watched insert. */
export const watchedSpectrum = (which: 'before' | 'after'): LiveSpectrum =>
  new LiveSpectrum((samples) => getPlayer()?.watchedSound(which, samples) ?? null)
