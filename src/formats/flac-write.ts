import { md5 } from '@noble/hashes/legacy.js'

/** A FLAC stream (RFC 9639) of 16 or 24-bit integers: fixed predictors, Rice coded residuals, blocks of 4096 frames. */
const BLOCK = 4096

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

const crcTable = (polynomial: number, width: 8 | 16) =>
  Uint16Array.from({ length: 256 }, (_, n) => {
    let crc = n << (width - 8)
    for (let k = 0; k < 8; k++)
      crc =
        crc & (1 << (width - 1))
          ? ((crc << 1) ^ polynomial) & (2 ** width - 1)
          : (crc << 1) & (2 ** width - 1)
    return crc
  })
const CRC8 = crcTable(0x07, 8)
const CRC16 = crcTable(0x8005, 16)
const crc8 = (bytes: Uint8Array) => bytes.reduce((crc, byte) => CRC8[crc ^ byte]!, 0)
const crc16 = (bytes: Uint8Array) =>
  bytes.reduce((crc, byte) => ((crc << 8) & 0xffff) ^ CRC16[(crc >>> 8) ^ byte]!, 0)

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
  const rice = Math.min(30, Math.max(0, Math.round(Math.log2(mean + 0.5))))
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
  out.bits(frames === BLOCK ? 12 : 7, 4)
  out.bits(0, 4)
  out.bits(channels.length - 1, 4)
  out.bits(bitsPerSample === 16 ? 4 : 6, 3)
  out.bits(0, 1)
  utf8Number(out, index)
  if (frames !== BLOCK) out.bits(frames - 1, 16)
  out.bits(crc8(out.view()), 8)
  for (const samples of channels) writeSubframe(out, samples, bitsPerSample)
  out.align()
  out.bits(crc16(out.view()), 16)
  return out.view().slice()
}

/** A FLAC file of integer samples, one array a channel, all of one length. `sampleRate` in Hz, at most 655350. */
export function flacFile(
  channels: readonly Int32Array[],
  sampleRate: number,
  bitsPerSample: 16 | 24,
): Uint8Array<ArrayBuffer> {
  const frames = channels[0]!.length
  const size = bitsPerSample / 8
  const digest = md5.create()
  const parts: Uint8Array[] = []
  for (let from = 0, index = 0; from < frames; from += BLOCK, index++) {
    const block = channels.map((samples) => samples.subarray(from, from + BLOCK))
    const raw = new Uint8Array(block[0]!.length * block.length * size)
    let at = 0
    for (let i = 0; i < block[0]!.length; i++)
      for (const samples of block) for (let b = 0; b < size; b++) raw[at++] = (samples[i]! >> (8 * b)) & 255
    digest.update(raw)
    parts.push(frameBytes(block, bitsPerSample, index))
  }
  const head = new BitWriter()
  for (const letter of 'fLaC') head.bits(letter.charCodeAt(0), 8)
  head.bits(0x80, 8)
  head.bits(34, 24)
  head.bits(BLOCK, 16)
  head.bits(BLOCK, 16)
  head.bits(0, 24)
  head.bits(0, 24)
  head.bits(sampleRate, 20)
  head.bits(channels.length - 1, 3)
  head.bits(bitsPerSample - 1, 5)
  head.bits(frames, 36)
  const all = [head.view().slice(), digest.digest(), ...parts]
  const bytes = new Uint8Array(all.reduce((sum, part) => sum + part.length, 0))
  let at = 0
  for (const part of all) {
    bytes.set(part, at)
    at += part.length
  }
  return bytes
}
