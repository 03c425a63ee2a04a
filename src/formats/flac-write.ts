import { clamp } from '../core/units/clamp'
import { createMD5, type IHasher } from 'hash-wasm'
import { crc16, crc8 } from './flac-crc'

/** A FLAC stream (RFC 9639) of 16 or 24-bit integers: fixed predictors, Rice coded residuals, blocks of 4096 frames. */
export const FLAC_BLOCK = 4096
const BLOCK_FRAMES = FLAC_BLOCK

class BitWriter {
  private bytes = new Uint8Array(1 << 16)
  private length = 0
  private pending = 0
  private pendingBits = 0

  /** Appends the low `count` bits (0…32) of a non-negative integer. */
  bits(value: number, count: number): void {
    for (let left = count; left > 0;) {
      const room = 8 - this.pendingBits
      const take = Math.min(room, left)
      const part = Math.floor(value / 2 ** (left - take)) % 2 ** take
      this.pending = (this.pending << take) | part
      this.pendingBits += take
      left -= take
      if (this.pendingBits === 8) this.push(this.pending)
    }
  }
  unary(zeros: number): void {
    for (let left = zeros; left > 0; left -= 24) this.bits(0, Math.min(24, left))
    this.bits(1, 1)
  }
  signed(value: number, count: number): void {
    this.bits(value < 0 ? value + 2 ** count : value, count)
  }
  align(): void {
    if (this.pendingBits) this.bits(0, 8 - this.pendingBits)
  }
  view(): Uint8Array {
    return this.bytes.subarray(0, this.length)
  }
  private push(byte: number): void {
    if (this.length === this.bytes.length) {
      const larger = new Uint8Array(this.length * 2)
      larger.set(this.bytes)
      this.bytes = larger
    }
    this.bytes[this.length++] = byte & 255
    this.pending = 0
    this.pendingBits = 0
  }
}

/** Residual of the fixed predictor of an order 0…4 (RFC 9639, 9.2.5): repeated differences. */
function residual(samples: Int32Array, order: number): Int32Array {
  let row = samples
  for (let k = 0; k < order; k++) row = row.map((x, i) => (i > k ? x - row[i - 1]! : x))
  return row
}

function bestPredictor(samples: Int32Array): { order: number; row: Int32Array } {
  let best = { order: 0, row: samples }
  let bestSum = Infinity
  for (let order = 0; order <= Math.min(4, samples.length - 1); order++) {
    const row = residual(samples, order)
    let sum = 0
    for (let i = order; i < row.length; i++) sum += Math.abs(row[i]!)
    if (sum < bestSum) {
      bestSum = sum
      best = { order, row }
    }
  }
  return best
}

function writeSubframe(out: BitWriter, samples: Int32Array, bitsPerSample: number): void {
  if (samples.every((x) => x === samples[0])) {
    out.bits(0, 8)
    out.signed(samples[0]!, bitsPerSample)
    return
  }
  const { order, row } = bestPredictor(samples)
  out.bits((8 + order) << 1, 8)
  for (let i = 0; i < order; i++) out.signed(samples[i]!, bitsPerSample)
  let sum = 0
  for (let i = order; i < row.length; i++) sum += Math.abs(row[i]!)
  const mean = sum / Math.max(1, row.length - order)
  const rice = clamp(Math.round(Math.log2(mean + 0.5)), 0, 30)
  // Coding method 1 (5-bit parameters), one partition.
  out.bits(1, 2)
  out.bits(0, 4)
  out.bits(rice, 5)
  const divisor = 2 ** rice
  for (let i = order; i < row.length; i++) {
    const folded = row[i]! >= 0 ? row[i]! * 2 : -row[i]! * 2 - 1
    out.unary(Math.floor(folded / divisor))
    out.bits(folded % divisor, rice)
  }
}

function utf8Number(out: BitWriter, n: number): void {
  if (n < 0x80) return out.bits(n, 8)
  let extra = 1
  while (n >= 2 ** (extra * 5 + 6)) extra++
  const lead = (0xff << (7 - extra)) & 0xff
  out.bits(lead | Math.floor(n / 2 ** (extra * 6)), 8)
  for (let k = extra - 1; k >= 0; k--) out.bits(0x80 | (Math.floor(n / 2 ** (k * 6)) & 0x3f), 8)
}

function frameBytes(channels: readonly Int32Array[], bitsPerSample: 16 | 24, index: number): Uint8Array {
  const frames = channels[0]!.length
  const out = new BitWriter()
  out.bits(0xfff8, 16)
  out.bits(frames === BLOCK_FRAMES ? 12 : 7, 4)
  out.bits(0, 4)
  out.bits(channels.length - 1, 4)
  out.bits(bitsPerSample === 16 ? 4 : 6, 3)
  out.bits(0, 1)
  utf8Number(out, index)
  if (frames !== BLOCK_FRAMES) out.bits(frames - 1, 16)
  out.bits(crc8(out.view()), 8)
  for (const samples of channels) writeSubframe(out, samples, bitsPerSample)
  out.align()
  out.bits(crc16(out.view()), 16)
  return out.view().slice()
}

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
  return joined([head.view(), body])
}

function joined(parts: readonly Uint8Array[]): Uint8Array<ArrayBuffer> {
  const bytes = new Uint8Array(parts.reduce((sum, part) => sum + part.length, 0))
  let at = 0
  for (const part of parts) {
    bytes.set(part, at)
    at += part.length
  }
  return bytes
}

function streamInfo({ channels, sampleRate, bitsPerSample, frames }: FlacInfo): Uint8Array {
  const out = new BitWriter()
  out.bits(BLOCK_FRAMES, 16)
  out.bits(BLOCK_FRAMES, 16)
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
  return joined([...text('Oaken Thread'), number(lines.length), ...lines.flatMap(text)])
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
  return joined([
    new TextEncoder().encode('fLaC'),
    metadataBlock(0, streamInfo(info), false),
    ...cues,
    metadataBlock(4, vorbisComment(info), true),
  ])
}

/**
 * Writes a FLAC file piece by piece: first `header`, then the bytes of `encode` for all samples, then those
 * of `finish`; at last `md5` has to be put at `FLAC_MD5_AT`.
 */
export class FlacEncoder {
  private readonly pending: Int32Array[]
  private held = 0
  private index = 0

  private constructor(
    private readonly info: FlacInfo,
    private readonly digest: IHasher,
  ) {
    this.pending = Array.from({ length: info.channels }, () => new Int32Array(BLOCK_FRAMES))
  }

  static async create(info: FlacInfo): Promise<FlacEncoder> {
    return new FlacEncoder(info, (await createMD5()).init())
  }

  /** Everything before the samples. */
  header(): Uint8Array<ArrayBuffer> {
    return flacHeader(this.info)
  }

  /** Takes integer samples, one array a channel, all of one length; returns the bytes that are ready. */
  encode(channels: readonly Int32Array[]): Uint8Array<ArrayBuffer> {
    const parts: Uint8Array[] = []
    const length = channels[0]!.length
    for (let done = 0; done < length;) {
      const take = Math.min(length - done, BLOCK_FRAMES - this.held)
      channels.forEach((samples, c) => this.pending[c]!.set(samples.subarray(done, done + take), this.held))
      this.held += take
      done += take
      if (this.held === BLOCK_FRAMES) parts.push(this.frame())
    }
    return joined(parts)
  }

  /** The bytes of what is left. */
  finish(): Uint8Array<ArrayBuffer> {
    return joined(this.held ? [this.frame()] : [])
  }

  /** The MD5 of all samples; nothing can be encoded after it. */
  md5(): Uint8Array {
    return this.digest.digest('binary')
  }

  private frame(): Uint8Array {
    const block = this.pending.map((samples) => samples.subarray(0, this.held))
    const size = this.info.bitsPerSample / 8
    const raw = new Uint8Array(this.held * block.length * size)
    let at = 0
    for (let i = 0; i < this.held; i++)
      for (const samples of block) for (let b = 0; b < size; b++) raw[at++] = (samples[i]! >> (8 * b)) & 255
    this.digest.update(raw)
    this.held = 0
    return frameBytes(block, this.info.bitsPerSample, this.index++)
  }
}

/** A whole FLAC file in memory. */
export async function flacFile(
  channels: readonly Int32Array[],
  sampleRate: number,
  bitsPerSample: 16 | 24,
): Promise<Uint8Array<ArrayBuffer>> {
  const encoder = await FlacEncoder.create({
    channels: channels.length as 1 | 2,
    sampleRate,
    bitsPerSample,
    frames: channels[0]!.length,
  })
  const bytes = joined([encoder.header(), encoder.encode(channels), encoder.finish()])
  bytes.set(encoder.md5(), FLAC_MD5_AT)
  return bytes
}
