import { joinedBytes } from './bytes'
import { FLAC_BLOCK, type FlacInfo } from './flac-write'
import type { FlacFrames } from './sound-write'

/** What is used of libflacjs, the reference encoder compiled to WebAssembly. */
export interface FlacLibrary {
  isReady(): boolean
  on(event: 'ready', listener: () => void): void
  create_libflac_encoder(
    sampleRate: number,
    channels: number,
    bitsPerSample: number,
    compression: number,
    frames: number,
    verify: boolean,
    blockSize: number,
  ): number
  init_encoder_stream(
    encoder: number,
    write: (bytes: Uint8Array, count: number, samples: number) => void,
    metadata: (info?: { md5sum: string }) => void,
  ): number
  FLAC__stream_encoder_process(encoder: number, channels: readonly Int32Array[], frames: number): boolean
  FLAC__stream_encoder_finish(encoder: number): boolean
  FLAC__stream_encoder_delete(encoder: number): void
}

/** How hard is tried, 0…8: 5 is usual. */
const COMPRESSION = 5

/** Waits until the library can be used; returns what makes the frames of a file. */
export async function framesBy(library: FlacLibrary): Promise<(info: FlacInfo) => FlacFrames> {
  if (!library.isReady()) await new Promise<void>((resolve) => library.on('ready', resolve))
  return (info) => new LibraryFrames(library, info)
}

/** FLAC frames by the library. What it writes before them is left out: the header is our own, with tags and markers. */
class LibraryFrames implements FlacFrames {
  private readonly encoder: number
  private parts: Uint8Array[] = []
  private digest = new Uint8Array(16)

  constructor(
    private readonly library: FlacLibrary,
    { sampleRate, channels, bitsPerSample, frames }: FlacInfo,
  ) {
    this.encoder = library.create_libflac_encoder(
      sampleRate,
      channels,
      bitsPerSample,
      COMPRESSION,
      frames,
      false,
      FLAC_BLOCK,
    )
    const status = library.init_encoder_stream(
      this.encoder,
      (bytes, count, samples) => {
        // Metadata comes with no samples.
        if (samples > 0) this.parts.push(bytes.slice(0, count))
      },
      (info) => {
        if (info) this.digest = Uint8Array.from(info.md5sum.match(/../g)!, (byte) => parseInt(byte, 16))
      },
    )
    if (this.encoder === 0 || status !== 0)
      throw new Error('FLAC of this rate and depth cannot be written here.')
  }

  encode(channels: readonly Int32Array[]): Uint8Array<ArrayBuffer> {
    if (!this.library.FLAC__stream_encoder_process(this.encoder, channels, channels[0]!.length))
      throw new Error('The FLAC encoder stopped.')
    return this.taken()
  }

  finish(): Uint8Array<ArrayBuffer> {
    this.library.FLAC__stream_encoder_finish(this.encoder)
    this.library.FLAC__stream_encoder_delete(this.encoder)
    return this.taken()
  }

  md5(): Uint8Array {
    return this.digest
  }

  private taken(): Uint8Array<ArrayBuffer> {
    const bytes = joinedBytes(this.parts)
    this.parts = []
    return bytes
  }
}
