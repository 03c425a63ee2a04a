import { useState } from 'react'
import { drawFrequencies } from '../../drawing/axes'
import { LiveCanvas } from '../../parts/live-canvas'
import { watchedSpectrum } from './watched-spectrum'
import { write } from '../../../look/writing'

/** The spectrum of what comes to an insert, pale, and of what leaves it, as a line. */
export function SpectrumPicture({ sampleRate }: { sampleRate: number }) {
  const [before] = useState(() => watchedSpectrum('before'))
  const [after] = useState(() => watchedSpectrum('after'))
  return (
    <LiveCanvas
      label="Spectrum of what comes in and of what comes out, while it plays"
      draw={(ctx, width, height) => {
        drawFrequencies(ctx, width, height)
        for (const spectrum of [before, after]) spectrum.step(width, sampleRate)
        before.draw(ctx, width, height, 'pine', true)
        after.draw(ctx, width, height, 'heather', false)
        write(ctx, 'before', 8, 12, { face: 'words', size: 11, dye: 'pine' })
        write(ctx, 'after', 52, 12, { face: 'words', size: 11, dye: 'heather' })
      }}
    />
  )
}
