import { crc16, crc8 } from './flac-crc'

/** Bits as text, the first the most significant. */
const bits = (value: number, count: number) =>
  (value < 0 ? value + 2 ** count : value).toString(2).padStart(count, '0').slice(-count)

const bytesFrom = (text: string): number[] =>
  (text.padEnd(Math.ceil(text.length / 8) * 8, '0').match(/.{8}/g) ?? []).map((byte) => parseInt(byte, 2))

/** How the head of a frame codes its number (RFC 9639, 9.1.5), up to 65535. */
const coded = (n: number): number[] =>
  n < 128
    ? [n]
    : n < 2048
      ? [0xc0 | (n >> 6), 0x80 | (n & 63)]
      : [0xe0 | (n >> 12), 0x80 | ((n >> 6) & 63), 0x80 | (n & 63)]

/** A subframe of one value. */
export const constant = (value: number, depth: number): string => bits(0, 8) + bits(value, depth)

/** A subframe that begins with a value and goes on by residuals, each the difference from the sample before. */
export function differences(first: number, residuals: readonly number[], depth: number): string {
  // The fixed predictor of order 1; one partition of residuals of 20 bits as they are.
  const plain = residuals.map((r) => bits(r, 20)).join('')
  return (
    bits((8 + 1) << 1, 8) + bits(first, depth) + bits(0, 2) + bits(0, 4) + bits(15, 4) + bits(20, 5) + plain
  )
}

/** A frame of subframes, one a channel, with right checksums. */
export function frame(number: number, frames: number, subframes: readonly string[]): number[] {
  const head = [0xff, 0xf8, 0x70, (subframes.length - 1) << 4, ...coded(number)]
  head.push((frames - 1) >> 8, (frames - 1) & 255)
  head.push(crc8(Uint8Array.from(head), 0, head.length))
  const body = [...head, ...bytesFrom(subframes.join(''))]
  const sum = crc16(Uint8Array.from(body), 0, body.length)
  return [...body, sum >> 8, sum & 255]
}

/** A file of frames, with what its head says of it. */
export function flacOf(
  frames: readonly (readonly number[])[],
  info: {
    block: number
    frames: number
    channels: 1 | 2
    depth: number
    rate?: number
    md5?: readonly number[]
  },
): Uint8Array {
  const { block, channels, depth, rate = 48_000, md5 = Array<number>(16).fill(0) } = info
  const head =
    bits(0x664c6143, 32) + bits(0x80, 8) + bits(34, 24) + bits(block, 16) + bits(block, 16) + bits(0, 48)
  const stream = bits(rate, 20) + bits(channels - 1, 3) + bits(depth - 1, 5) + bits(info.frames, 36)
  return Buffer.concat([
    Buffer.from([...bytesFrom(head + stream), ...md5]),
    ...frames.map((f) => Buffer.from(f)),
  ])
}
