import { LoudnessMeter } from '../src/core/measure/loudness'
import { CorrelationMeter, TruePeakMeter } from '../src/core/measure/true-peak'
import { LevelMeter } from '../src/core/measure/levels'
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

/** Measures one file: WAV, AIFF or FLAC. Throws `InputError`. */
export async function measureFile(file: string): Promise<Measured> {
  const bytes = await openFile(file)
  try {
    const header = await openSoundFile(bytes)
    if (!header) throw new FileError('is no WAV, AIFF or FLAC file.')
    const meters = Array.from({ length: header.channels }, () => new LevelMeter())
    const truePeaks = meters.map(() => new TruePeakMeter())
    const loudnessMeter = new LoudnessMeter(header.sampleRate, header.channels)
    const correlation = new CorrelationMeter()
    for await (const block of header.blocks(1 << 16)) {
      block.forEach((samples, c) => {
        meters[c]!.add(samples)
        truePeaks[c]!.add(samples)
      })
      loudnessMeter.add(block)
      if (block[1]) correlation.add(block[0]!, block[1])
    }
    const loudness = loudnessMeter.loudness()
    const levels = meters.map((m) => m.levels())
    return {
      file,
      channels: header.channels,
      sampleRate: header.sampleRate,
      frames: header.frames,
      peak: db(Math.max(...levels.map((l) => l.peak))),
      truePeak: db(Math.max(...truePeaks.map((t) => t.peak()))),
      integrated: lufs(loudness.integrated),
      momentaryMax: lufs(loudness.momentaryMax),
      shortTermMax: lufs(loudness.shortTermMax),
      range: Math.round(loudness.range * 100) / 100,
      correlation: header.channels === 2 ? Math.round(correlation.correlation() * 1e4) / 1e4 : null,
      rms: db(Math.sqrt(levels.reduce((sum, l) => sum + l.rms ** 2, 0) / levels.length)),
      dc: levels.map((l) => l.dc),
      perChannel: levels.map((l) => ({ peak: db(l.peak), rms: db(l.rms), dc: l.dc })),
    }
  } catch (error) {
    throw asInputError(file, error)
  } finally {
    await bytes.close()
  }
}
