import { md5 } from '@noble/hashes/legacy.js'

/** A small FLAC decoder for tests: constant and fixed subframes, one Rice partition, MD5 checked. Written from RFC 9639. */
export function decodeFlac(file: Uint8Array): { sampleRate: number; bits: number; channels: Int32Array[] } {
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
  if (bits(8) !== 0x80 || bits(24) !== 34) throw new Error('no stream info')
  at += 16 + 16 + 24 + 24
  const sampleRate = bits(20)
  const count = bits(3) + 1
  const size = bits(5) + 1
  const total = bits(36)
  const digest = file.slice(at >> 3, (at >> 3) + 16)
  at += 128
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
  if (md5(raw).some((x, i) => x !== digest[i])) throw new Error('the MD5 is another')
  return { sampleRate, bits: size, channels }
}
