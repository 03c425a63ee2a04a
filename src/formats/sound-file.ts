import { isAiff, openAiff } from './aiff-read'
import type { ByteSource } from './bytes'
import { flacHead, isFlac, openFlac } from './flac-read'
import { isWav, readWavHeader, wavBlocks } from './wav-read'

/** A file of sound that is read block by block, at its full depth. */
export interface SoundFile {
  channels: 1 | 2
  sampleRate: number
  frames: number
  /** The depth in words: "24-bit", "32-bit float". */
  format: string
  /** Marked places, in frames of the file. */
  cues: { frame: number; name: string }[]
  /** The file's place on a timeline as its `bext` chunk tells, in frames since midnight; null where it does not. */
  timeReference: number | null
  /** All samples in order, `blockFrames` or fewer at a time, one array a channel. Throws `FileError`. */
  blocks(blockFrames: number): AsyncGenerator<Float32Array[]>
}

/** What a file says of itself. */
export type SoundHead = Pick<SoundFile, 'channels' | 'sampleRate' | 'format' | 'timeReference'>

async function openWav(file: ByteSource): Promise<SoundFile> {
  const header = await readWavHeader(file)
  return { ...header, blocks: (blockFrames) => wavBlocks(file, header, blockFrames) }
}

/** Bytes that tell what a file is. */
const HEAD = 16

/**
 * Opens a file of sound that is read here: WAV, RF64, BW64, AIFF, AIFF-C, FLAC; null for any other. Throws
 * `FileError` with a sentence for one that is damaged or cannot be read.
 */
export async function openSoundFile(file: ByteSource): Promise<SoundFile | null> {
  const head = await file.read(0, HEAD)
  if (isWav(head)) return openWav(file)
  if (isAiff(head)) return openAiff(file)
  // Some programs put a tag of another format before it.
  return (await isFlac(file, head)) ? openFlac(file) : null
}

/** What a file says of its sound, without reading any of it; null for one that is not read here. */
export async function openSoundHead(file: ByteSource): Promise<SoundHead | null> {
  const head = await file.read(0, HEAD)
  return (await isFlac(file, head)) ? flacHead(file) : openSoundFile(file)
}
