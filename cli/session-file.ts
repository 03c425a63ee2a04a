import fs from 'node:fs/promises'
import path from 'node:path'
import type { Session } from '../src/core/model/session'
import { SessionError } from '../src/core/model/open'
import type { SourceReader } from '../src/core/render'
import { FileError } from '../src/formats/failure'
import { parseSession, readPackage, sourceSamples } from '../src/formats/package'
import { InputError } from './failure'

/** A session on disk: a package, or a `session.json` with its audio in `audio/` beside it. */
export interface SessionFile {
  session: Session
  /** The bytes of a source's WAV file, undefined when it is not there. */
  audio(sha256: string): Promise<Uint8Array | undefined>
}

/** Reads a file; one that cannot be read is an `InputError`. */
export async function readInput(file: string): Promise<Uint8Array> {
  try {
    return await fs.readFile(file)
  } catch (error) {
    const code = (error as NodeJS.ErrnoException).code
    throw new InputError(
      `${file}: ${code === 'ENOENT' ? 'there is no such file' : code === 'EISDIR' ? 'is a folder' : (error as Error).message}`,
    )
  }
}

/** Turns what reading a session throws into an `InputError` that names the file. */
export function asInputError(file: string, error: unknown): unknown {
  return error instanceof FileError || error instanceof SessionError
    ? new InputError(`${file}: ${error.message}`)
    : error
}

/** The text of a session file, whether it is a package or plain JSON, without checking it. */
export async function sessionJson(file: string): Promise<string> {
  const bytes = await readInput(file)
  if (!isZip(bytes)) return new TextDecoder().decode(bytes)
  const { unzipSync } = await import('fflate')
  let json: Uint8Array | undefined
  try {
    json = unzipSync(bytes, {
      filter: (entry) => entry.name === 'session.json' && entry.originalSize < 256 * 1024 ** 2,
    })['session.json']
  } catch (error) {
    throw new InputError(`${file}: is not a readable package: ${(error as Error).message}`)
  }
  if (!json) throw new InputError(`${file}: is not a package of Oaken Thread: it has no session.json`)
  return new TextDecoder().decode(json)
}

const isZip = (bytes: Uint8Array) => bytes[0] === 0x50 && bytes[1] === 0x4b

/** Opens a session with its audio. Throws `InputError`. */
export async function openSessionFile(file: string): Promise<SessionFile> {
  const bytes = await readInput(file)
  try {
    if (isZip(bytes)) {
      const { session, audio } = readPackage(bytes)
      return { session, audio: async (sha256) => audio.get(sha256) }
    }
    const folder = path.join(path.dirname(file), 'audio')
    return {
      session: parseSession(new TextDecoder().decode(bytes)),
      audio: (sha256) => fs.readFile(path.join(folder, `${sha256}.wav`)).catch(() => undefined),
    }
  } catch (error) {
    throw asInputError(file, error)
  }
}

/** Reads all sources that the session's regions use, and gives the renderer access to them. */
export async function sourceReader(file: string, opened: SessionFile): Promise<SourceReader> {
  const { session } = opened
  const used = new Set(Object.values(session.regions).map((r) => r.sourceId))
  const samples = new Map<string, Float32Array[]>()
  try {
    for (const id of used) {
      const source = session.sources[id]!
      samples.set(id, await sourceSamples(source, await opened.audio(source.sha256)))
    }
  } catch (error) {
    throw asInputError(file, error)
  }
  return {
    read: (id, channel, frame, count, out) =>
      out.set(samples.get(id)![channel]!.subarray(frame, frame + count)),
  }
}
