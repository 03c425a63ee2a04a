import { LIMITS } from '../core/model/session'
import { pagedBytes, type ByteSource } from './bytes'
import { isWav } from './file-heads'
import { FileError } from './failure'

/** What a WAV file says of its sound. `dataFrom` is the byte where the samples begin. */
export interface WavHeader {
  channels: 1 | 2
  sampleRate: number
  bitsPerSample: 8 | 16 | 24 | 32 | 64
  float: boolean
  frames: number
  dataFrom: number
  bytesPerFrame: number
  /** The depth in words: "24-bit", "32-bit float". */
  format: string
  /** `cue ` points in frames, with the names of a `LIST adtl`. */
  cues: { frame: number; name: string }[]
  /** The time reference of a `bext` chunk, in frames since midnight; null without one. */
  timeReference: number | null
}

const tag = (bytes: Uint8Array, at: number) =>
  String.fromCharCode(bytes[at]!, bytes[at + 1]!, bytes[at + 2]!, bytes[at + 3]!)

const view = (bytes: Uint8Array) => new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)

/** What the format chunk says. */
type Format = Omit<WavHeader, 'frames' | 'dataFrom' | 'cues' | 'timeReference'>

/** Where a `bext` chunk holds its time reference (EBU Tech 3285, 2.3), 64 bits. */
const TIME_REFERENCE_AT = 256 + 32 + 32 + 10 + 8

/** Chunks that are looked through; files have a handful, some recorders write hundreds. */
const MOST_CHUNKS = 100_000

/**
 * Reads a WAV header: PCM 8, 16, 24, 32, float 32 and 64, plain or extensible, mono or stereo, RIFF, RF64 or
 * BW64. Throws `FileError` with a sentence for anything else; sizes that lie are not believed. With `upTo`
 * "data" nothing after the beginning of the sound is read, for sources that are read forwards only; cue
 * points may be missing then.
 */
export async function readWavHeader(file: ByteSource, upTo: 'end' | 'data' = 'end'): Promise<WavHeader> {
  const source = pagedBytes(file)
  if (source.size === 0) throw new FileError('is empty: it has 0 bytes.')
  const head = await source.read(0, 12)
  if (!isWav(head)) throw new FileError('is not a WAV file: it does not begin with RIFF and WAVE.')
  const sizes64 = new Map<string, number>()
  let format: Format | null = null
  let data: { from: number; size: number } | null = null
  const points = new Map<number, { frame: number; name: string }>()
  let timeReference: number | null = null
  let at = 12
  for (let chunks = 0; at + 8 <= source.size; chunks++) {
    if (chunks === MOST_CHUNKS)
      throw new FileError(`has more than ${MOST_CHUNKS} chunks; save it anew and import that.`)
    const header = await source.read(at, at + 8)
    const id = tag(header, 0)
    const stated = view(header).getUint32(4, true)
    const size = stated === 0xffffffff && sizes64.has(id) ? sizes64.get(id)! : stated
    const body = at + 8
    if (id === 'ds64') {
      const bytes = await source.read(body, body + 28)
      if (bytes.length >= 16) sizes64.set('data', Number(view(bytes).getBigUint64(8, true)))
    } else if (id === 'fmt ') {
      if (body + 16 > source.size) throw new FileError('ends in the middle of its header.')
      format = readFormat(await source.read(body, body + Math.min(size, 64)))
    } else if (id === 'data') {
      data = { from: body, size }
      if (upTo === 'data') break
    } else if (id === 'bext' && size >= TIME_REFERENCE_AT + 8) {
      const bytes = await source.read(body + TIME_REFERENCE_AT, body + TIME_REFERENCE_AT + 8)
      if (bytes.length === 8) timeReference = Number(view(bytes).getBigUint64(0, true))
    } else if ((id === 'cue ' || id === 'LIST') && size <= 1_000_000)
      readCues(id, await source.read(body, body + size), points)
    at = body + size + (size % 2)
  }
  if (!format)
    throw new FileError(
      data
        ? 'has no format chunk, so its samples cannot be understood.'
        : 'ends in the middle of its header.',
    )
  if (!data) throw new FileError('ends before its sound begins: it has no data chunk.')
  return {
    ...format,
    ...readExtent(data, format.bytesPerFrame, source.size, view(head).getUint32(4, true) === 0),
    cues: [...points.values()].sort((a, b) => a.frame - b.frame),
    timeReference,
  }
}

function readExtent(
  data: { from: number; size: number },
  bytesPerFrame: number,
  fileSize: number,
  neverClosed: boolean,
): { frames: number; dataFrom: number } {
  const there = fileSize - data.from
  // Zeros and 0xffffffff are what recorders leave in a file they never closed: then the data reach to the end.
  const unfinished = data.size === 0xffffffff || (data.size === 0 && neverClosed)
  if (!unfinished && data.size > there)
    throw new FileError(
      `is cut off: its header announces ${data.size} bytes of sound, and ${there} are there.`,
    )
  const frames = Math.floor((unfinished ? there : data.size) / bytesPerFrame)
  if (frames === 0) throw new FileError('holds no sound: it has 0 frames.')
  if (frames > LIMITS.frames)
    throw new FileError(`is too long: ${frames} frames; up to ${LIMITS.frames} are taken.`)
  return { frames, dataFrom: data.from }
}

function readFormat(bytes: Uint8Array): Format {
  if (bytes.length < 16) throw new FileError('ends in the middle of its header.')
  const v = view(bytes)
  let code = v.getUint16(0, true)
  const channels = v.getUint16(2, true)
  const sampleRate = v.getUint32(4, true)
  const bits = v.getUint16(14, true)
  if (code === 0xfffe) {
    if (bytes.length < 26) throw new FileError('ends in the middle of its header.')
    code = v.getUint16(24, true)
  }
  if (code !== 1 && code !== 3)
    throw new FileError(
      `holds compressed sound (WAV format ${code}); save it as PCM or float and import it again.`,
    )
  if (channels === 0) throw new FileError('says that it has 0 channels; 1 or 2 are taken.')
  if (channels > 2)
    throw new FileError(
      `has ${channels} channels; mono and stereo files are taken, so split it into those first.`,
    )
  if (sampleRate < LIMITS.sampleRate.min || sampleRate > 768_000)
    throw new FileError(
      `says that its sample rate is ${sampleRate} Hz; ${LIMITS.sampleRate.min} to 768000 Hz are taken.`,
    )
  const float = code === 3
  if (!(float ? [32, 64] : [8, 16, 24, 32]).includes(bits))
    throw new FileError(
      `has ${bits}-bit ${float ? 'float' : 'PCM'} samples; 8, 16, 24, 32 bit and 32 or 64 bit float are taken.`,
    )
  const align = v.getUint16(12, true)
  if (align !== (channels * bits) / 8)
    throw new FileError(
      `contradicts itself: a frame of ${channels} × ${bits} bit takes ${(channels * bits) / 8} bytes, and it says ${align}.`,
    )
  return {
    channels: channels as 1 | 2,
    sampleRate,
    bitsPerSample: bits as WavHeader['bitsPerSample'],
    float,
    bytesPerFrame: (channels * bits) / 8,
    format: `${bits}-bit${float ? ' float' : ''}`,
  }
}

function readCues(id: string, bytes: Uint8Array, points: Map<number, { frame: number; name: string }>): void {
  const v = view(bytes)
  if (id === 'cue ' && bytes.length >= 4) {
    const count = Math.min(v.getUint32(0, true), Math.floor((bytes.length - 4) / 24), LIMITS.markers)
    for (let i = 0; i < count; i++)
      points.set(v.getUint32(4 + i * 24, true), { frame: v.getUint32(4 + i * 24 + 20, true), name: '' })
  } else if (id === 'LIST' && bytes.length >= 4 && tag(bytes, 0) === 'adtl') {
    for (let at = 4; at + 12 <= bytes.length;) {
      const size = v.getUint32(at + 4, true)
      const point = points.get(v.getUint32(at + 8, true))
      if (tag(bytes, at) === 'labl' && point)
        point.name = new TextDecoder()
          .decode(bytes.subarray(at + 12, Math.min(bytes.length, at + 8 + size)))
          .replace(/\0+$/, '')
          .slice(0, LIMITS.nameLength)
      at += 8 + size + (size % 2)
    }
  }
}

/**
 * Turns the bytes of whole frames into samples, one array a channel, full scale 1 (PCM divided by 2^(bits-1)).
 * Throws `FileError` at the first sample that is not a finite number; `firstFrame` is only for that sentence.
 */
export function decodeWav(header: WavHeader, bytes: Uint8Array, firstFrame: number): Float32Array[] {
  const frames = Math.floor(bytes.length / header.bytesPerFrame)
  if (header.bitsPerSample === 16 && littleEndian) return decode16(bytes, header.channels, frames)
  const v = view(bytes)
  const size = header.bitsPerSample / 8
  const sample = sampleReader(header, v)
  return Array.from({ length: header.channels }, (_, c) => {
    const out = new Float32Array(frames)
    for (let i = 0; i < frames; i++) out[i] = sample(i * header.bytesPerFrame + c * size)
    if (header.float)
      for (let i = 0; i < frames; i++)
        if (!Number.isFinite(out[i]))
          throw new FileError(`holds a sample that is not a number (frame ${firstFrame + i} is ${out[i]}).`)
    return out
  })
}

const littleEndian = new Uint8Array(Uint16Array.of(1).buffer)[0] === 1

/** The most usual files, several times as quickly as sample by sample. */
function decode16(bytes: Uint8Array, channels: number, frames: number): Float32Array[] {
  const count = frames * channels
  // Words must begin at even bytes of their buffer. (A Buffer's own `slice` would not copy.)
  const aligned = bytes.byteOffset % 2 === 0 ? bytes : new Uint8Array(bytes)
  const words = new Int16Array(aligned.buffer, aligned.byteOffset, count)
  return Array.from({ length: channels }, (_, c) => {
    const out = new Float32Array(frames)
    for (let i = 0, at = c; i < frames; i++, at += channels) out[i] = words[at]! / 32768
    return out
  })
}

function sampleReader(header: WavHeader, v: DataView): (at: number) => number {
  if (header.float)
    return header.bitsPerSample === 32 ? (at) => v.getFloat32(at, true) : (at) => v.getFloat64(at, true)
  switch (header.bitsPerSample) {
    case 8:
      return (at) => (v.getUint8(at) - 128) / 128
    case 16:
      return (at) => v.getInt16(at, true) / 32768
    case 24:
      return (at) => ((v.getInt8(at + 2) << 16) | v.getUint16(at, true)) / 8388608
    default:
      return (at) => v.getInt32(at, true) / 2147483648
  }
}

/** Reads `count` frames from `first` on, or as many as there are, one array a channel. */
export async function readFrames(
  source: ByteSource,
  header: WavHeader,
  first: number,
  count: number,
): Promise<Float32Array[]> {
  const frames = Math.min(count, header.frames - first)
  const from = header.dataFrom + first * header.bytesPerFrame
  const bytes = await source.read(from, from + frames * header.bytesPerFrame)
  if (bytes.length < frames * header.bytesPerFrame)
    throw new FileError('is cut off in the middle of its sound.')
  return decodeWav(header, bytes, first)
}

/** Reads a WAV file block by block: `blockFrames` at a time, one array a channel. */
export async function* wavBlocks(
  source: ByteSource,
  header: WavHeader,
  blockFrames: number,
): AsyncGenerator<Float32Array[]> {
  for (let frame = 0; frame < header.frames; frame += blockFrames)
    yield await readFrames(source, header, frame, blockFrames)
}
