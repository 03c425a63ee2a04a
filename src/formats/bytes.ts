/**
 * Bytes that can be read in any order without being in memory as a whole: a browser's Blob, a file in Node,
 * or a buffer.
 */
export interface ByteSource {
  readonly size: number
  /** Set where each read must begin no earlier than the one before, as in something that is unpacked meanwhile. */
  readonly forwardOnly?: boolean
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

/** Bytes that are read ahead by `pagedBytes`. */
const PAGE = 1 << 16

/** A byte source that reads ahead, for many small reads one after the other; large ones go through as they are. */
export function pagedBytes(source: ByteSource): ByteSource {
  let page = new Uint8Array(0)
  let start = 0
  return {
    size: source.size,
    async read(from, to) {
      if (to - from > PAGE) return source.read(from, to)
      if (from < start || to > start + page.length) {
        page = (await source.read(from, Math.min(source.size, from + PAGE))) as Uint8Array<ArrayBuffer>
        start = from
      }
      return page.subarray(from - start, Math.max(from, to) - start)
    },
  }
}

/** The part `from` ≤ i < `to` of a byte source as one of its own. */
export const partOf = (source: ByteSource, from: number, to: number): ByteSource => ({
  size: to - from,
  read: (a, b) => source.read(from + a, Math.min(from + b, to)),
})

/** Bytes one after another. */
export function joinedBytes(parts: readonly Uint8Array[]): Uint8Array<ArrayBuffer> {
  const bytes = new Uint8Array(parts.reduce((sum, part) => sum + part.length, 0))
  let at = 0
  for (const part of parts) {
    bytes.set(part, at)
    at += part.length
  }
  return bytes
}
