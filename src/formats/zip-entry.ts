import type { FileEntry } from '@zip.js/zip.js/index-native.js'
import { partOf, type ByteSource } from './bytes'
import { FileError } from './failure'
import type { ZipEntry } from './zip-directory'

const LOCAL = 0x04034b50

/** Where the bytes of an entry lie in the archive. */
async function dataOf(archive: ByteSource, entry: ZipEntry): Promise<ByteSource> {
  const header = await archive.read(entry.headerAt, entry.headerAt + 30)
  const v = new DataView(header.buffer, header.byteOffset, header.byteLength)
  const from = entry.headerAt + 30 + (header.length < 30 ? 0 : v.getUint16(26, true) + v.getUint16(28, true))
  if (header.length < 30 || v.getUint32(0, true) !== LOCAL || from + entry.compressedSize > entry.endsBefore)
    throw new FileError(`is a damaged package: “${entry.name.slice(0, 90)}” is not where the directory says.`)
  return partOf(archive, from, from + entry.compressedSize)
}

/**
 * Unpacks a deflated entry as it is read. Reads must go forward: what was read is not kept, so that memory
 * does not grow with the size. Bytes are counted; more or fewer than the directory says, or another checksum,
 * are an error, whoever wrote it.
 */
function inflated({ name, size, file }: ZipEntry): ByteSource {
  const wrong = () =>
    new FileError(`is a damaged package: “${name.slice(0, 90)}” does not unpack to what it says.`)
  let pull: (() => Promise<Uint8Array | null>) | null = null
  let pieces: Uint8Array[] = []
  /** Bytes unpacked so far, of which the last `held` are in `pieces`. */
  let unpacked = 0
  let held = 0
  let ended = false
  const unpack = async () => {
    pull ??= pulled((writable) => (file as FileEntry).getData(writable, { checkSignature: true }))
    const value = await pull().catch(() => {
      throw wrong()
    })
    ended = value === null
    if (value) {
      pieces.push(value)
      unpacked += value.length
      held += value.length
    }
    if (unpacked > size || (ended && unpacked !== size)) throw wrong()
  }
  return {
    size,
    forwardOnly: true,
    async read(from, to) {
      const end = Math.min(to, size)
      if (from < unpacked - held) throw new RangeError(`byte ${from} is read after byte ${unpacked - held}`)
      while (unpacked < end && !ended) await unpack()
      // The end tells whether the checksum is right.
      while (end === size && !ended) await unpack()
      const all = pieces.length === 1 ? pieces[0]! : joined(pieces, held)
      const start = unpacked - held
      const kept = all.subarray(Math.min(held, from - start))
      pieces = kept.length ? [kept] : []
      held = kept.length
      return kept.subarray(0, Math.max(0, end - from))
    },
  }
}

/**
 * Turns something that writes into something that is read: each call resolves to the next piece, null at the
 * end, and writing waits until it is wanted. Rejects with what the writer throws.
 */
function pulled(
  write: (to: WritableStream<Uint8Array>) => Promise<unknown>,
): () => Promise<Uint8Array | null> {
  const pieces: Uint8Array[] = []
  let ended = false
  let failure: unknown = null
  let arrived = () => {}
  let wanted = () => {}
  const sink = new WritableStream<Uint8Array>({
    write(piece) {
      pieces.push(piece)
      arrived()
      return new Promise<void>((resolve) => (wanted = resolve))
    },
  })
  write(sink)
    .then(
      () => (ended = true),
      (error: unknown) => (failure = error ?? new Error()),
    )
    .finally(() => arrived())
  return async () => {
    while (pieces.length === 0 && !ended && failure === null)
      await new Promise<void>((resolve) => {
        arrived = resolve
        wanted()
      })
    if (failure !== null) throw failure
    return pieces.shift() ?? null
  }
}

function joined(pieces: readonly Uint8Array[], length: number): Uint8Array {
  const all = new Uint8Array(length)
  let at = 0
  for (const piece of pieces) {
    all.set(piece, at)
    at += piece.length
  }
  return all
}

/**
 * The unpacked bytes of an entry: in any order where it is stored, forwards only where it is deflated. Throws
 * `FileError`.
 */
export async function openEntry(archive: ByteSource, entry: ZipEntry): Promise<ByteSource> {
  if (entry.method === 0) return dataOf(archive, entry)
  if (entry.method === 8) return inflated(entry)
  throw new FileError(
    `is packed in a way that is not understood (method ${entry.method}); pack it as an ordinary ZIP.`,
  )
}
