/** Bytes that can be read in any order without being in memory as a whole: a browser's Blob, a file in Node, or a buffer. */
export interface ByteSource {
  readonly size: number
  /** The bytes `from` ≤ i < `to`; fewer where the source ends earlier. */
  read(from: number, to: number): Promise<Uint8Array>
}

/** A buffer as a byte source. */
export function bytesOf(buffer: Uint8Array): ByteSource {
  return { size: buffer.length, read: async (from, to) => buffer.subarray(from, Math.min(to, buffer.length)) }
}

/** A Blob or File as a byte source. */
export function blobBytes(blob: Blob): ByteSource {
  return {
    size: blob.size,
    read: async (from, to) => new Uint8Array(await blob.slice(from, to).arrayBuffer()),
  }
}
