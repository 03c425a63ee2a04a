import { createSHA256, type IHasher } from 'hash-wasm'

/** Hash of sound given block by block: SHA-256 of the samples as 32-bit little-endian floats, interleaved. */
export class SamplesHash {
  private constructor(private readonly hash: IHasher) {}

  static async begin(): Promise<SamplesHash> {
    return new SamplesHash((await createSHA256()).init())
  }

  /** Takes the next block, one array a channel. */
  add(channels: readonly Float32Array[]): void {
    this.hash.update(interleavedBytes(channels))
  }

  /** The hash in hexadecimal; nothing can be added after it. */
  hex(): string {
    return this.hash.digest('hex')
  }
}

const littleEndian = new Uint8Array(new Uint16Array([1]).buffer)[0] === 1

/** Samples as interleaved little-endian floats; those of one channel may be the very bytes given. */
export function interleavedBytes(channels: readonly Float32Array[]): Uint8Array {
  const [first, second] = channels
  let samples = first!
  if (second) {
    samples = new Float32Array(first!.length * 2)
    for (let i = 0; i < first!.length; i++) {
      samples[2 * i] = first![i]!
      samples[2 * i + 1] = second[i]!
    }
  }
  if (littleEndian) return new Uint8Array(samples.buffer, samples.byteOffset, samples.byteLength)
  const bytes = new Uint8Array(samples.length * 4)
  const v = new DataView(bytes.buffer)
  samples.forEach((x, i) => v.setFloat32(i * 4, x, true))
  return bytes
}
