import { plainQuantiser, tpdfQuantiser } from '../core/dsp/dither'
import { FileError } from './failure'

/*
 * AIFF (Audio Interchange File Format 1.3): big-endian chunks COMM, MARK, NAME and SSND, integers of 16 or 24 bits.
 */

/** What goes into the header. */
export interface AiffInfo {
  bitsPerSample: 16 | 24
  channels: 1 | 2
  sampleRate: number
  frames: number
  title: string
  /** Seed of the dither; null rounds without it. */
  seed: number | null
  /** Markers, frames counted from the start of the file. */
  cues: readonly { frame: number; name: string }[]
}

/** The largest file whose sizes fit into the header. */
const MOST_BYTES = 0xffffffff

/** The longest text that is kept, in bytes: its length stands in one. */
const MOST_TEXT = 255

/** A number as an 80-bit float (IEEE 754 extended precision), for whole numbers from 1 on. */
function extended(value: number): number[] {
  const exponent = Math.floor(Math.log2(value))
  const mantissa = BigInt(value) << BigInt(63 - exponent)
  const bytes = [(16383 + exponent) >> 8, (16383 + exponent) & 255]
  for (let i = 7; i >= 0; i--) bytes.push(Number((mantissa >> BigInt(8 * i)) & 255n))
  return bytes
}

const u16 = (n: number) => [(n >> 8) & 255, n & 255]
const u32 = (n: number) => [...u16(Math.floor(n / 65536)), ...u16(n % 65536)]

function chunk(id: string, body: readonly number[]): number[] {
  return [...new TextEncoder().encode(id), ...u32(body.length), ...body, ...(body.length % 2 ? [0] : [])]
}

/** A text with its length before it, and an even number of bytes together. */
function counted(text: string): number[] {
  const bytes = new Uint8Array(MOST_TEXT)
  const { written } = new TextEncoder().encodeInto(text, bytes)
  const out = [written, ...bytes.subarray(0, written)]
  return out.length % 2 ? [...out, 0] : out
}

/** Everything of an AIFF file before its samples. Throws a `FileError` for more than 4 GB. */
export function aiffHeader({
  bitsPerSample,
  channels,
  sampleRate,
  frames,
  title,
  cues,
}: AiffInfo): Uint8Array<ArrayBuffer> {
  const data = (frames * channels * bitsPerSample) / 8
  const common = [...u16(channels), ...u32(frames), ...u16(bitsPerSample), ...extended(sampleRate)]
  const name = [...new TextEncoder().encode(title)].slice(0, 1000)
  const marks = cues.flatMap(({ frame, name: mark }, i) => [...u16(i + 1), ...u32(frame), ...counted(mark)])
  const before = [
    ...chunk('COMM', common),
    ...(name.length ? chunk('NAME', name) : []),
    ...(cues.length ? chunk('MARK', [...u16(cues.length), ...marks]) : []),
  ]
  const size = 4 + before.length + 16 + data + (data % 2)
  if (size > MOST_BYTES) throw new FileError('is over the 4 GB that AIFF can hold; choose WAV, which can.')
  const tag = (text: string) => [...new TextEncoder().encode(text)]
  return Uint8Array.from([
    ...tag('FORM'),
    ...u32(size),
    ...tag('AIFF'),
    ...before,
    ...tag('SSND'),
    ...u32(data + 8),
    ...u32(0),
    ...u32(0),
  ])
}

/** Turns rendered blocks into the bytes that follow the header, and counts what did not fit. */
export class AiffEncoder {
  private readonly quantiser
  private bytes = 0

  constructor(private readonly info: AiffInfo) {
    const { bitsPerSample, seed } = info
    this.quantiser = seed === null ? plainQuantiser(bitsPerSample) : tpdfQuantiser(bitsPerSample, seed)
  }

  /** Samples over full scale so far, which were limited. */
  get clipped(): number {
    return this.quantiser.clipped
  }

  /** The bytes of one block, one array a channel. */
  encode(channels: readonly Float32Array[]): Uint8Array<ArrayBuffer> {
    const size = this.info.bitsPerSample / 8
    const frames = channels[0]!.length
    const out = new Uint8Array(frames * channels.length * size)
    let at = 0
    for (let i = 0; i < frames; i++)
      for (const samples of channels) {
        const n = this.quantiser.next(samples[i]!)
        if (size === 3) out[at++] = (n >> 16) & 255
        out[at++] = (n >> 8) & 255
        out[at++] = n & 255
      }
    this.bytes += out.length
    return out
  }

  /** The pad byte that an odd amount of data needs. */
  finish(): Uint8Array<ArrayBuffer> {
    return new Uint8Array(this.bytes % 2)
  }
}
