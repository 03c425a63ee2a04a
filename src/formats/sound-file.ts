import { openAiff } from './aiff-read'
import type { ByteSource } from './bytes'
import { isAiff, isWav } from './file-heads'
import { flacHead, isFlac, openFlac } from './flac-read'
import type { SoundFile, SoundHead } from './sound'
import { readWavHeader, wavBlocks } from './wav-read'

async function openWav(file: ByteSource): Promise<SoundFile> {
  const header = await readWavHeader(file)
  return { ...header, blocks: (blockFrames) => wavBlocks(file, header, blockFrames) }
}

/** Bytes that tell what a file is. */
const HEAD = 16

/**
 * Opens a file of sound that is read here: WAV, RF64, BW64, AIFF, AIFF-C, FLAC; null for any other. Throws
 * `FileError` with a sentence for one that is damaged or cannot be read. With `takesWrongSum` a checksum of all its samples is not
 * asked for; without it a wrong one is a `WrongChecksum` at the end of the blocks.
 */
export async function openSoundFile(file: ByteSource, takesWrongSum = false): Promise<SoundFile | null> {
  const head = await file.read(0, HEAD)
  if (isWav(head)) return openWav(file)
  if (isAiff(head)) return openAiff(file)
  // Some programs put a tag of another format before it.
  return (await isFlac(file, head)) ? openFlac(file, takesWrongSum) : null
}

/** What a file says of its sound, without reading any of it; null for one that is not read here. */
export async function openSoundHead(file: ByteSource): Promise<SoundHead | null> {
  const head = await file.read(0, HEAD)
  return (await isFlac(file, head)) ? flacHead(file) : openSoundFile(file)
}
