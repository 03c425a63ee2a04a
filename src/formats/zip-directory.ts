import { configure, Reader, ZipReader, type Entry } from '@zip.js/zip.js/index-native.js'
import type { ByteSource } from './bytes'
import { FileError } from './failure'

/** One file of a ZIP archive as the archive's directory tells of it. */
export interface ZipEntry {
  name: string
  /** 0: stored as it is. 8: deflated. */
  method: number
  compressedSize: number
  size: number
  crc32: number
  /** Where its local header begins, and where whatever comes next in the archive does. */
  headerAt: number
  endsBefore: number
  /** The library's entry, which unpacks it. */
  file: Entry
}

// No workers of the library's own, which the content policy would refuse. It counts what is being unpacked as
// workers all the same, and would let entries wait for others that nobody reads any more.
configure({ useWebWorkers: false, maxWorkers: 1_000_000 })

/** Most files of an archive: every source of the largest session, and some that other programs add. */
const MOST_ENTRIES = 120_000

/** Deflate never packs more than this many bytes into one (RFC 1951; 258 bytes in 2 bits and a little). */
const BEST_RATIO = 1032

const END = 0x06054b50
const END_64 = 0x06064b50
const END_64_LOCATOR = 0x07064b50

const damaged = (what: string) => new FileError(`is a damaged package: ${what}.`)

const viewOf = (bytes: Uint8Array) => new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)

interface Directory {
  at: number
  size: number
  count: number
}

/** The record that ends an archive (APPNOTE 4.3.16, and 4.3.14 where it is a large one). */
async function readEnd(source: ByteSource): Promise<Directory> {
  // The record is 22 bytes and may be followed by a comment of up to 65535.
  const from = Math.max(0, source.size - 22 - 65535)
  const tail = await source.read(from, source.size)
  const v = viewOf(tail)
  let at = tail.length - 22
  while (at >= 0 && v.getUint32(at, true) !== END) at--
  if (at < 0) throw damaged('its end is missing, so it may have been cut off')
  const found = {
    count: v.getUint16(at + 10, true),
    size: v.getUint32(at + 12, true),
    at: v.getUint32(at + 16, true),
  }
  const large = found.count === 0xffff || found.size === 0xffffffff || found.at === 0xffffffff
  if (!large || at < 20 || v.getUint32(at - 20, true) !== END_64_LOCATOR) return found
  const recordAt = Number(v.getBigUint64(at - 12, true))
  if (recordAt + 56 > source.size) throw damaged('its directory lies beyond its end')
  const record = viewOf(await source.read(recordAt, recordAt + 56))
  if (record.byteLength < 56 || record.getUint32(0, true) !== END_64)
    throw damaged('its directory is not where it says')
  return {
    count: Number(record.getBigUint64(32, true)),
    size: Number(record.getBigUint64(40, true)),
    at: Number(record.getBigUint64(48, true)),
  }
}

/** A byte source as the library reads from it. */
class SourceReader extends Reader<ByteSource> {
  constructor(private readonly source: ByteSource) {
    super(source)
    this.size = source.size
  }
  override readUint8Array(from: number, length: number): Promise<Uint8Array> {
    return this.source.read(from, from + length)
  }
}

/** The entries of the directory as the library reads them. */
async function readEntries(source: ByteSource): Promise<ZipEntry[]> {
  const zip = new ZipReader(new SourceReader(source), {
    maxAppendedDataSize: 65535,
    // Names are judged below.
    filenameValidation: 'tolerant',
  })
  const files = await zip.getEntries().catch((error: unknown) => {
    throw error instanceof FileError ? error : damaged('its directory makes no sense')
  })
  return files.map((file) => ({
    name: file.filename,
    method: file.encrypted ? -1 : file.compressionMethod,
    compressedSize: file.compressedSize,
    size: file.uncompressedSize,
    crc32: file.signature ?? 0,
    headerAt: file.offset,
    endsBefore: 0,
    file,
  }))
}

const leadsOutside = (name: string) =>
  /^([/\\]|[a-z]:)/i.test(name) || name.split(/[/\\]/).includes('..') || name.includes('\0')

/** Checks the entries against each other and the archive, and notes where each must have ended. */
function checkEntries(entries: readonly ZipEntry[], directoryAt: number): void {
  const names = new Set<string>()
  for (const { name, method, size, compressedSize } of entries) {
    if (leadsOutside(name)) throw damaged('the name of a file in it leads outside of it')
    if (names.has(name)) throw damaged('two files in it have the same name')
    names.add(name)
    if (method === -1) throw new FileError('is a package with a password; packages are opened without.')
    if (method === 0 && size !== compressedSize)
      throw damaged('a file in it contradicts itself about its size')
    if (size > compressedSize * BEST_RATIO + 64)
      throw damaged('a file in it claims to unpack to more than it can')
  }
  const inOrder = [...entries].sort((a, b) => a.headerAt - b.headerAt)
  inOrder.forEach((entry, i) => {
    entry.endsBefore = inOrder[i + 1]?.headerAt ?? directoryAt
    // A local header takes 30 bytes and the name at least.
    if (entry.headerAt + 30 + entry.name.length + entry.compressedSize > entry.endsBefore)
      throw damaged(i + 1 < inOrder.length ? 'files in it overlap' : 'a file in it reaches beyond its end')
  })
}

/**
 * The files of a ZIP archive, in the order of its directory. Nothing is unpacked: counts, sizes and places are checked
 * against each other and against the archive's length first. Throws `FileError` for what is damaged or made to mislead.
 */
export async function readZipDirectory(source: ByteSource): Promise<ZipEntry[]> {
  const { at, size, count } = await readEnd(source)
  if (count > MOST_ENTRIES)
    throw new FileError(`holds ${count} files; a package has at most ${MOST_ENTRIES}.`)
  if (!(at + size <= source.size) || count * 46 > size) throw damaged('its directory lies beyond its end')
  const entries = await readEntries(source)
  if (entries.length !== count) throw damaged('its directory ends too early')
  checkEntries(entries, at)
  return entries
}
