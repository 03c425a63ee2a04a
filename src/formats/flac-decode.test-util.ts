import { createHash } from 'node:crypto'

function readComments(body: Buffer): string[] {
  let at = 4 + body.readUInt32LE(0)
  const count = body.readUInt32LE(at)
  at += 4
  const lines = Array.from({ length: count }, () => {
    const length = body.readUInt32LE(at)
    at += 4 + length
    return body.toString('utf8', at - length, at)
  })
  if (at !== body.length) throw new Error('comments of another length')
  return lines
}

function readCueSheet(body: Buffer): number[] {
  let at = 128 + 8 + 1 + 258
  const count = body[at++]!
  const offsets = Array.from({ length: count }, () => {
    const offset = Number(body.readBigUInt64BE(at))
    const points = body[at + 8 + 1 + 12 + 1 + 13]!
    at += 8 + 1 + 12 + 1 + 13 + 1 + points * 12
    return offset
  })
  if (at !== body.length) throw new Error('a cue sheet of another length')
  return offsets
}

/** What a FLAC file says and holds; `cues` are the offsets of its cue sheet, the one that ends it included. */
export interface DecodedFlac {
  sampleRate: number
  bits: number
  channels: Int32Array[]
  comments: string[]
  cues: number[]
}

/**
 * A small FLAC decoder for tests: constant and fixed subframes, one Rice partition, MD5 checked, comments and cue sheet
 * read. Written from RFC 9639.
 */
export function decodeFlac(file: Uint8Array): DecodedFlac {
  let at = 0
  const bits = (count: number): number => {
    let value = 0
    for (let i = 0; i < count; i++, at++) value = value * 2 + ((file[at >> 3]! >> (7 - (at & 7))) & 1)
    return value
  }
  const signed = (count: number) => {
    const value = bits(count)
    return value >= 2 ** (count - 1) ? value - 2 ** count : value
  }
  if (String.fromCharCode(bits(8), bits(8), bits(8), bits(8)) !== 'fLaC') throw new Error('no FLAC stream')
  let last = bits(1) === 1
  if (bits(7) !== 0 || bits(24) !== 34) throw new Error('no stream info')
  at += 16 + 16 + 24 + 24
  const sampleRate = bits(20)
  const count = bits(3) + 1
  const size = bits(5) + 1
  const total = bits(36)
  const digest = file.slice(at >> 3, (at >> 3) + 16)
  at += 128
  let comments: string[] = []
  let cues: number[] = []
  while (!last) {
    last = bits(1) === 1
    const type = bits(7)
    const length = bits(24)
    const body = Buffer.from(file.slice(at >> 3, (at >> 3) + length))
    if (type === 4) comments = readComments(body)
    if (type === 5) cues = readCueSheet(body)
    at += length * 8
  }
  const channels = Array.from({ length: count }, () => new Int32Array(total))
  for (let done = 0; done < total;) {
    if (bits(16) !== 0xfff8) throw new Error('lost the frames')
    const lengthCode = bits(4)
    bits(4)
    if (bits(4) !== count - 1 || bits(3) !== (size === 16 ? 4 : 6) || bits(1) !== 0)
      throw new Error('unexpected frame header')
    for (let lead = bits(8); lead >= 0xc0 && lead & 0x40; lead = (lead << 1) & 0xff) bits(8)
    const length = lengthCode === 12 ? 4096 : bits(16) + 1
    bits(8)
    for (const channel of channels) subframe(channel.subarray(done, done + length))
    at = Math.ceil(at / 8) * 8 + 16
    done += length
  }
  function subframe(out: Int32Array): void {
    const type = bits(8) >> 1
    if (type === 0) return void out.fill(signed(size))
    const order = type - 8
    for (let i = 0; i < order; i++) out[i] = signed(size)
    if (bits(2) !== 1 || bits(4) !== 0) throw new Error('unexpected residual coding')
    const rice = bits(5)
    for (let i = order; i < out.length; i++) {
      let high = 0
      while (bits(1) === 0) high++
      const folded = high * 2 ** rice + bits(rice)
      const r = folded % 2 ? -(folded + 1) / 2 : folded / 2
      const [a, b, c, d] = [out[i - 1] ?? 0, out[i - 2] ?? 0, out[i - 3] ?? 0, out[i - 4] ?? 0]
      out[i] = r + [0, a, 2 * a - b, 3 * a - 3 * b + c, 4 * a - 6 * b + 4 * c - d][order]!
    }
  }
  const raw = new Uint8Array((total * count * size) / 8)
  let byte = 0
  for (let i = 0; i < total; i++)
    for (const channel of channels) for (let b = 0; b < size; b += 8) raw[byte++] = (channel[i]! >> b) & 255
  if (
    createHash('md5')
      .update(raw)
      .digest()
      .some((x, i) => x !== digest[i])
  )
    throw new Error('the MD5 is another')
  return { sampleRate, bits: size, channels, comments, cues }
}
