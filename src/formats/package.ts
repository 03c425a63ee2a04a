import { unzipSync, zipSync } from 'fflate'
import { LIMITS, type Session, type Source } from '../core/model/session'
import { openSession, SessionError } from '../core/model/open'
import { bytesOf } from './bytes'
import { FileError } from './failure'
import { SamplesHash } from './samples-hash'
import { readWavHeader, wavBlocks } from './wav-read'
import { WavEncoder, wavHeader, type WavFormat } from './wav-write'

/** A session with the bytes of its audio files, by the SHA-256 of their samples. */
export interface Package {
  session: Session
  audio: Map<string, Uint8Array>
}

/** Most bytes that a package may unpack to in memory. */
const MAX_UNPACKED = 3 * 1024 ** 3
const MAX_SESSION_JSON = 256 * 1024 ** 2

/** The session in a parsed text; throws `SessionError`. */
export function parseSession(text: string): Session {
  let json: unknown
  try {
    json = JSON.parse(text)
  } catch (error) {
    throw new SessionError(`The session file is not valid JSON: ${(error as Error).message}.`)
  }
  return openSession(json)
}

const AUDIO_NAME = /^audio\/([0-9a-f]{64})\.wav$/

/** Opens a package (`.oaken.zip`). Throws `FileError` when it is no package or unpacks to too much, `SessionError` for a bad session. */
export function readPackage(bytes: Uint8Array): Package {
  let total = 0
  let files: Record<string, Uint8Array>
  try {
    files = unzipSync(bytes, {
      filter: (file) => {
        if (file.name !== 'session.json' && !AUDIO_NAME.test(file.name)) return false
        total += file.originalSize
        if (total > MAX_UNPACKED || (file.name === 'session.json' && file.originalSize > MAX_SESSION_JSON))
          throw new FileError('unpacks to more than can be held in memory.')
        return true
      },
    })
  } catch (error) {
    if (error instanceof FileError) throw error
    throw new FileError(`is not a readable package: ${(error as Error).message}.`)
  }
  const json = files['session.json']
  if (!json) throw new FileError('is not a package of Oaken Thread: it has no session.json.')
  const session = parseSession(new TextDecoder().decode(json))
  const audio = new Map<string, Uint8Array>()
  for (const [name, data] of Object.entries(files)) {
    const hash = AUDIO_NAME.exec(name)?.[1]
    if (hash) audio.set(hash, data)
  }
  return { session, audio }
}

/** A package as bytes; the audio is stored uncompressed so that single files can be read without unpacking. */
export function writePackage(
  session: Session,
  audio: ReadonlyMap<string, Uint8Array>,
): Uint8Array<ArrayBuffer> {
  const files: Record<string, [Uint8Array, { level: 0 | 9; mtime: number }]> = {}
  // One fixed date, so that the same session gives the same bytes.
  const mtime = Date.UTC(2000, 0, 2)
  files['session.json'] = [new TextEncoder().encode(JSON.stringify(session, null, 1)), { level: 9, mtime }]
  for (const [hash, bytes] of audio) files[`audio/${hash}.wav`] = [bytes, { level: 0, mtime }]
  return zipSync(files) as Uint8Array<ArrayBuffer>
}

/** Whether every sample is a whole step of the word; a negative zero is not, since integers have none. */
function fits(channels: readonly Float32Array[], scale: number): boolean {
  return channels.every((samples) =>
    samples.every(
      (x) => Number.isInteger(x * scale) && !Object.is(x, -0) && x >= -1 && x * scale <= scale - 1,
    ),
  )
}

/** The smallest WAV format that holds the samples without changing one bit. */
export function exactFormat(channels: readonly Float32Array[]): WavFormat {
  return fits(channels, 32768) ? 'wav16' : fits(channels, 8388608) ? 'wav24' : 'wav32f'
}

/** Samples as a WAV file that decodes to the same bits. */
export function exactWav(channels: readonly Float32Array[], sampleRate: number): Uint8Array<ArrayBuffer> {
  const info = {
    format: exactFormat(channels),
    channels: channels.length as 1 | 2,
    sampleRate,
    frames: channels[0]!.length,
    seed: null,
  }
  const header = wavHeader(info)
  const encoder = new WavEncoder(info)
  const data = encoder.encode(channels)
  const pad = encoder.finish()
  const bytes = new Uint8Array(header.length + data.length + pad.length)
  bytes.set(header)
  bytes.set(data, header.length)
  return bytes
}

/** Checks that a file is the audio of a source: rate, channels, length and, block by block, the hash of its samples. */
export async function* sourceBlocks(
  source: Source,
  bytes: Uint8Array | undefined,
  blockFrames: number,
): AsyncGenerator<Float32Array[]> {
  const file = `audio/${source.sha256}.wav`
  if (!bytes) throw new FileError(`${file} (“${source.name}”) is missing.`)
  const header = await readWavHeader(bytesOf(bytes))
  if (
    header.channels !== source.channels ||
    header.frames !== source.frames ||
    header.sampleRate !== source.sampleRate
  )
    throw new FileError(
      `${file} has ${header.channels} channels, ${header.frames} frames at ${header.sampleRate} Hz; the session says ${source.channels}, ${source.frames} and ${source.sampleRate}.`,
    )
  const hash = new SamplesHash()
  for await (const block of wavBlocks(bytesOf(bytes), header, blockFrames)) {
    hash.add(block)
    yield block
  }
  const hex = hash.hex()
  if (hex !== source.sha256)
    throw new FileError(
      `${file} holds other sound than the session expects (its samples hash to ${hex.slice(0, 12)}…).`,
    )
}

/** All samples of a source, one array a channel. */
export async function sourceSamples(source: Source, bytes: Uint8Array | undefined): Promise<Float32Array[]> {
  if (source.frames > LIMITS.frames) throw new FileError(`“${source.name}” is too long.`)
  let out: Float32Array[] | null = null
  let at = 0
  for await (const block of sourceBlocks(source, bytes, 1 << 18)) {
    out ??= block.map(() => new Float32Array(source.frames))
    block.forEach((samples, c) => out![c]!.set(samples, at))
    at += block[0]!.length
  }
  return out!
}
