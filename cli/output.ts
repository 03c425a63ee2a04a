import { tpdfQuantiser } from '../src/core/dsp/dither'
import { FLAC_MD5_AT, FlacEncoder } from '../src/formats/flac-write'
import { WavEncoder, wavHeader, type WavFormat } from '../src/formats/wav-write'
import { createFile } from './files'

export type OutputFormat = WavFormat | 'flac'
export const outputFormats: readonly OutputFormat[] = ['wav16', 'wav24', 'wav32f', 'flac']

/** What goes into an output file besides the samples. */
export interface OutputInfo {
  format: OutputFormat
  channels: 1 | 2
  sampleRate: number
  frames: number
  seed: number
  title: string
  /** Session frame at which the file begins. */
  from: number
  cues: { frame: number; name: string }[]
}

const BYTES: Record<OutputFormat, number> = { wav16: 2, wav24: 3, wav32f: 4, flac: 3 }

/** Bytes that a file will have, at most and without its header. */
export const outputBytes = ({ format, channels, frames }: OutputInfo) => frames * channels * BYTES[format]

/** An audio file that is written block by block. */
export interface AudioOutput {
  /** Appends a block, one array a channel. */
  write(block: readonly Float32Array[]): Promise<void>
  /** Ends the file. Resolves to how many samples passed full scale; they are limited, except in 32-bit float. */
  finish(): Promise<number>
  /** Gives up; nothing is left of the file. */
  discard(): Promise<void>
}

/** Opens an audio file for writing. FLAC is 24 bit with TPDF dither. Throws `InputError` where it cannot be written. */
export const openOutput = (file: string, info: OutputInfo): Promise<AudioOutput> =>
  info.format === 'flac' ? flacOutput(file, info) : wavOutput(file, info, info.format)

async function wavOutput(file: string, info: OutputInfo, format: WavFormat): Promise<AudioOutput> {
  const { channels, sampleRate, frames, seed, title, from, cues } = info
  const broadcast = { description: title, timeReference: from, writtenAt: new Date() }
  const wav = { format, channels, sampleRate, frames, seed, broadcast, cues }
  const encoder = new WavEncoder(wav)
  const out = await createFile(file)
  await out.write(wavHeader(wav))
  return {
    write: (block) => out.write(encoder.encode(block)),
    async finish() {
      await out.write(encoder.finish())
      await out.finish()
      return encoder.clipped
    },
    discard: () => out.discard(),
  }
}

async function flacOutput(file: string, info: OutputInfo): Promise<AudioOutput> {
  const { channels, sampleRate, frames, seed, title, from, cues } = info
  const quantiser = tpdfQuantiser(24, seed)
  const comments = [
    ['TITLE', title],
    ['DATE', new Date().toISOString().slice(0, 10)],
    ['TIMEREFERENCE', String(from)],
  ] as const
  const encoder = new FlacEncoder({ channels, sampleRate, bitsPerSample: 24, frames, comments, cues })
  const out = await createFile(file)
  await out.write(encoder.header())
  return {
    write(block) {
      const integers = block.map((samples) => new Int32Array(samples.length))
      for (let i = 0; i < block[0]!.length; i++)
        block.forEach((samples, c) => (integers[c]![i] = quantiser.next(samples[i]!)))
      return out.write(encoder.encode(integers))
    },
    async finish() {
      await out.write(encoder.finish())
      await out.write(encoder.md5(), FLAC_MD5_AT)
      await out.finish()
      return quantiser.clipped
    },
    discard: () => out.discard(),
  }
}
