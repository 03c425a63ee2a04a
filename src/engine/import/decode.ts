import { LIMITS } from '../../core/model/session'
import { FileError } from '../../formats/failure'
import { id3Size } from '../../formats/id3'
import type { DecodedSound } from './import-sound'

const text = (bytes: Uint8Array, at: number, length: number) =>
  String.fromCharCode(...bytes.subarray(at, at + length))

/** The kind of a compressed sound file by its first bytes; null for everything else. */
export function compressedKind(head: Uint8Array): string | null {
  if (text(head, 0, 4) === 'OggS') return 'Ogg'
  if (text(head, 4, 4) === 'ftyp') return 'MPEG-4'
  if (head[0] === 0x1a && head[1] === 0x45 && head[2] === 0xdf && head[3] === 0xa3) return 'WebM'
  if (id3Size(head) > 0) return 'MP3'
  // A frame of MPEG audio or of AAC begins with eleven or twelve ones.
  if (head[0] === 0xff && (head[1]! & 0xe0) === 0xe0) return 'MP3'
  return null
}

/**
 * The sample rate that a compressed file says it has, where its head is simple to read (Ogg Opus and Vorbis,
 * MP3).
 */
export function statedRate(head: Uint8Array): number | null {
  const v = new DataView(head.buffer, head.byteOffset, head.byteLength)
  if (text(head, 0, 4) === 'OggS') {
    const packet = 27 + head[26]!
    if (text(head, packet, 8) === 'OpusHead') return 48000
    if (text(head, packet + 1, 6) === 'vorbis') return v.getUint32(packet + 12, true)
  }
  const at = id3Size(head)
  if (at + 4 <= head.length && head[at] === 0xff && (head[at + 1]! & 0xe0) === 0xe0) {
    const version = (head[at + 1]! >> 3) & 3
    const base = [44100, 48000, 32000][(head[at + 2]! >> 2) & 3]
    if (base && version !== 1) return version === 3 ? base : version === 2 ? base / 2 : base / 4
  }
  return null
}

/**
 * Largest compressed file that is decoded, and how much it may become: the browser holds all of its samples
 * at once.
 */
const MAX_COMPRESSED = 300e6
const MAX_DECODED = 2e9
/** Largest file that is tried without knowing what it is, or how long. */
const MAX_UNKNOWN = 30e6
/** How long to wait for the browser to tell the length of a file, in milliseconds. */
const LENGTH_MS = 10_000

/** How long a compressed file plays, in seconds, without decoding it; null where the browser cannot tell. */
function playingSeconds(file: Blob): Promise<number | null> {
  const url = URL.createObjectURL(file)
  const audio = new Audio()
  const length = new Promise<number | null>((resolve) => {
    audio.preload = 'metadata'
    audio.onloadedmetadata = () => resolve(Number.isFinite(audio.duration) ? audio.duration : null)
    audio.onerror = () => resolve(null)
    setTimeout(resolve, LENGTH_MS, null)
    audio.src = url
  })
  return length.finally(() => {
    audio.removeAttribute('src')
    audio.load()
    URL.revokeObjectURL(url)
  })
}

const minutes = (seconds: number) => `${Math.round(seconds / 60)} minutes`

/** Throws a `FileError` for what would take more memory than a page can have. */
async function expectBounded(file: File, kind: string | null, rate: number): Promise<void> {
  if (file.size > MAX_COMPRESSED)
    throw new FileError(
      `is a compressed file of ${Math.round(file.size / 1e6)} MB; up to 300 MB are decoded at once, so save it as WAV and import that.`,
    )
  const seconds = kind === null ? null : await playingSeconds(file)
  const most = MAX_DECODED / (rate * 2 * 4)
  if (seconds !== null && seconds > most)
    throw new FileError(
      `is ${minutes(seconds)} of compressed sound; up to ${minutes(most)} are decoded at once, so save it as WAV and import that.`,
    )
  if (seconds === null && file.size > MAX_UNKNOWN)
    throw new FileError('does not say how long it is. Save it as WAV and import that.')
}

/**
 * Has the browser decode a file that is not read here, at the file's own rate where that can be read, else at `sampleRate`.
 * Throws `FileError` for what it cannot decode, and for what would take too much memory.
 */
export async function decodeCompressed(file: File, sampleRate: number): Promise<DecodedSound> {
  const head = new Uint8Array(await file.slice(0, 65536).arrayBuffer())
  const kind = compressedKind(head)
  const unknown = new FileError(
    /\.(wav|wave|bwf)$/i.test(file.name)
      ? 'is not a WAV file: it does not begin with RIFF and WAVE.'
      : 'is not a sound file that this browser can decode. Save it as WAV and import that.',
  )
  if (kind === null && file.size > MAX_UNKNOWN) throw unknown
  const stated = statedRate(head)
  const { min, max } = LIMITS.sampleRate
  const rate = stated && stated >= min && stated <= max ? stated : sampleRate
  await expectBounded(file, kind, rate)
  try {
    const decoded = await new OfflineAudioContext(1, 1, rate).decodeAudioData(await file.arrayBuffer())
    return {
      channels: Array.from({ length: decoded.numberOfChannels }, (_, c) => decoded.getChannelData(c).slice()),
      sampleRate: decoded.sampleRate,
      format: (file.name.split('.').pop() ?? 'compressed').slice(0, 12),
    }
  } catch {
    throw unknown
  }
}
