import { LIMITS } from '../core/model/session'
import type { ByteSource } from './bytes'
import { crc16, crc8 } from './flac-crc'
import { createMD5, type IHasher } from 'hash-wasm'
import { FileError, WrongChecksum } from './failure'
import { id3Size } from './id3'
import type { SoundFile, SoundHead } from './sound'

/*
 * FLAC (RFC 9639), read as a stream: a window of the file that holds one frame at least, decoded frame by
 * frame, each with its two checksums. Section numbers below are those of the RFC.
 */

const damaged = (what: string) => new FileError(`is damaged: ${what}.`)

const text = (bytes: Uint8Array, at: number, length: number) =>
  String.fromCharCode(...bytes.subarray(at, at + length))

/** Whether a file is FLAC, by its first bytes or by those after a tag. */
export async function isFlac(file: ByteSource, head: Uint8Array): Promise<boolean> {
  const at = id3Size(head)
  return text(at ? await file.read(at, at + 4) : head, 0, 4) === 'fLaC'
}

/** What the stream says of itself (8.2). */
interface StreamInfo {
  mostBlockFrames: number
  /** 0 where it is not known. */
  mostFrameBytes: number
  sampleRate: number
  channels: 1 | 2
  bits: number
  /** 0 where it is not known. */
  frames: number
  /** MD5 of the samples in hexadecimal; null where the file tells none. */
  md5: string | null
}

function readStreamInfo(bytes: Uint8Array): StreamInfo {
  if (bytes.length < 34) throw new FileError('ends in the middle of its header.')
  const v = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  const packed = v.getUint32(10)
  const channels = ((packed >> 9) & 7) + 1
  if (channels > 2)
    throw new FileError(
      `has ${channels} channels; mono and stereo files are taken, so split it into those first.`,
    )
  const info = {
    mostBlockFrames: v.getUint16(2),
    mostFrameBytes: (v.getUint8(7) << 16) | v.getUint16(8),
    sampleRate: packed >>> 12,
    channels: channels as 1 | 2,
    bits: ((packed >> 4) & 31) + 1,
    frames: (packed & 15) * 2 ** 32 + v.getUint32(14),
    md5: md5Of(bytes.subarray(18, 34)),
  }
  if (info.sampleRate < LIMITS.sampleRate.min || info.sampleRate > 768_000)
    throw new FileError(
      `says that its sample rate is ${info.sampleRate} Hz; ${LIMITS.sampleRate.min} to 768000 Hz are taken.`,
    )
  if (info.bits < 4) throw damaged(`it says that its samples have ${info.bits} bits`)
  if (info.mostBlockFrames < 16) throw damaged('it says that its blocks are too short')
  if (info.frames > LIMITS.frames)
    throw new FileError(`is too long: ${info.frames} frames; up to ${LIMITS.frames} are taken.`)
  return info
}

/** All zeros say that it was not worked out (8.2). */
const md5Of = (bytes: Uint8Array) =>
  bytes.every((b) => b === 0) ? null : Array.from(bytes, (b) => b.toString(16).padStart(2, '0')).join('')

/** Blocks of metadata that are looked through; files have a handful. */
const MOST_BLOCKS = 10_000

/** Finds the stream's information and where its frames begin. */
async function readMetadata(file: ByteSource): Promise<{ info: StreamInfo; from: number }> {
  let at = id3Size(await file.read(0, 16)) + 4
  let info: StreamInfo | null = null
  for (let n = 0; n < MOST_BLOCKS; n++) {
    const header = await file.read(at, at + 4)
    if (header.length < 4) throw new FileError('ends in the middle of its header.')
    const size = (header[1]! << 16) | (header[2]! << 8) | header[3]!
    if (n === 0) {
      if ((header[0]! & 0x7f) !== 0) throw damaged('it does not say what its samples are')
      info = readStreamInfo(await file.read(at + 4, at + 38))
    }
    at += 4 + size
    if (header[0]! & 0x80) return { info: info!, from: at }
  }
  throw new FileError(`has more than ${MOST_BLOCKS} blocks of metadata; save it anew and import that.`)
}

/** Reads bits from the most significant one on. */
class Bits {
  private bytes: Uint8Array = new Uint8Array(0)
  /** In bits. */
  private at = 0

  from(bytes: Uint8Array, byte: number): void {
    this.bytes = bytes
    this.at = byte * 8
  }
  /** The byte that begins at or after the place. */
  get byte(): number {
    return (this.at + 7) >> 3
  }
  private expect(count: number): void {
    if (this.at + count > this.bytes.length * 8) throw new FileError('is cut off in the middle of its sound.')
  }
  /** The next `count` bits (0 to 33) as a number from 0. */
  unsigned(count: number): number {
    this.expect(count)
    const { bytes, at } = this
    // With up to seven bits before them, so many fit into a word; shifting by 32 would shift by nothing.
    if (count > 0 && count <= 25) {
      const i = at >> 3
      const word = (bytes[i]! << 24) | (bytes[i + 1]! << 16) | (bytes[i + 2]! << 8) | bytes[i + 3]!
      this.at += count
      return (word << (at & 7)) >>> (32 - count)
    }
    let value = 0
    for (let left = count; left > 0;) {
      const offset = this.at & 7
      const take = Math.min(8 - offset, left)
      const part = (this.bytes[this.at >> 3]! >> (8 - offset - take)) & ((1 << take) - 1)
      value = value * (1 << take) + part
      this.at += take
      left -= take
    }
    return value
  }
  /** The next `count` bits as a number with a sign, in two's complement. */
  signed(count: number): number {
    const value = this.unsigned(count)
    return count > 0 && value >= 2 ** (count - 1) ? value - 2 ** count : value
  }
  /** How many zeros come before the next one, which is taken, too. */
  zeros(): number {
    let zeros = 0
    for (;;) {
      this.expect(1)
      const offset = this.at & 7
      const rest = (this.bytes[this.at >> 3]! << offset) & 0xff
      if (rest === 0) {
        zeros += 8 - offset
        this.at += 8 - offset
      } else {
        const lead = Math.clz32(rest) - 24
        this.at += lead + 1
        return zeros + lead
      }
    }
  }
  align(): void {
    this.at = this.byte * 8
  }
}

/** What the head of a frame says (9.1). */
interface FrameHead {
  frames: number
  /** Whether `number` counts samples, and not frames (9.1.5). */
  variable: boolean
  number: number
  /** 0 to 7: independent channels; 8: left and side; 9: side and right; 10: middle and side. */
  assignment: number
}

/** Block sizes by their codes (9.1.1); null where the size follows in one or two bytes. */
const blockFrames = (code: number): number | null | undefined =>
  code === 1
    ? 192
    : code >= 2 && code <= 5
      ? 144 * 2 ** code
      : code === 6 || code === 7
        ? null
        : code >= 8
          ? 2 ** code
          : undefined

/** Depths by their codes (9.1.4); 0 is that of the stream. */
const DEPTHS = [0, 8, 12, undefined, 16, 20, 24, 32]

function readFrameHead(bits: Bits, window: Uint8Array, start: number, info: StreamInfo): FrameHead {
  if (bits.unsigned(15) !== 0x7ffc) throw damaged('a frame of it is not where it should be')
  const variable = bits.unsigned(1) === 1
  const blockCode = bits.unsigned(4)
  const rateCode = bits.unsigned(4)
  const assignment = bits.unsigned(4)
  const depth = DEPTHS[bits.unsigned(3)]
  if (bits.unsigned(1) !== 0 || depth === undefined || rateCode === 15)
    throw damaged('a frame makes no sense')
  // The number of the frame, coded as UTF-8 codes characters.
  const first = bits.unsigned(8)
  const lead = Math.clz32((first ^ 0xff) << 24)
  if (lead === 1 || lead === 8) throw damaged('a frame makes no sense')
  let number = lead === 0 ? first : first & (0x7f >> lead)
  for (let i = 1; i < lead; i++) {
    const more = bits.unsigned(8)
    if (more >> 6 !== 2) throw damaged('a frame makes no sense')
    number = number * 64 + (more & 63)
  }
  const coded = blockFrames(blockCode)
  if (coded === undefined) throw damaged('a frame makes no sense')
  const frames = coded ?? bits.unsigned(blockCode === 6 ? 8 : 16) + 1
  if (rateCode >= 12) bits.unsigned(rateCode === 12 ? 8 : 16)
  const sum = crc8(window, start, bits.byte)
  if (bits.unsigned(8) !== sum) throw damaged('the head of a frame has another checksum')
  if (frames > info.mostBlockFrames) throw damaged('a frame is longer than any should be')
  const channels = assignment < 8 ? assignment + 1 : 2
  if (assignment > 10 || channels !== info.channels) throw damaged('its number of channels changes')
  if (depth !== 0 && depth !== info.bits) throw damaged('the depth of its samples changes')
  return { frames, variable, number, assignment }
}

/** Coefficients of the fixed predictors by their orders (9.2.5). */
const FIXED: readonly (readonly number[])[] = [[], [1], [2, -1], [3, -3, 1], [4, -6, 4, -1]]

/** Adds the prediction from the samples before to each residual (9.2.5, 9.2.6); `shift` divides it. */
function predict(out: Float64Array, count: number, coefficients: readonly number[], shift: number): void {
  const order = coefficients.length
  const scale = 2 ** shift
  for (let i = order; i < count; i++) {
    let sum = 0
    for (let k = 0; k < order; k++) sum += coefficients[k]! * out[i - 1 - k]!
    out[i] = out[i]! + Math.floor(sum / scale)
  }
}

/** Reads the residuals after the first `order` samples (9.2.7). */
function readResiduals(bits: Bits, out: Float64Array, count: number, order: number): void {
  const method = bits.unsigned(2)
  if (method > 1) throw damaged('its samples are coded in an unknown way')
  const parameterBits = method === 0 ? 4 : 5
  const partitionOrder = bits.unsigned(4)
  const partitions = 2 ** partitionOrder
  const each = count / partitions
  if (!Number.isInteger(each) || each < order) throw damaged('a frame makes no sense')
  for (let p = 0, i = order; p < partitions; p++) {
    const end = (p + 1) * each
    const parameter = bits.unsigned(parameterBits)
    if (parameter === 2 ** parameterBits - 1) {
      const plain = bits.unsigned(5)
      for (; i < end; i++) out[i] = bits.signed(plain)
      continue
    }
    const scale = 2 ** parameter
    for (; i < end; i++) {
      const folded = bits.zeros() * scale + bits.unsigned(parameter)
      out[i] = folded % 2 ? -(folded + 1) / 2 : folded / 2
    }
  }
}

/** Reads the samples of a channel of a frame (9.2); `depth` is one bit more for the side channel. Returns whether they are all the same. */
function readSubframe(bits: Bits, out: Float64Array, count: number, depth: number): boolean {
  if (bits.unsigned(1) !== 0) throw damaged('a frame makes no sense')
  const type = bits.unsigned(6)
  const wasted = bits.unsigned(1) ? bits.zeros() + 1 : 0
  const size = depth - wasted
  if (size < 1) throw damaged('a frame makes no sense')
  if (type === 0) out.fill(bits.signed(size), 0, count)
  else if (type === 1) for (let i = 0; i < count; i++) out[i] = bits.signed(size)
  else {
    const fixed = type >= 8 && type <= 12
    if (!fixed && type < 32) throw damaged('its samples are coded in an unknown way')
    const order = fixed ? type - 8 : type - 31
    if (order > count) throw damaged('a frame makes no sense')
    for (let i = 0; i < order; i++) out[i] = bits.signed(size)
    let [coefficients, shift] = [FIXED[order] ?? [], 0]
    if (!fixed) {
      const precision = bits.unsigned(4) + 1
      if (precision === 16) throw damaged('a frame makes no sense')
      shift = bits.signed(5)
      if (shift < 0) throw damaged('a frame makes no sense')
      coefficients = Array.from({ length: order }, () => bits.signed(precision))
    }
    readResiduals(bits, out, count, order)
    predict(out, count, coefficients, shift)
  }
  if (wasted) for (let i = 0; i < count; i++) out[i] = out[i]! * 2 ** wasted
  return type === 0
}

/** Makes left and right of two channels that were stored by their difference (9.1.3). */
function undoStereo(a: Float64Array, b: Float64Array, count: number, assignment: number): void {
  for (let i = 0; i < count; i++) {
    const [x, y] = [a[i]!, b[i]!]
    if (assignment === 8) b[i] = x - y
    else if (assignment === 9) a[i] = x + y
    else {
      // The middle lost its last bit, which is that of the side.
      const middle = 2 * x + (Math.abs(y) % 2)
      a[i] = (middle + y) / 2
      b[i] = (middle - y) / 2
    }
  }
}

/** Throws where a channel has samples that are larger than its depth can hold, or no numbers. */
function checkRange(samples: Float64Array, count: number, depth: number): void {
  const [min, max] = [-(2 ** (depth - 1)), 2 ** (depth - 1) - 1]
  for (let i = 0; i < count; i++)
    if (!(samples[i]! >= min && samples[i]! <= max))
      throw damaged(`it holds samples that ${depth} bits cannot`)
}

/** Checks that frames come one after another. The first may have any number: some streams were cut out of longer ones. */
class FrameOrder {
  private first: FrameHead | null = null
  private frames = 0
  private samples = 0

  next(head: FrameHead): void {
    const { variable, number } = (this.first ??= head)
    if (head.variable !== variable || head.number !== number + (variable ? this.samples : this.frames))
      throw damaged('its frames are not in their order')
    this.frames++
    this.samples += head.frames
  }
}

/** Writes the samples of a channel as whole numbers of 1 to 4 bytes, the lowest first, each `step` bytes after the one before. */
function packSide(
  side: Float64Array,
  count: number,
  into: Uint8Array,
  first: number,
  step: number,
  bytes: number,
): void {
  for (let i = 0, at = first; i < count; i++, at += step) {
    const x = side[i]! | 0
    into[at] = x
    if (bytes > 1) into[at + 1] = x >> 8
    if (bytes > 2) into[at + 2] = x >> 16
    if (bytes > 3) into[at + 3] = x >> 24
  }
}

/** MD5 of samples as the format takes it: interleaved, each in whole bytes, the lowest first (8.2). */
class SamplesMd5 {
  private packed = new Uint8Array(0)

  private constructor(
    private readonly hash: IHasher,
    private readonly bytes: number,
  ) {}

  static async begin({ bits }: StreamInfo): Promise<SamplesMd5> {
    return new SamplesMd5((await createMD5()).init(), Math.ceil(bits / 8))
  }

  add({ samples, count, steady }: DecodedFrame): void {
    const { bytes } = this
    const step = bytes * samples.length
    const size = count * step
    if (this.packed.length < size) this.packed = new Uint8Array(size)
    const { packed } = this
    for (const [c, side] of samples.entries())
      packSide(side, steady ? 1 : count, packed, c * bytes, step, bytes)
    if (steady)
      for (let done = step; done < size; done *= 2) packed.copyWithin(done, 0, Math.min(done, size - done))
    this.hash.update(packed.subarray(0, size))
  }

  hex(): string {
    return this.hash.digest('hex')
  }
}

/** Bytes that are read at a time. */
const PAGE = 1 << 20

/** A decoded frame; `samples` are whole numbers, one array a channel, valid until the next frame. */
interface DecodedFrame {
  samples: Float64Array[]
  count: number
  /** Whether all samples of each channel are the same, as in silence. */
  steady: boolean
}

/** Decodes frames one after another. */
async function* decodedFrames(
  file: ByteSource,
  info: StreamInfo,
  from: number,
): AsyncGenerator<DecodedFrame> {
  // Stored as they are, with some room for the heads, frames are largest.
  const most = Math.max(
    info.mostFrameBytes,
    Math.ceil((info.mostBlockFrames * info.channels * (info.bits + 1)) / 8) + 64,
  )
  const samples = Array.from({ length: info.channels }, () => new Float64Array(info.mostBlockFrames))
  const bits = new Bits()
  const order = new FrameOrder()
  let window: Uint8Array = new Uint8Array(0)
  /** The next frame's place in the window, and the window's end in the file. */
  let at = 0
  let end = from
  for (;;) {
    if (window.length - at < most && end < file.size) {
      const more = await file.read(end, Math.min(file.size, end + Math.max(PAGE, most)))
      end += more.length
      const joined = new Uint8Array(window.length - at + more.length)
      joined.set(window.subarray(at))
      joined.set(more, window.length - at)
      window = joined
      at = 0
    }
    // What is left after the last frame may be a tag of another format.
    if (window.length - at < 2 || window[at] !== 0xff || (window[at + 1]! & 0xfe) !== 0xf8) {
      if (window.length - at > 2 && text(window, at, 3) !== 'TAG')
        throw damaged('a frame of it is not where it should be')
      return
    }
    bits.from(window, at)
    const head = readFrameHead(bits, window, at, info)
    let steady = true
    for (let c = 0; c < info.channels; c++) {
      const side = head.assignment === 9 ? c === 0 : head.assignment >= 8 && c === 1
      if (!readSubframe(bits, samples[c]!, head.frames, info.bits + (side ? 1 : 0))) steady = false
    }
    bits.align()
    const sum = crc16(window, at, bits.byte)
    if (bits.unsigned(16) !== sum) throw damaged('a frame of it has another checksum')
    at = bits.byte
    if (head.assignment >= 8) undoStereo(samples[0]!, samples[1]!, head.frames, head.assignment)
    order.next(head)
    for (const side of samples) checkRange(side, steady ? 1 : head.frames, info.bits)
    yield { samples, count: head.frames, steady }
  }
}

const formatOf = ({ bits }: StreamInfo) => `${bits}-bit FLAC`

/** What a FLAC file says of itself. Throws `FileError`. */
export async function flacHead(file: ByteSource): Promise<SoundHead> {
  const { info } = await readMetadata(file)
  return { ...info, format: formatOf(info), timeReference: null }
}

/** The samples `from` ≤ i < `to` divided by full scale; `steady` where all are the same. */
function scaled(
  samples: Float64Array,
  from: number,
  to: number,
  fullScale: number,
  steady: boolean,
): Float32Array {
  const out = new Float32Array(to - from)
  if (steady) return out.fill(samples[from]! / fullScale)
  // Full scale is a power of two: the product is the quotient, to the bit.
  const scale = 1 / fullScale
  for (let i = from; i < to; i++) out[i - from] = samples[i]! * scale
  return out
}

/**
 * Opens a FLAC file. Throws `FileError` with a sentence for what cannot be read, and `WrongChecksum` at its end where its samples are
 * not those that its MD5 is of, unless that `takesWrongSum`.
 */
export async function openFlac(file: ByteSource, takesWrongSum = false): Promise<SoundFile> {
  const { info, from } = await readMetadata(file)
  let { frames } = info
  // A stream that was written without knowing its length is gone through once to find it.
  if (frames === 0)
    for await (const { count } of decodedFrames(file, info, from)) {
      frames += count
      if (frames > LIMITS.frames) throw new FileError(`is too long: up to ${LIMITS.frames} frames are taken.`)
    }
  if (frames === 0) throw new FileError('holds no sound: it has 0 frames.')
  const fullScale = 2 ** (info.bits - 1)
  return {
    channels: info.channels,
    sampleRate: info.sampleRate,
    frames,
    format: formatOf(info),
    cues: [],
    timeReference: null,
    async *blocks(most) {
      let done = 0
      const md5 = info.md5 === null || takesWrongSum ? null : await SamplesMd5.begin(info)
      for await (const frame of decodedFrames(file, info, from)) {
        const { samples, count, steady } = frame
        if (done + count > frames) throw damaged(`it holds more than the ${frames} frames that it announces`)
        md5?.add(frame)
        for (let at = 0; at < count; at += most)
          yield samples.map((x) => scaled(x, at, Math.min(count, at + most), fullScale, steady))
        done += count
      }
      if (done < frames)
        throw new FileError(
          `is cut off: its header announces ${frames} frames of sound, and ${done} are there.`,
        )
      if (md5 && md5.hex() !== info.md5) throw new WrongChecksum()
    },
  }
}
