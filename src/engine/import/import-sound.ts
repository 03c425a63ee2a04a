import { LIMITS, type Source } from '../../core/model/session'
import { Resampler } from '../../core/dsp/resample'
import { firstNotFinite } from '../../core/measure/finite'
import { blobBytes } from '../../formats/bytes'
import { FileError } from '../../formats/failure'
import { readPackage, sourceBlocks } from '../../formats/package'
import { packagedSources } from '../../formats/packaged-sources'
import type { SoundFile } from '../../formats/sound'
import { openSoundFile } from '../../formats/sound-file'
import type { Session } from '../../core/model/session'
import { AudioWriter, CHUNK_FRAMES } from '../storage'
import { Cancelled, type OnProgress } from '../worker'
import { assertUsableFile } from './usable-file'
import { findMissingSounds } from '../storage'

/** A sound that was taken in, ready to become a source of a session. */
export type ImportedSound = Omit<Source, 'id'> & {
  cues: { frame: number; name: string }[]
  /** Its place on the timeline as the file tells it, in frames of the session since midnight; null without one. */
  stamp: number | null
}

/** Sound that the browser decoded, one array a channel. */
export interface DecodedSound {
  channels: Float32Array[]
  sampleRate: number
  format: string
}

interface Blocks extends Omit<SoundFile, 'blocks'> {
  blocks: AsyncIterable<Float32Array[]> | Iterable<Float32Array[]>
}

/** Takes a file that is read here (see `openSoundFile`) into the store at the session's rate; null for any other. */
export async function importFile(
  file: File,
  { sampleRate, takesWrongSum }: { sampleRate: number; takesWrongSum: boolean },
  onProgress: OnProgress,
  cancelled: () => boolean,
): Promise<ImportedSound | null> {
  assertUsableFile(file)
  const sound = await openSoundFile(blobBytes(file), takesWrongSum)
  return (
    sound &&
    importBlocks(
      { ...sound, blocks: sound.blocks(CHUNK_FRAMES) },
      file.name,
      sampleRate,
      onProgress,
      cancelled,
    )
  )
}

/** Takes sound that the browser decoded into the store. */
export async function importDecoded(
  name: string,
  sound: DecodedSound,
  sampleRate: number,
  onProgress: OnProgress,
  cancelled: () => boolean,
): Promise<ImportedSound> {
  const { channels } = sound
  if (channels.length !== 1 && channels.length !== 2)
    throw new FileError(
      `has ${channels.length} channels; mono and stereo files are taken, so split it into those first.`,
    )
  const frames = channels[0]!.length
  if (frames === 0) throw new FileError('holds no sound: it has 0 frames.')
  function* blocks(): Generator<Float32Array[]> {
    for (let at = 0; at < frames; at += CHUNK_FRAMES)
      yield channels.map((c) => c.subarray(at, at + CHUNK_FRAMES))
  }
  return importBlocks(
    {
      channels: channels.length,
      sampleRate: sound.sampleRate,
      frames,
      format: sound.format,
      cues: [],
      timeReference: null,
      blocks: blocks(),
    },
    name,
    sampleRate,
    onProgress,
    cancelled,
  )
}

async function importBlocks(
  input: Blocks,
  name: string,
  sampleRate: number,
  onProgress: OnProgress,
  cancelled: () => boolean,
): Promise<ImportedSound> {
  const ratio = sampleRate / input.sampleRate
  const resamplers =
    ratio === 1
      ? null
      : Array.from({ length: input.channels }, () => new Resampler(input.sampleRate, sampleRate))
  const writer = new AudioWriter(input.channels)
  try {
    let done = 0
    for await (const block of input.blocks) {
      if (cancelled()) throw new Cancelled()
      if (firstNotFinite(block) >= 0) throw new FileError('is damaged: it holds samples that are no numbers.')
      const ready = resamplers ? resamplers.map((r, c) => r.push(block[c]!)) : block
      if (ready[0]!.length) await writer.add(ready)
      done += block[0]!.length
      onProgress({
        done: done / input.frames,
        doing: resamplers ? `Resampling “${name}” to ${sampleRate} Hz` : `Reading “${name}”`,
      })
    }
    if (resamplers) await writer.add(resamplers.map((r) => r.finish(input.frames)))
    const record = await writer.finish()
    return {
      name: name.slice(0, LIMITS.nameLength),
      channels: record.channels,
      frames: record.frames,
      sampleRate,
      sha256: record.sha256,
      origin: {
        fileName: name.slice(0, LIMITS.nameLength),
        sampleRate: input.sampleRate,
        format: input.format.slice(0, 80),
      },
      stamp: input.timeReference === null ? null : Math.round(input.timeReference * ratio),
      cues: input.cues.map((cue) => ({
        ...cue,
        frame: Math.min(record.frames - 1, Math.round(cue.frame * ratio)),
      })),
    }
  } catch (error) {
    await writer.abort()
    throw error
  }
}

/** A source of a package whose sound could not be taken in, and why, as the rest of a sentence. */
export interface MissingSound {
  sourceId: string
  name: string
  why: string
}

/** What was found in a package. All sound that it has is in the store; the session is not. */
export interface PackageContents {
  session: Session
  /** Sources without their sound; a package is whole without them only where the person says so. */
  missing: MissingSound[]
}

/**
 * Takes the sound of a package into the store. Sounds that are missing in it, or damaged, are told; any other
 * fault ends it. Sound that no session names in the end is removed by `purge`. Throws `FileError`, `SessionError` and `StorageError`.
 */
export async function importPackage(
  file: Blob,
  onProgress: OnProgress,
  cancelled: () => boolean,
): Promise<PackageContents> {
  const { session, audio } = await readPackage(blobBytes(file))
  const gone = new Set(await findMissingSounds(session))
  const wanted = packagedSources(session).filter((source) => gone.has(source.id))
  const total = wanted.reduce((sum, s) => sum + s.frames, 0)
  let done = 0
  const contents: PackageContents = { session, missing: [] }
  const importSource = async (source: Source) => {
    const writer = new AudioWriter(source.channels, source.sha256)
    try {
      for await (const block of sourceBlocks(source, await audio(source.sha256), CHUNK_FRAMES)) {
        if (cancelled()) throw new Cancelled()
        await writer.add(block)
        done += block[0]!.length
        onProgress({ done: done / total, doing: `Unpacking “${source.name}”` })
      }
      await writer.finish()
    } catch (error) {
      await writer.abort()
      throw error
    }
  }
  for (const source of wanted)
    try {
      await importSource(source)
    } catch (error) {
      // Files that are not as they should be are one thing; storage that fails, or cancelling, another.
      if (!(error instanceof FileError)) throw error
      for (const { id, name, sha256 } of Object.values(session.sources))
        if (sha256 === source.sha256) contents.missing.push({ sourceId: id, name, why: error.message })
    }
  return contents
}
