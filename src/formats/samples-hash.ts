import { sha256 } from '@noble/hashes/sha2.js'
import { bytesToHex } from '@noble/hashes/utils.js'

/** Hash of sound given block by block: SHA-256 of the samples as 32-bit little-endian floats, interleaved. */
export class SamplesHash {
  private readonly hash = sha256.create()

  /** Takes the next block, one array a channel. */
  add(channels: readonly Float32Array[]): void {
    this.hash.update(interleavedBytes(channels))
  }

  /** The hash in hexadecimal; nothing can be added after it. */
  hex(): string {
    return bytesToHex(this.hash.digest())
  }
}

/** Samples as interleaved little-endian floats. */
export function interleavedBytes(channels: readonly Float32Array[]): Uint8Array<ArrayBuffer> {
  const frames = channels[0]!.length
  const bytes = new Uint8Array(frames * channels.length * 4)
  const v = new DataView(bytes.buffer)
  let at = 0
  for (let i = 0; i < frames; i++) for (const channel of channels) {
    v.setFloat32(at, channel[i]!, true)
    at += 4
  }
  return bytes
}
