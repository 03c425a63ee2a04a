import { JSON_BOUNDS } from '../core/model/check/bounds'
import { openSession, SessionError } from '../core/model/check/open'
import type { Session, Source } from '../core/model/session'
import { shownText } from '../core/model/check/shown'
import type { ByteSource } from './bytes'
import { crc32 } from './crc32'
import { FileError } from './failure'
import { boundedJson } from './json-look'
import { SamplesHash } from './samples-hash'
import { readWavHeader, wavBlocks, type WavHeader } from './wav-read'
import { WavEncoder, wavHeader, type WavFormat } from './wav-write'
import { readZipDirectory, type ZipEntry } from './zip-directory'
import { openEntry } from './zip-entry'

/** A session with its audio files, which are unpacked only as they are read. */
export interface Package {
  session: Session
  /** Opens the audio file with the SHA-256 of its samples; undefined where the package has none. */
  audio(sha256: string): Promise<ByteSource> | undefined
}

/** How much `session.json` may be packed: text hardly ever more than twenty times. */
const MAX_SESSION_RATIO = 100

/** The session in a parsed text; throws `SessionError`. */
export function parseSession(text: string): Session {
  let json: unknown
  try {
    json = JSON.parse(text)
  } catch (error) {
    throw new SessionError(`The session file is not valid JSON: ${shownText((error as Error).message, 120)}.`)
  }
  return openSession(json)
}

const AUDIO_NAME = /^audio\/([0-9a-f]{64})\.wav$/

/** The text of a package's `session.json`. Throws `FileError`. */
async function readSessionText(archive: ByteSource, entries: readonly ZipEntry[]): Promise<string> {
  const entry = entries.find(({ name }) => name === 'session.json')
  if (!entry) throw new FileError('is not a package of Oaken Thread: it has no session.json.')
  const { size, compressedSize, crc32: expected } = entry
  if (size > 1e6 && size > compressedSize * MAX_SESSION_RATIO)
    throw new FileError('has a session.json that unpacks to far more than a session needs.')
  const file = await openEntry(archive, entry)
  let sum = 0
  const text = await boundedJson(size, async (from, to) => {
    const bytes = await file.read(from, to)
    sum = crc32(bytes, sum)
    return bytes
  })
  if (sum !== expected)
    throw new FileError('is a damaged package: the checksum of its session.json is another.')
  return text
}

/** The text of a package's session, without checking it. Throws `FileError`. */
export const packagedSession = async (archive: ByteSource): Promise<string> =>
  readSessionText(archive, await readZipDirectory(archive))

/**
 * Opens a package (`.oaken`, or `.oaken.zip`). Throws `FileError` when it is none or damaged, `SessionError`
 * for a bad session.
 */
export async function readPackage(archive: ByteSource): Promise<Package> {
  const entries = await readZipDirectory(archive)
  const session = parseSession(await readSessionText(archive, entries))
  const audio = new Map(
    entries.flatMap((entry) => {
      const hash = AUDIO_NAME.exec(entry.name)?.[1]
      return hash ? [[hash, entry] as const] : []
    }),
  )
  return {
    session,
    audio(sha256) {
      const entry = audio.get(sha256)
      return entry && openEntry(archive, entry)
    },
  }
}

/** The bytes of a session as it stands in its file. Throws `FileError` where they would be more than can be opened again. */
export function sessionBytes(session: Session, most: number = JSON_BOUNDS.bytes): Uint8Array<ArrayBuffer> {
  const text = JSON.stringify(session, null, 1)
  const bytes = text.length > most ? null : new TextEncoder().encode(text)
  if (bytes && bytes.length <= most) return bytes
  throw new FileError(
    `The session is too large to be opened again: ${((bytes?.length ?? text.length) / 1e6).toFixed(0)} MB without its sound, and ` +
      `${(most / 1e6).toFixed(0)} MB are taken. Nothing was written. Thin lanes that were drawn, or divide the session into two.`,
  )
}

/** Whether every sample is a whole step of the word; a negative zero is not, since integers have none. */
function fits(channels: readonly Float32Array[], scale: number): boolean {
  return channels.every((samples) =>
    samples.every(
      (x) => Number.isInteger(x * scale) && !Object.is(x, -0) && x >= -1 && x * scale <= scale - 1,
    ),
  )
}

/** Finds the smallest WAV format that holds samples without changing one bit, block by block. */
export class ExactFormat {
  private fits16 = true
  private fits24 = true

  /** Takes the next block, one array per channel. */
  add(channels: readonly Float32Array[]): void {
    this.fits16 &&= fits(channels, 32768)
    // What fits into 16 bits fits into 24.
    this.fits24 &&= this.fits16 || fits(channels, 8388608)
  }

  get format(): WavFormat {
    return this.fits16 ? 'wav16' : this.fits24 ? 'wav24' : 'wav32f'
  }
}

/** The smallest WAV format that holds the samples without changing one bit. */
export function exactFormat(channels: readonly Float32Array[]): WavFormat {
  const exact = new ExactFormat()
  exact.add(channels)
  return exact.format
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

/** Checks that a file says of itself what a source says. Throws `FileError`. */
export async function readSourceHeader(source: Source, file: ByteSource | undefined): Promise<WavHeader> {
  const name = `audio/${source.sha256}.wav`
  if (!file) throw new FileError(`${name} (“${shownText(source.name)}”) is missing.`)
  const header = await readWavHeader(file, 'data')
  if (
    header.channels !== source.channels ||
    header.frames !== source.frames ||
    header.sampleRate !== source.sampleRate
  )
    throw new FileError(
      `${name} has ${header.channels} channels, ${header.frames} frames at ` +
        `${header.sampleRate} Hz; the session says ${source.channels}, ${source.frames} ` +
        `and ${source.sampleRate}.`,
    )
  return header
}

/** Checks that a file is the audio of a source: rate, channels, length and, block by block, the hash of its samples. */
export async function* sourceBlocks(
  source: Source,
  file: ByteSource | undefined,
  blockFrames: number,
): AsyncGenerator<Float32Array[]> {
  const header = await readSourceHeader(source, file)
  const hash = await SamplesHash.begin()
  for await (const block of wavBlocks(file!, header, blockFrames)) {
    hash.add(block)
    yield block
  }
  const hex = hash.hex()
  if (hex !== source.sha256)
    throw new FileError(
      `audio/${source.sha256}.wav holds other sound than the session expects (its samples hash to ${hex.slice(0, 12)}…).`,
    )
}

/** All samples of a source, one array a channel. */
export async function sourceSamples(source: Source, file: ByteSource | undefined): Promise<Float32Array[]> {
  let out: Float32Array[] | null = null
  let at = 0
  for await (const block of sourceBlocks(source, file, 1 << 18)) {
    out ??= block.map(() => new Float32Array(source.frames))
    block.forEach((samples, c) => out![c]!.set(samples, at))
    at += block[0]!.length
  }
  return out!
}
