import { createMD5, type IHasher } from 'hash-wasm'
import { clamp } from '../core/units/clamp'
import { crc16, crc8 } from './flac-crc'
import { BitWriter } from './bit-writer'
import { joinedBytes } from './bytes'
import { FLAC_BLOCK, FLAC_MD5_AT, flacHeader, type FlacInfo } from './flac-write'

/*
 * A FLAC encoder that shares no code with the one that files are written by: fixed predictors, Rice coded residuals, 16 or 24 bit.
 */

const BLOCK_FRAMES = FLAC_BLOCK

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
    return joinedBytes(parts)
  }

  /** The bytes of what is left. */
  finish(): Uint8Array<ArrayBuffer> {
    return joinedBytes(this.held ? [this.frame()] : [])
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
  const bytes = joinedBytes([encoder.header(), encoder.encode(channels), encoder.finish()])
  bytes.set(encoder.md5(), FLAC_MD5_AT)
  return bytes
}
