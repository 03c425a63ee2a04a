import { zipSync } from 'fflate'
import fc from 'fast-check'
import { bytesOf, type ByteSource } from './bytes'
import { FileError } from './failure'
import { readZipDirectory } from './zip-directory'
import { openEntry } from './zip-entry'
import { runs } from '../core/units/runs.test-util'

const noise = (length: number, seed = 1) =>
  Uint8Array.from({ length }, (_, i) => (Math.imul(i + seed, 2654435761) >>> 13) & 255)

/** An archive of one stored file, one of noise and one of zeros, which packs to almost nothing. */
const packed = zipSync({
  'stored.wav': [noise(5000), { level: 0 }],
  'noise.bin': [noise(300_000, 7), { level: 6 }],
  'zeros.bin': [new Uint8Array(2_000_000), { level: 6 }],
})
const archive = () => Buffer.from(packed)

/** Where the record of the n-th file stands in the directory. */
function centralAt(zip: Buffer, n: number): number {
  let at = zip.readUInt32LE(zip.length - 22 + 16)
  for (let i = 0; i < n; i++)
    at += 46 + zip.readUInt16LE(at + 28) + zip.readUInt16LE(at + 30) + zip.readUInt16LE(at + 32)
  return at
}

const changed = (change: (zip: Buffer) => Buffer | void): ByteSource => {
  const zip = archive()
  return bytesOf(change(zip) ?? zip)
}

/** Unpacks everything, as a reader that only goes forwards would. */
async function unpackAll(source: ByteSource): Promise<Record<string, number>> {
  const sizes: Record<string, number> = {}
  for (const entry of await readZipDirectory(source)) {
    const file = await openEntry(source, entry)
    let size = 0
    for (let at = 0; at < file.size; at += 50_000)
      size += (await file.read(at, Math.min(file.size, at + 50_000))).length
    sizes[entry.name] = size
  }
  return sizes
}

test('files come out as they went in, stored or deflated, in whatever pieces they are read', async () => {
  const source = bytesOf(archive())
  const expected = noise(300_000, 7)
  const [stored, deflated] = await readZipDirectory(source)
  await fc.assert(
    fc.asyncProperty(fc.array(fc.integer({ min: 1, max: 90_000 }), { minLength: 4 }), async (lengths) => {
      const file = await openEntry(source, deflated!)
      let at = 0
      for (const length of lengths) {
        expect(Buffer.compare(await file.read(at, at + length), expected.subarray(at, at + length))).toBe(0)
        at += length
      }
    }),
    { numRuns: runs(10, 60) },
  )
  expect(
    Buffer.compare(await (await openEntry(source, stored!)).read(100, 900), noise(5000).subarray(100, 900)),
  ).toBe(0)
  expect(await unpackAll(source)).toEqual({
    'stored.wav': 5000,
    'noise.bin': 300_000,
    'zeros.bin': 2_000_000,
  })
})

test('what is unpacked is let go as the reading goes on', async () => {
  const source = bytesOf(archive())
  const file = await openEntry(source, (await readZipDirectory(source))[2]!)
  await file.read(1_500_000, 1_500_010)
  await expect(file.read(0, 10)).rejects.toThrow(RangeError)
})

const longer = (zip: Buffer, n: number, field: 20 | 24, value: number) =>
  void zip.writeUInt32LE(value, centralAt(zip, n) + field)

describe('an archive that misleads is refused before anything is unpacked', () => {
  const cases: [string, (zip: Buffer) => Buffer | void, RegExp][] = [
    [
      'files that overlap',
      (zip) => void zip.writeUInt32LE(zip.readUInt32LE(centralAt(zip, 1) + 42), centralAt(zip, 2) + 42),
      /overlap/,
    ],
    [
      'a file that reaches into the next',
      (zip) => longer(zip, 1, 20, zip.readUInt32LE(centralAt(zip, 1) + 20) + 500),
      /overlap|reaches beyond/,
    ],
    ['a stored file with two sizes', (zip) => longer(zip, 0, 24, 5001), /contradicts itself/],
    [
      'a file that claims to be far larger than it can be',
      (zip) => longer(zip, 1, 24, 0xfffffff0),
      /claims to unpack/,
    ],
    [
      'a directory beyond the end',
      (zip) => void zip.writeUInt32LE(zip.length, zip.length - 22 + 16),
      /directory/,
    ],
    [
      'more files than the directory has room for',
      (zip) => void zip.writeUInt16LE(60000, zip.length - 22 + 10),
      /directory/,
    ],
    [
      'a name that leads outside',
      (zip) => void zip.write('../etc/pas', centralAt(zip, 0) + 46),
      /leads outside/,
    ],
    ['an absolute name', (zip) => void zip.write('/etc/passw', centralAt(zip, 0) + 46), /leads outside/],
    ['a name twice', (zip) => void zip.write('zeros.bin', centralAt(zip, 1) + 46), /same name/],
    ['a password', (zip) => void zip.writeUInt16LE(1, centralAt(zip, 0) + 8), /password/],
    ['a cut-off end', (zip) => zip.subarray(0, zip.length - 30), /cut off/],
    ['no archive at all', () => Buffer.alloc(100, 'PK'), /cut off/],
  ]
  test.each(cases)('%s', async (_name, change, sentence) => {
    await expect(readZipDirectory(changed(change))).rejects.toThrow(sentence)
  })
  test('a million files', async () => {
    const zip = Buffer.alloc(22 + 20 + 56)
    zip.writeUInt32LE(0x06064b50, 0)
    zip.writeBigUInt64LE(1_000_000n, 32)
    zip.writeUInt32LE(0x07064b50, 56)
    zip.writeUInt32LE(0x06054b50, 76)
    zip.writeUInt16LE(0xffff, 76 + 10)
    await expect(readZipDirectory(bytesOf(zip))).rejects.toThrow(/1000000 files/)
  })
})

test.each([
  ['more bytes than it says', 1000],
  ['fewer bytes than it says', 310_000],
])('a file that unpacks to %s is refused while it is unpacked', async (_name, size) => {
  await expect(unpackAll(changed((zip) => longer(zip, 1, 24, size)))).rejects.toThrow(
    /does not unpack to what it says/,
  )
})

test('garbage never gives anything but a FileError', async () => {
  await fc.assert(
    fc.asyncProperty(fc.nat(330_000), fc.uint8Array({ minLength: 1, maxLength: 40 }), async (at, junk) => {
      const source = changed(
        (zip) => void zip.set(junk.subarray(0, zip.length - (at % zip.length)), at % zip.length),
      )
      await unpackAll(source).catch((error) => expect(error).toBeInstanceOf(FileError))
    }),
    { numRuns: runs(20, 120) },
  )
})
