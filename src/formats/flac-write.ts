import { BitWriter } from './bit-writer'
import { joinedBytes } from './bytes'

/** Frames of a block of a FLAC stream (RFC 9639). */
export const FLAC_BLOCK = 4096

/** What goes into a FLAC file besides its samples. */
export interface FlacInfo {
  channels: 1 | 2
  /** In Hz, at most 655350. */
  sampleRate: number
  bitsPerSample: 16 | 24
  /** How many frames the file will have. */
  frames: number
  /** Vorbis comments, such as `TITLE`: names in capitals, any text. */
  comments?: readonly (readonly [name: string, text: string])[]
  /**
   * Markers in frames from the start of the file; the first 254 are kept to the frame, the others in the
   * comments only.
   */
  cues?: readonly { frame: number; name: string }[]
}

const digits = (n: number, count: number) => String(n).padStart(count, '0')

/** A time as chapters in Vorbis comments have it, "00:01:02.345". */
function chapterTime(seconds: number): string {
  const ms = Math.round(seconds * 1000)
  const [hours, minutes] = [Math.floor(ms / 3_600_000), Math.floor(ms / 60_000) % 60]
  return `${digits(hours, 2)}:${digits(minutes, 2)}:${digits(Math.floor(ms / 1000) % 60, 2)}.${digits(ms % 1000, 3)}`
}

/** Bytes of a metadata block with its header (RFC 9639, 8.1). */
function metadataBlock(type: number, body: Uint8Array, last: boolean): Uint8Array {
  const head = new BitWriter()
  head.bits(last ? 0x80 | type : type, 8)
  head.bits(body.length, 24)
  return joinedBytes([head.view(), body])
}

function streamInfo({ channels, sampleRate, bitsPerSample, frames }: FlacInfo): Uint8Array {
  const out = new BitWriter()
  out.bits(FLAC_BLOCK, 16)
  out.bits(FLAC_BLOCK, 16)
  out.bits(0, 24)
  out.bits(0, 24)
  out.bits(sampleRate, 20)
  out.bits(channels - 1, 3)
  out.bits(bitsPerSample - 1, 5)
  out.bits(frames, 36)
  // The MD5 of the samples, which is known only at the end.
  for (let i = 0; i < 4; i++) out.bits(0, 32)
  return out.view().slice()
}

/** A Vorbis comment (RFC 9639, 8.6), whose lengths are little-endian. */
function vorbisComment({ comments = [], cues = [], sampleRate }: FlacInfo): Uint8Array {
  const chapters = cues.flatMap(({ frame, name }, i) => {
    const key = `CHAPTER${digits(i + 1, 3)}`
    return [`${key}=${chapterTime(frame / sampleRate)}`, `${key}NAME=${name}`]
  })
  const lines = [...comments.map(([name, text]) => `${name}=${text}`), ...chapters]
  const number = (n: number) => new Uint8Array(Uint32Array.of(n).buffer)
  const text = (line: string) => {
    const bytes = new TextEncoder().encode(line)
    return [number(bytes.length), bytes]
  }
  return joinedBytes([...text('Oaken Thread'), number(lines.length), ...lines.flatMap(text)])
}

/** Most tracks of a cue sheet besides the one that ends it. */
const MOST_CUES = 254

/** A cue sheet (RFC 9639, 8.7) with a track for each marker. */
function cueSheet({ cues = [], frames }: FlacInfo): Uint8Array {
  const out = new BitWriter()
  const zeros = (bytes: number) => {
    for (let i = 0; i < bytes; i++) out.bits(0, 8)
  }
  const long = (n: number) => {
    out.bits(Math.floor(n / 2 ** 32), 32)
    out.bits(n % 2 ** 32, 32)
  }
  const kept = cues.slice(0, MOST_CUES)
  zeros(128 + 8 + 259)
  out.bits(kept.length + 1, 8)
  kept.forEach(({ frame }, i) => {
    long(frame)
    out.bits(i + 1, 8)
    zeros(12 + 14)
    out.bits(1, 8)
    long(0)
    out.bits(1, 8)
    zeros(3)
  })
  long(frames)
  out.bits(255, 8)
  zeros(12 + 14 + 1)
  return out.view().slice()
}

/** Where in the file the MD5 of the samples stands, which is known only when all are written. */
export const FLAC_MD5_AT = 26

/** Everything of a FLAC file before its frames, of `BLOCK` samples each but the last. */
export function flacHeader(info: FlacInfo): Uint8Array<ArrayBuffer> {
  const cues = info.cues?.length ? [metadataBlock(5, cueSheet(info), false)] : []
  return joinedBytes([
    new TextEncoder().encode('fLaC'),
    metadataBlock(0, streamInfo(info), false),
    ...cues,
    metadataBlock(4, vorbisComment(info), true),
  ])
}
