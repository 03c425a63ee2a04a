import path from 'node:path'
import { SessionError } from '../src/core/model/check/open'
import type { Session, Source } from '../src/core/model/session'
import { CHUNK_FRAMES, ChunkCache, type ChunkedSound } from '../src/core/render'
import type { ByteSource } from '../src/formats/bytes'
import { FileError } from '../src/formats/failure'
import { isZip } from '../src/formats/file-heads'
import { boundedJson } from '../src/formats/json-look'
import {
  packagedSession,
  parseSession,
  readPackage,
  readSourceHeader,
  sourceBlocks,
} from '../src/formats/package'
import { readFrames, type WavHeader } from '../src/formats/wav-read'
import { InputError } from './failure'
import { openFile, spooled, type OpenFile } from './files'

/** A session on disk: a package, or a `session.json` with its audio in `audio/` beside it. */
export interface SessionFile {
  session: Session
  /** A source's WAV file, undefined when it is not there. */
  audio(sha256: string): Promise<ByteSource | undefined>
  close(): Promise<void>
}

/** Turns what reading a session throws into an `InputError` that names the file. */
export function asInputError(file: string, error: unknown): unknown {
  return error instanceof FileError || error instanceof SessionError
    ? new InputError(`${file}: ${error.message}`)
    : error
}

const isPackage = async (bytes: ByteSource) => isZip(await bytes.read(0, 2))

const plainText = (bytes: ByteSource): Promise<string> =>
  boundedJson(bytes.size, (from, to) => bytes.read(from, to))

/** The text of a session file, whether it is a package or plain JSON, without checking it. */
export async function sessionJson(file: string): Promise<string> {
  const bytes = await openFile(file)
  try {
    return (await isPackage(bytes)) ? await packagedSession(bytes) : await plainText(bytes)
  } catch (error) {
    throw asInputError(file, error)
  } finally {
    await bytes.close()
  }
}

/** Opens a session with its audio. Throws `InputError`. */
export async function openSessionFile(file: string): Promise<SessionFile> {
  const bytes = await openFile(file)
  try {
    if (await isPackage(bytes)) {
      const { session, audio } = await readPackage(bytes)
      return { session, audio: async (sha256) => audio(sha256), close: () => bytes.close() }
    }
    const session = parseSession(await plainText(bytes))
    const folder = path.join(path.dirname(file), 'audio')
    const opened: OpenFile[] = [bytes]
    return {
      session,
      async audio(sha256) {
        const sound = await openFile(path.join(folder, `${sha256}.wav`)).catch(() => undefined)
        if (sound) opened.push(sound)
        return sound
      },
      close: async () => void (await Promise.all(opened.map((each) => each.close()))),
    }
  } catch (error) {
    await bytes.close()
    throw asInputError(file, error)
  }
}

/** Frames that are checked in one go. */
const CHECK_FRAMES = 1 << 18

/**
 * Reads a source's sound once from beginning to end and checks that it is what the session says. Throws
 * `InputError`.
 */
export async function checkSource(
  file: string,
  source: Source,
  audio: ByteSource | undefined,
): Promise<void> {
  try {
    const blocks = sourceBlocks(source, audio, CHECK_FRAMES)
    while (!(await blocks.next()).done);
  } catch (error) {
    throw asInputError(file, error)
  }
}

interface FileSound extends ChunkedSound {
  bytes: ByteSource
  header: WavHeader
}

/** The sounds of a session's regions for the renderer, read from their files as they are needed. */
export interface Sounds {
  cache: ChunkCache<FileSound>
  close(): Promise<void>
}

/** Opens and checks all sources that the session's regions use. Throws `InputError`. */
export async function openSounds(file: string, opened: SessionFile): Promise<Sounds> {
  const { session } = opened
  const sounds = new Map<string, FileSound>()
  const copies: OpenFile[] = []
  const close = async () => void (await Promise.all(copies.map((copy) => copy.close())))
  try {
    for (const id of new Set(Object.values(session.regions).map((r) => r.sourceId))) {
      const source = session.sources[id]!
      let bytes = await opened.audio(source.sha256)
      if (bytes?.forwardOnly) copies.push((bytes = await spooled(bytes)) as OpenFile)
      await checkSource(file, source, bytes)
      const header = await readSourceHeader(source, bytes)
      sounds.set(id, { key: id, channels: source.channels, frames: source.frames, bytes: bytes!, header })
    }
  } catch (error) {
    await close()
    throw asInputError(file, error)
  }
  const cache = new ChunkCache<FileSound>(({ bytes, header }, index) =>
    readFrames(bytes, header, index * CHUNK_FRAMES, CHUNK_FRAMES),
  )
  cache.setSources(sounds)
  return { cache, close }
}

/** Opens a session with its sound, and closes both again. */
export async function withSession<T>(
  file: string,
  work: (session: Session, sounds: Sounds) => Promise<T>,
): Promise<T> {
  const opened = await openSessionFile(file)
  try {
    const sounds = await openSounds(file, opened)
    try {
      return await work(opened.session, sounds)
    } finally {
      await sounds.close()
    }
  } finally {
    await opened.close()
  }
}
