import { SoundMeter, type SoundMeasure } from '../src/core/measure/sound-meter'
import { gainToDb } from '../src/core/units/decibel'
import { FileError } from '../src/formats/failure'
import { openSoundFile } from '../src/formats/sound-file'
import { openFile } from './files'
import { asInputError } from './session-file'

const lufs = (value: number) => (Number.isFinite(value) ? Math.round(value * 100) / 100 : null)
const db = (gain: number) => (gain === 0 ? null : Math.round(gainToDb(gain) * 1e4) / 1e4)

/**
 * What is measured of one file: levels in dBFS and dBTP, loudness in LUFS, its range in LU (null is silence),
 * DC as a part of full scale, one entry a channel; the correlation of left and right, null for mono.
 */
export interface Measured {
  file: string
  channels: number
  sampleRate: number
  frames: number
  peak: number | null
  truePeak: number | null
  rms: number | null
  integrated: number | null
  momentaryMax: number | null
  shortTermMax: number | null
  range: number
  correlation: number | null
  dc: number[]
  perChannel: { peak: number | null; rms: number | null; dc: number }[]
}

/** What was measured, rounded as it is told. */
export function figures(
  { peak, truePeak, rms, loudness, correlation, perChannel }: SoundMeasure,
  sampleRate: number,
): Omit<Measured, 'file' | 'frames'> {
  return {
    channels: perChannel.length,
    sampleRate,
    peak: db(peak),
    truePeak: db(truePeak),
    integrated: lufs(loudness.integrated),
    momentaryMax: lufs(loudness.momentaryMax),
    shortTermMax: lufs(loudness.shortTermMax),
    range: Math.round(loudness.range * 100) / 100,
    correlation: correlation === null ? null : Math.round(correlation * 1e4) / 1e4,
    rms: db(rms),
    dc: perChannel.map((l) => l.dc),
    perChannel: perChannel.map((l) => ({ peak: db(l.peak), rms: db(l.rms), dc: l.dc })),
  }
}

/** Measures one file: WAV, AIFF or FLAC, with `takesWrongSum` though its MD5 is wrong. Throws `InputError`. */
export async function measureFile(file: string, takesWrongSum = false): Promise<Measured> {
  const bytes = await openFile(file)
  try {
    const header = await openSoundFile(bytes, takesWrongSum)
    if (!header) throw new FileError('is no WAV, AIFF or FLAC file.')
    const meter = new SoundMeter(header.sampleRate, header.channels)
    for await (const block of header.blocks(1 << 16)) meter.add(block)
    return { file, frames: header.frames, ...figures(meter.finish(), header.sampleRate) }
  } catch (error) {
    throw asInputError(file, error)
  } finally {
    await bytes.close()
  }
}
