import { LevelMeter } from '../src/core/measure/levels'
import { gainToDb } from '../src/core/units/decibel'
import { bytesOf } from '../src/formats/bytes'
import { readWavHeader, wavBlocks } from '../src/formats/wav-read'
import { asInputError, readInput } from './session-file'

const db = (gain: number) => (gain === 0 ? null : Math.round(gainToDb(gain) * 1e4) / 1e4)

/** What is measured of one file: levels in dBFS (null is silence), DC as a part of full scale; one entry a channel. */
export interface Measured {
  file: string
  channels: number
  sampleRate: number
  frames: number
  peak: number | null
  rms: number | null
  dc: number[]
  perChannel: { peak: number | null; rms: number | null; dc: number }[]
}

/** Measures one WAV file. Throws `InputError`. */
export async function measureFile(file: string): Promise<Measured> {
  const bytes = bytesOf(await readInput(file))
  try {
    const header = await readWavHeader(bytes)
    const meters = Array.from({ length: header.channels }, () => new LevelMeter())
    for await (const block of wavBlocks(bytes, header, 1 << 16)) block.forEach((samples, c) => meters[c]!.add(samples))
    const levels = meters.map((m) => m.levels())
    return {
      file, channels: header.channels, sampleRate: header.sampleRate, frames: header.frames,
      peak: db(Math.max(...levels.map((l) => l.peak))),
      rms: db(Math.sqrt(levels.reduce((sum, l) => sum + l.rms ** 2, 0) / levels.length)),
      dc: levels.map((l) => l.dc),
      perChannel: levels.map((l) => ({ peak: db(l.peak), rms: db(l.rms), dc: l.dc })),
    }
  } catch (error) {
    throw asInputError(file, error)
  }
}
