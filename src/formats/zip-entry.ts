import { Inflate } from 'fflate'
import { partOf, type ByteSource } from './bytes'
import { FileError } from './failure'
import type { ZipEntry } from './zip-directory'

const LOCAL = 0x04034b50

/** Packed bytes that are unpacked in one go. */
const PIECE = 1 << 16

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
 * does not grow with the size. Bytes are counted; more or fewer than the directory says are an error, whoever
 * wrote it.
 */
function inflated(packed: ByteSource, { name, size }: ZipEntry): ByteSource {
  const wrong = () =>
    new FileError(`is a damaged package: “${name.slice(0, 90)}” does not unpack to what it says.`)
  let pieces: Uint8Array[] = []
  /** Bytes unpacked so far, of which the last `held` are in `pieces`; and packed bytes that were read. */
  let unpacked = 0
  let held = 0
  let taken = 0
  const inflate = new Inflate((piece) => {
    pieces.push(piece)
    unpacked += piece.length
    held += piece.length
    if (unpacked > size) throw wrong()
  })
  const unpack = async () => {
    const piece = await packed.read(taken, taken + PIECE)
    taken += piece.length
    try {
      inflate.push(piece, taken >= packed.size)
    } catch (error) {
      throw error instanceof FileError ? error : wrong()
    }
    if (taken >= packed.size && unpacked !== size) throw wrong()
  }
  return {
    size,
    forwardOnly: true,
    async read(from, to) {
      const end = Math.min(to, size)
      if (from < unpacked - held) throw new RangeError(`byte ${from} is read after byte ${unpacked - held}`)
      while (unpacked < end && taken < packed.size) await unpack()
      const all = pieces.length === 1 ? pieces[0]! : joined(pieces, held)
      const start = unpacked - held
      const kept = all.subarray(Math.min(held, from - start))
      pieces = kept.length ? [kept] : []
      held = kept.length
      return kept.subarray(0, Math.max(0, end - from))
    },
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
  const packed = await dataOf(archive, entry)
  if (entry.method === 0) return packed
  if (entry.method === 8) return inflated(packed, entry)
  throw new FileError(
    `is packed in a way that is not understood (method ${entry.method}); pack it as an ordinary ZIP.`,
  )
}
