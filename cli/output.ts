import { flacLibrary } from './flac-encoder'
import type { SoundMeasure } from '../src/core/measure/sound-meter'
import { gainToDb } from '../src/core/units/decibel'
import {
  formatFacts,
  soundBytes,
  soundFormats,
  soundWriter,
  type SoundFileInfo,
  type SoundFormat,
} from '../src/formats/sound-write'
import { createFile } from './files'

/** What `--format` takes; "flac" is FLAC of 24 bits. */
export const outputFormats = [...soundFormats, 'flac'] as const
export type OutputFormat = (typeof outputFormats)[number]

export const soundFormatOf = (format: OutputFormat): SoundFormat => (format === 'flac' ? 'flac24' : format)

export const extensionOf = (format: OutputFormat) => formatFacts[soundFormatOf(format)].extension

export type OutputInfo = Omit<SoundFileInfo, 'writtenAt'>

/** Bytes that a file will have, at most and without its header. */
export const outputBytes = ({ format, channels, frames }: OutputInfo) => soundBytes(format, channels, frames)

/** An audio file that is written block by block. */
export interface AudioOutput {
  /** Appends a block, one array a channel, whose samples become those that the file has. */
  write(block: readonly Float32Array[]): Promise<void>
  /**
   * Ends the file, with the loudness of what was written in its header where it has a place for that. Resolves to how many samples
   * passed full scale; they are limited, except in 32-bit float.
   */
  finish(measured: SoundMeasure): Promise<number>
  /** Gives up; nothing is left of the file. */
  discard(): Promise<void>
}

/** Opens an audio file for writing. Throws `InputError` where it cannot be written. */
export async function openOutput(file: string, info: OutputInfo): Promise<AudioOutput> {
  const writer = await soundWriter({ ...info, writtenAt: new Date() }, async (flac) =>
    (await flacLibrary())(flac),
  )
  const header = writer.header()
  const out = await createFile(file)
  await out.write(header)
  return {
    write: (block) => out.write(writer.encode(block)),
    async finish({ loudness, truePeak }) {
      await out.write(writer.finish())
      const patches = writer.patches({ ...loudness, truePeakDb: gainToDb(truePeak) })
      for (const { at, bytes } of patches) await out.write(bytes, at)
      await out.finish()
      return writer.clipped
    },
    discard: () => out.discard(),
  }
}
