import { LIMITS } from '../core/model/session'
import { pagedBytes, type ByteSource } from './bytes'
import { isAiff } from './file-heads'
import { FileError } from './failure'
import type { SoundFile } from './sound'

/*
 * AIFF and AIFF-C (Audio Interchange File Format 1.3 and its extension for compressed data): chunks with
 * big-endian sizes, the samples in one of them. Of the compressions those are read that only say how plain
 * samples are stored.
 */

/** How samples are stored. */
interface Encoding {
  bytes: 1 | 2 | 3 | 4 | 8
  float: boolean
  littleEndian: boolean
}

interface Common {
  channels: 1 | 2
  frames: number
  sampleRate: number
  bits: number
  encoding: Encoding
}

/** Chunks that are looked through; files have a handful. */
const MOST_CHUNKS = 100_000

/** Largest chunk of markers that is read. */
const MOST_MARKER_BYTES = 1_000_000

const view = (bytes: Uint8Array) => new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)

const tag = (bytes: Uint8Array, at: number) => String.fromCharCode(...bytes.subarray(at, at + 4))

/** An 80-bit float (IEEE 754 extended precision: sign and exponent in 16 bits, then 64 of mantissa). */
function extendedFloat(v: DataView, at: number): number {
  const exponent = (v.getUint16(at) & 0x7fff) - 16383 - 63
  const mantissa = v.getUint32(at + 2) * 2 ** 32 + v.getUint32(at + 6)
  return (v.getUint8(at) & 0x80 ? -1 : 1) * mantissa * 2 ** exponent
}

/** How samples of so many bits are stored under a compression of AIFF-C; "NONE" is that of plain AIFF. */
function encodingOf(compression: string, bits: number): Encoding {
  const integer = (littleEndian: boolean, size = bits): Encoding => {
    if (size < 1 || size > 32) throw new FileError(`has ${size}-bit samples; 8, 16, 24 and 32 bit are taken.`)
    return { bytes: Math.ceil(size / 8) as Encoding['bytes'], float: false, littleEndian }
  }
  switch (compression) {
    case 'NONE':
    case 'twos':
      return integer(false)
    case 'sowt':
      return integer(true)
    case 'in24':
      return integer(false, 24)
    case 'in32':
      return integer(false, 32)
    case 'fl32':
    case 'FL32':
      return { bytes: 4, float: true, littleEndian: false }
    case 'fl64':
    case 'FL64':
      return { bytes: 8, float: true, littleEndian: false }
    default:
      throw new FileError(
        `holds compressed sound (AIFF-C “${compression.replace(/[^ -~]/g, '?')}”); save it as plain AIFF or WAV and import that.`,
      )
  }
}

function readCommon(bytes: Uint8Array, compressed: boolean): Common {
  if (bytes.length < (compressed ? 22 : 18)) throw new FileError('ends in the middle of its header.')
  const v = view(bytes)
  const channels = v.getUint16(0)
  const frames = v.getUint32(2)
  const bits = v.getUint16(6)
  const sampleRate = extendedFloat(v, 8)
  if (channels !== 1 && channels !== 2)
    throw new FileError(
      `has ${channels} channels; mono and stereo files are taken, so split it into those first.`,
    )
  if (!(sampleRate >= LIMITS.sampleRate.min && sampleRate <= 768_000))
    throw new FileError(
      `says that its sample rate is ${Math.round(sampleRate)} Hz; ${LIMITS.sampleRate.min} to 768000 Hz are taken.`,
    )
  const encoding = encodingOf(compressed ? tag(bytes, 18) : 'NONE', bits)
  return { channels, frames, bits, sampleRate: Math.round(sampleRate), encoding }
}

function readMarkers(bytes: Uint8Array): SoundFile['cues'] {
  const v = view(bytes)
  const cues: SoundFile['cues'] = []
  const count = bytes.length >= 2 ? Math.min(v.getUint16(0), LIMITS.markers) : 0
  for (let n = 0, at = 2; n < count && at + 7 <= bytes.length; n++) {
    const length = bytes[at + 6]!
    const name = new TextDecoder().decode(bytes.subarray(at + 7, at + 7 + length))
    cues.push({ frame: v.getUint32(at + 2), name: name.slice(0, LIMITS.nameLength) })
    // The length and the text together take an even number of bytes.
    at += 6 + 1 + length + ((length + 1) % 2)
  }
  return cues.sort((a, b) => a.frame - b.frame)
}

/** Opens an AIFF or AIFF-C file. Throws `FileError` with a sentence for what cannot be read. */
export async function openAiff(file: ByteSource): Promise<SoundFile> {
  const source = pagedBytes(file)
  const head = await source.read(0, 12)
  if (!isAiff(head)) throw new FileError('is not an AIFF file: it does not begin with FORM and AIFF.')
  const compressed = tag(head, 8) === 'AIFC'
  let common: Common | null = null
  let sound: { from: number; size: number } | null = null
  let cues: SoundFile['cues'] = []
  let at = 12
  for (let chunks = 0; at + 8 <= source.size; chunks++) {
    if (chunks === MOST_CHUNKS)
      throw new FileError(`has more than ${MOST_CHUNKS} chunks; save it anew and import that.`)
    const header = await source.read(at, at + 8)
    const [id, size, body] = [tag(header, 0), view(header).getUint32(4), at + 8]
    if (id === 'COMM') common = readCommon(await source.read(body, body + Math.min(size, 64)), compressed)
    else if (id === 'SSND') {
      const start = await source.read(body, body + 8)
      if (start.length < 8) throw new FileError('ends before its sound begins.')
      const offset = view(start).getUint32(0)
      sound = { from: body + 8 + offset, size: Math.max(0, size - 8 - offset) }
    } else if (id === 'MARK' && size <= MOST_MARKER_BYTES)
      cues = readMarkers(await source.read(body, body + size))
    at = body + size + (size % 2)
  }
  if (!common) throw new FileError('has no COMM chunk, so its samples cannot be understood.')
  if (!sound) throw new FileError('ends before its sound begins: it has no SSND chunk.')
  const { channels, frames, bits, encoding } = common
  const bytesPerFrame = channels * encoding.bytes
  if (frames === 0) throw new FileError('holds no sound: it has 0 frames.')
  if (frames > LIMITS.frames)
    throw new FileError(`is too long: ${frames} frames; up to ${LIMITS.frames} are taken.`)
  const there = Math.min(sound.size, source.size - sound.from)
  if (frames * bytesPerFrame > there)
    throw new FileError(
      `is cut off: its header announces ${frames * bytesPerFrame} bytes of sound, and ${Math.max(0, there)} are there.`,
    )
  const { from } = sound
  return {
    channels,
    sampleRate: common.sampleRate,
    frames,
    format: encoding.float ? `${encoding.bytes * 8}-bit float` : `${bits}-bit`,
    cues: cues.filter((cue) => cue.frame < frames),
    timeReference: null,
    async *blocks(blockFrames) {
      for (let first = 0; first < frames; first += blockFrames) {
        const count = Math.min(blockFrames, frames - first)
        const bytes = await file.read(from + first * bytesPerFrame, from + (first + count) * bytesPerFrame)
        if (bytes.length < count * bytesPerFrame)
          throw new FileError('is cut off in the middle of its sound.')
        yield decode(bytes, channels, count, encoding, first)
      }
    },
  }
}

/** Bytes of whole frames as samples of full scale 1, one array a channel. */
function decode(
  bytes: Uint8Array,
  channels: number,
  count: number,
  encoding: Encoding,
  first: number,
): Float32Array[] {
  const sample = sampleReader(view(bytes), encoding)
  return Array.from({ length: channels }, (_, c) => {
    const out = new Float32Array(count)
    for (let i = 0; i < count; i++) out[i] = sample((i * channels + c) * encoding.bytes)
    if (encoding.float)
      for (let i = 0; i < count; i++)
        if (!Number.isFinite(out[i]))
          throw new FileError(`holds a sample that is not a number (frame ${first + i} is ${out[i]}).`)
    return out
  })
}

/** Integers are left-justified in their bytes, so that the bytes alone say what full scale is. */
function sampleReader(v: DataView, { bytes, float, littleEndian }: Encoding): (at: number) => number {
  if (float) return bytes === 4 ? (at) => v.getFloat32(at) : (at) => v.getFloat64(at)
  switch (bytes) {
    case 1:
      return (at) => v.getInt8(at) / 128
    case 2:
      return (at) => v.getInt16(at, littleEndian) / 32768
    case 3:
      return littleEndian
        ? (at) => ((v.getInt8(at + 2) << 16) | v.getUint16(at, true)) / 8388608
        : (at) => ((v.getInt8(at) << 16) | v.getUint16(at + 1)) / 8388608
    default:
      return (at) => v.getInt32(at, littleEndian) / 2147483648
  }
}
