import { plainQuantiser, tpdfQuantiser } from '../core/dsp/dither'

/** Sample formats that are written: 16 and 24 bit with TPDF dither, 32-bit float as it is. */
export type WavFormat = 'wav16' | 'wav24' | 'wav32f'

/** What goes into the header. */
export interface WavInfo {
  format: WavFormat
  channels: 1 | 2
  sampleRate: number
  frames: number
  /**
   * Seed of the dither; the same seed gives the same file. null rounds without dither, for samples that fit
   * exactly.
   */
  seed: number | null
  /**
   * `bext` chunk (EBU Tech 3285): description, the frame of the session at which the file begins, and when it was made,
   * which is written in local time.
   */
  broadcast?: { description: string; timeReference: number; writtenAt: Date }
  /** Markers as `cue ` points with names, frames counted from the start of the file. */
  cues?: { frame: number; name: string }[]
}

const BITS: Record<WavFormat, number> = { wav16: 16, wav24: 24, wav32f: 32 }

class ByteWriter {
  private parts: number[] = []
  text(text: string, length = text.length): this {
    const bytes = new TextEncoder().encode(text)
    for (let i = 0; i < length; i++) this.parts.push(bytes[i] ?? 0)
    return this
  }
  u16(n: number): this {
    this.parts.push(n & 255, (n >>> 8) & 255)
    return this
  }
  u32(n: number): this {
    return this.u16(n & 0xffff).u16(Math.floor(n / 65536) & 0xffff)
  }
  u64(n: number): this {
    return this.u32(n % 4294967296).u32(Math.floor(n / 4294967296))
  }
  zeros(count: number): this {
    for (let i = 0; i < count; i++) this.parts.push(0)
    return this
  }
  add(other: Uint8Array): this {
    for (const byte of other) this.parts.push(byte)
    return this
  }
  bytes(): Uint8Array<ArrayBuffer> {
    return Uint8Array.from(this.parts)
  }
}

const chunk = (id: string, body: Uint8Array) =>
  new ByteWriter()
    .text(id)
    .u32(body.length)
    .add(body)
    .zeros(body.length % 2)
    .bytes()

/** The UTF-8 bytes of a text, as many whole characters as fit into `most` bytes. */
function utf8Within(text: string, most: number): Uint8Array {
  const bytes = new Uint8Array(most)
  const { written } = new TextEncoder().encodeInto(text, bytes)
  return bytes.subarray(0, written)
}

const digits = (n: number, count: number) => String(n).padStart(count, '0')
const dateOf = (d: Date) =>
  `${digits(d.getFullYear(), 4)}-${digits(d.getMonth() + 1, 2)}-${digits(d.getDate(), 2)}`
const timeOf = (d: Date) =>
  `${digits(d.getHours(), 2)}:${digits(d.getMinutes(), 2)}:${digits(d.getSeconds(), 2)}`

function bextChunk({ description, timeReference, writtenAt }: NonNullable<WavInfo['broadcast']>): Uint8Array {
  const text = utf8Within(description, 256)
  const body = new ByteWriter()
    .add(text)
    .zeros(256 - text.length)
    .text('Oaken Thread', 32)
    .zeros(32)
    .text(dateOf(writtenAt), 10)
    .text(timeOf(writtenAt), 8)
    .u64(timeReference)
    .u16(2)
    .zeros(64)
  for (let i = 0; i < 5; i++) body.u16(UNKNOWN_LOUDNESS)
  return chunk('bext', body.zeros(180).bytes())
}

/** What stands in place of a loudness that is not told (EBU Tech 3285 version 2). */
const UNKNOWN_LOUDNESS = 0x7fff
/** Where in a `bext` chunk the figures of loudness stand, from the beginning of its body. */
const LOUDNESS_AT = 412

/** What a `bext` chunk tells of loudness: LUFS, LU and dBTP; what is infinite is not told. */
export interface BroadcastLoudness {
  integrated: number
  range: number
  truePeakDb: number
  momentaryMax: number
  shortTermMax: number
}

/** The bytes that tell the loudness, and where in the file they stand; null for a file without a `bext` chunk. */
export function broadcastLoudness(
  info: WavInfo,
  { integrated, range, truePeakDb, momentaryMax, shortTermMax }: BroadcastLoudness,
): { at: number; bytes: Uint8Array<ArrayBuffer> } | null {
  const header = wavHeader(info)
  const at = header.findIndex(
    (byte, i) => byte === 98 && header[i + 1] === 101 && header[i + 2] === 120 && header[i + 3] === 116,
  )
  if (at < 0) return null
  const out = new ByteWriter()
  for (const value of [integrated, range, truePeakDb, momentaryMax, shortTermMax])
    out.u16(Math.abs(value) < 300 ? Math.round(value * 100) & 0xffff : UNKNOWN_LOUDNESS)
  return { at: at + 8 + LOUDNESS_AT, bytes: out.bytes() }
}

function cueChunks(cues: NonNullable<WavInfo['cues']>): Uint8Array {
  const points = new ByteWriter().u32(cues.length)
  const labels = new ByteWriter().text('adtl')
  cues.forEach((cue, i) => {
    points
      .u32(i + 1)
      .u32(cue.frame)
      .text('data')
      .u32(0)
      .u32(0)
      .u32(cue.frame)
    const name = new TextEncoder().encode(`${cue.name}\0`)
    labels.add(
      chunk(
        'labl',
        new ByteWriter()
          .u32(i + 1)
          .add(name)
          .bytes(),
      ),
    )
  })
  return new ByteWriter().add(chunk('cue ', points.bytes())).add(chunk('LIST', labels.bytes())).bytes()
}

/** Everything of a WAV file before its samples. Files over 4 GiB become RF64 (EBU Tech 3306). */
export function wavHeader(info: WavInfo): Uint8Array<ArrayBuffer> {
  const bytesPerFrame = (info.channels * BITS[info.format]) / 8
  const dataSize = info.frames * bytesPerFrame
  const float = info.format === 'wav32f'
  const fmt = new ByteWriter()
    .u16(float ? 3 : 1)
    .u16(info.channels)
    .u32(info.sampleRate)
    .u32(info.sampleRate * bytesPerFrame)
    .u16(bytesPerFrame)
    .u16(BITS[info.format])
  if (float) fmt.u16(0)
  const middle = new ByteWriter().add(chunk('fmt ', fmt.bytes()))
  if (float) middle.add(chunk('fact', new ByteWriter().u32(Math.min(info.frames, 0xffffffff)).bytes()))
  if (info.broadcast) middle.add(bextChunk(info.broadcast))
  if (info.cues?.length) middle.add(cueChunks(info.cues))
  const body = middle.bytes()
  const size = 4 + body.length + 8 + dataSize + (dataSize % 2)
  if (size <= 0xfffffff0)
    return new ByteWriter().text('RIFF').u32(size).text('WAVE').add(body).text('data').u32(dataSize).bytes()
  const ds64 = chunk(
    'ds64',
    new ByteWriter()
      .u64(size + 36)
      .u64(dataSize)
      .u64(info.frames)
      .u32(0)
      .bytes(),
  )
  return new ByteWriter()
    .text('RF64')
    .u32(0xffffffff)
    .text('WAVE')
    .add(ds64)
    .add(body)
    .text('data')
    .u32(0xffffffff)
    .bytes()
}

/** Turns rendered blocks into the bytes that follow the header, and counts what did not fit. */
export class WavEncoder {
  private readonly quantiser
  private frames = 0
  private over = 0

  constructor(private readonly info: WavInfo) {
    const bits = info.format === 'wav16' ? 16 : 24
    this.quantiser =
      info.format === 'wav32f'
        ? null
        : info.seed === null
          ? plainQuantiser(bits)
          : tpdfQuantiser(bits, info.seed)
  }

  /** Samples over full scale so far: limited in 16 and 24 bit, kept in float. */
  get clipped(): number {
    return this.quantiser ? this.quantiser.clipped : this.over
  }

  /** The bytes of one block, one array a channel. */
  encode(channels: readonly Float32Array[]): Uint8Array<ArrayBuffer> {
    const frames = channels[0]!.length
    const size = BITS[this.info.format] / 8
    const bytes = new Uint8Array(frames * this.info.channels * size)
    const v = new DataView(bytes.buffer)
    let at = 0
    for (let i = 0; i < frames; i++)
      for (let c = 0; c < this.info.channels; c++, at += size) {
        const x = channels[c]![i]!
        if (!this.quantiser) {
          if (x > 1 || x < -1) this.over++
          v.setFloat32(at, x, true)
        } else {
          const n = this.quantiser.next(x)
          v.setInt16(at + size - 2, size === 2 ? n : n >> 8, true)
          if (size === 3) v.setUint8(at, n & 255)
        }
      }
    this.frames += frames
    return bytes
  }

  /** The pad byte that an odd amount of data needs. */
  finish(): Uint8Array<ArrayBuffer> {
    return new Uint8Array(((this.frames * this.info.channels * BITS[this.info.format]) / 8) % 2)
  }
}
