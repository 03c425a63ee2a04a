import fc from 'fast-check'
import { createMD5 } from 'hash-wasm'
import { bytesOf, type ByteSource } from './bytes'
import { createHash } from 'node:crypto'
import { flacFiles } from './flac-files.test-util'
import { WrongChecksum } from './failure'
import { constant, differences, flacOf, frame } from './flac-made.test-util'
import { flacFile } from './flac-encode.test-util'
import { samplesHash } from './samples-hash.test-util'
import { openSoundFile } from './sound-file'
import { WavEncoder, wavHeader } from './wav-write'

const open = async (bytes: Uint8Array) => (await openSoundFile(bytesOf(bytes)))!

/** All samples of a file, read so many frames at a time. */
async function samplesOf(source: ByteSource, blockFrames = 500): Promise<number[][]> {
  const file = (await openSoundFile(source))!
  const all: number[][] = Array.from({ length: file.channels }, () => [])
  for await (const block of file.blocks(blockFrames)) {
    expect(block[0]!.length).toBeLessThanOrEqual(blockFrames)
    block.forEach((samples, c) => all[c]!.push(...samples))
  }
  return all
}

const problem = (bytes: Uint8Array) =>
  samplesOf(bytesOf(bytes)).then(
    () => 'read',
    (error: unknown) => (error as Error).message,
  )

describe('FLAC', () => {
  const bytesFrom = (base64: string) => new Uint8Array(Buffer.from(base64, 'base64'))

  test.each(flacFiles)('$what, is read to the last bit', async ({ bits, channels, sha256, base64 }) => {
    const bytes = bytesFrom(base64)
    expect(await open(bytes)).toMatchObject({
      channels,
      sampleRate: 8000,
      frames: 700,
      format: `${bits}-bit FLAC`,
    })
    const samples = await samplesOf(bytesOf(bytes), 100)
    expect(samplesHash(samples.map((channel) => Float32Array.from(channel)))).toBe(sha256)
  })

  test('a tag of another format before it, one after it, and a length that it does not tell change nothing', async () => {
    const bytes = bytesFrom(flacFiles[0]!.base64)
    const expected = await samplesOf(bytesOf(bytes))
    const tagged = Buffer.concat([
      Buffer.from('ID3\x04\0\0\0\0\0\x05hello', 'latin1'),
      bytes,
      Buffer.alloc(128, 'TAG'),
    ])
    expect(await samplesOf(bytesOf(tagged))).toEqual(expected)
    const unknown = bytes.slice()
    unknown.fill(0, 22, 26)
    unknown[21]! &= 0xf0
    expect((await open(unknown)).frames).toBe(700)
    expect(await samplesOf(bytesOf(unknown))).toEqual(expected)
  })

  test('one bit that is another, or an end that is missing, is found', async () => {
    const bytes = bytesFrom(flacFiles[0]!.base64)
    for (let at = 42; at < bytes.length; at += 97) {
      const damaged = bytes.slice()
      damaged[at]! ^= 4
      const before = await samplesOf(bytesOf(bytes))
      const found = await samplesOf(bytesOf(damaged)).catch((error: unknown) => (error as Error).message)
      // What lies in its metadata concerns no sample.
      if (typeof found === 'string') expect(found).toMatch(/^is (damaged|cut off)/)
      else expect(found).toEqual(before)
    }
    expect(await problem(bytes.slice(0, bytes.length - 200))).toMatch(/^is (damaged|cut off)/)
    expect(await problem(bytes.slice(0, 30))).toBe('ends in the middle of its header.')
  })

  test('frames out of order, samples beyond their depth and a wrong MD5 are found, though every checksum is right', async () => {
    const info = { block: 64, frames: 192, channels: 1 as const, depth: 16 }
    const quiet = [10, 20, 30].map((value, n) => frame(n, 64, [constant(value, 16)]))
    const md5 = createHash('md5')
    for (const value of [10, 20, 30])
      md5.update(Buffer.from(Int16Array.from({ length: 64 }, () => value).buffer))
    const right = [...md5.digest()]
    expect((await samplesOf(bytesOf(flacOf(quiet, { ...info, md5: right }))))[0]!.at(-1)).toBe(30 / 32768)
    // A stream that was cut out of a longer one begins with any number.
    const later = [10, 20, 30].map((value, n) => frame(n + 200, 64, [constant(value, 16)]))
    expect((await samplesOf(bytesOf(flacOf(later, { ...info, md5: right }))))[0]).toHaveLength(192)
    for (const order of [
      [0, 2, 1],
      [1, 0, 2],
      [0, 1, 1],
    ])
      expect(
        await problem(
          flacOf(
            order.map((n) => quiet[n]!),
            info,
          ),
        ),
      ).toBe('is damaged: its frames are not in their order.')

    const loud = frame(0, 3, [differences(30_000, [2767, 1], 16)])
    expect(await problem(flacOf([loud], { ...info, frames: 3 }))).toBe(
      'is damaged: it holds samples that 16 bits cannot.',
    )
    const still = frame(0, 3, [differences(30_000, [2767, -65_535], 16)])
    expect(await samplesOf(bytesOf(flacOf([still], { ...info, frames: 3 })))).toEqual([
      [30_000 / 32768, 32_767 / 32768, -1],
    ])

    const wrong = flacOf(quiet, { ...info, md5: right.map((b, i) => (i === 3 ? b ^ 1 : b)) })
    expect(await problem(wrong)).toContain('does not have the checksum (MD5)')
    await expect(samplesOf(bytesOf(wrong))).rejects.toBeInstanceOf(WrongChecksum)
    // By choice it is taken.
    const taken = (await openSoundFile(bytesOf(wrong), true))!
    let frames = 0
    for await (const [side] of taken.blocks(100)) frames += side!.length
    expect(frames).toBe(192)
  })

  test('silence and constant sound are read little slower than their MD5 alone is made, and over 400 times real time', async () => {
    const block = 65_535
    const count = 1000
    const frames = Array.from({ length: count }, (_, n) =>
      frame(n, block, [constant(0, 16), constant(5, 16)]),
    )
    const pattern = Buffer.alloc(block * 4)
    for (let i = 0; i < block; i++) pattern.writeInt16LE(5, 4 * i + 2)
    let begun = performance.now()
    const hash = (await createMD5()).init()
    for (let n = 0; n < count; n++) hash.update(pattern)
    const md5 = [...hash.digest('binary')]
    const md5Ms = performance.now() - begun
    const bytes = flacOf(frames, { block, frames: block * count, channels: 2, depth: 16, md5 })
    expect(bytes.length).toBeLessThan(30_000)
    begun = performance.now()
    for await (const _ of (await openSoundFile(bytesOf(bytes)))!.blocks(65_536));
    const ms = performance.now() - begun
    expect(ms / md5Ms).toBeLessThan(4)
    expect((block * count) / 48 / ms).toBeGreaterThan(400)
  })

  test('whatever our encoder writes comes back, however it is read', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.constantFrom(16 as const, 24 as const),
        fc.array(fc.integer({ min: -32768, max: 32767 }), { minLength: 1, maxLength: 9000 }),
        fc.integer({ min: 1, max: 5000 }),
        async (bits, values, blockFrames) => {
          const left = Int32Array.from(values)
          const right = left.map((v) => -v >> 1)
          const bytes = await flacFile([left, right], 48000, bits)
          const samples = await samplesOf(bytesOf(bytes), blockFrames)
          const scale = 2 ** (bits - 1)
          expect(samples).toEqual([left, right].map((channel) => Array.from(channel, (v) => v / scale)))
        },
      ),
      { numRuns: 20 },
    )
  })
})

describe('AIFF', () => {
  const chunk = (id: string, body: Buffer) => {
    const head = Buffer.alloc(8)
    head.write(id, 'latin1')
    head.writeUInt32BE(body.length, 4)
    return Buffer.concat([head, body, Buffer.alloc(body.length % 2)])
  }
  /** 48000 and 44100 Hz as 80-bit floats. */
  const rates = { 48000: '400ebb80000000000000', 44100: '400eac44000000000000' }

  function aiff(
    {
      bits,
      channels = 1,
      frames,
      rate = 48000,
      kind,
    }: { bits: number; channels?: number; frames: number; rate?: 48000 | 44100; kind?: string },
    sound: Buffer,
    more: Buffer[] = [],
  ): Buffer {
    const common = Buffer.alloc(8)
    common.writeUInt16BE(channels, 0)
    common.writeUInt32BE(frames, 2)
    common.writeUInt16BE(bits, 6)
    const parts = [
      common,
      Buffer.from(rates[rate], 'hex'),
      ...(kind ? [Buffer.from(`${kind}\x04test\0`, 'latin1')] : []),
    ]
    const body = Buffer.concat([
      Buffer.from(kind ? 'AIFC' : 'AIFF'),
      chunk('COMM', Buffer.concat(parts)),
      ...more,
      chunk('SSND', Buffer.concat([Buffer.alloc(8), sound])),
    ])
    return chunk('FORM', body)
  }

  test.each([
    ['8 bit', { bits: 8 }, '80ff007f', [-1, -1 / 128, 0, 127 / 128]],
    ['12 bit, left-justified in two bytes', { bits: 12 }, '8000fff07ff0', [-1, -16 / 32768, 32752 / 32768]],
    ['16 bit', { bits: 16 }, '8000ffff00017fff', [-1, -1 / 32768, 1 / 32768, 32767 / 32768]],
    ['24 bit', { bits: 24 }, '800000ffffff0000017fffff', [-1, -1 / 8388608, 1 / 8388608, 8388607 / 8388608]],
    ['32 bit', { bits: 32 }, '8000000040000000', [-1, 0.5]],
    ['16 bit with the low byte first', { bits: 16, kind: 'sowt' }, '00800100', [-1, 1 / 32768]],
    ['24 bit in AIFF-C', { bits: 24, kind: 'in24' }, '800000', [-1]],
    ['32-bit float', { bits: 32, kind: 'fl32' }, '3f000000c0000000', [0.5, -2]],
    ['64-bit float', { bits: 64, kind: 'FL64' }, '3fe0000000000000', [0.5]],
    ['NONE in AIFF-C', { bits: 16, kind: 'NONE' }, '4000', [0.5]],
  ])('%s is read at its full depth', async (_what, format, hex, expected) => {
    const bytes = aiff({ ...format, frames: expected.length }, Buffer.from(hex, 'hex'))
    expect(await samplesOf(bytesOf(bytes), 3)).toEqual([expected])
  })

  test('channels, rate and markers come with it', async () => {
    const markers = Buffer.concat([
      Buffer.from([0, 2, 0, 1, 0, 0, 0, 1, 4]),
      Buffer.from('gate\0', 'latin1'),
      Buffer.from([0, 2, 0, 0, 0, 0, 3]),
      Buffer.from('ebb', 'latin1'),
    ])
    const bytes = aiff(
      { bits: 16, channels: 2, frames: 2, rate: 44100 },
      Buffer.from('40002000c000e000', 'hex'),
      [chunk('MARK', markers)],
    )
    expect(await open(bytes)).toMatchObject({
      channels: 2,
      sampleRate: 44100,
      frames: 2,
      cues: [
        { frame: 0, name: 'ebb' },
        { frame: 1, name: 'gate' },
      ],
    })
    expect(await samplesOf(bytesOf(bytes))).toEqual([
      [0.5, -0.5],
      [0.25, -0.25],
    ])
  })

  test('what cannot be read costs one sentence', async () => {
    const good = aiff({ bits: 16, frames: 4 }, Buffer.alloc(8))
    expect(await problem(aiff({ bits: 16, frames: 400 }, Buffer.alloc(8)))).toMatch(/^is cut off/)
    expect(await problem(good.subarray(0, good.length - 3))).toMatch(/^is cut off/)
    expect(await problem(aiff({ bits: 16, frames: 0 }, Buffer.alloc(0)))).toMatch(/0 frames/)
    expect(await problem(aiff({ bits: 16, frames: 1, channels: 6 }, Buffer.alloc(12)))).toMatch(/6 channels/)
    expect(await problem(aiff({ bits: 16, frames: 4, kind: 'ima4' }, Buffer.alloc(8)))).toMatch(
      /compressed sound/,
    )
    expect(await problem(aiff({ bits: 48, frames: 1 }, Buffer.alloc(6)))).toMatch(/48-bit/)
    expect(
      await problem(aiff({ bits: 32, frames: 1, kind: 'fl32' }, Buffer.from('7fc00000', 'hex'))),
    ).toMatch(/not a number/)
    expect(await problem(good.subarray(0, 20))).toMatch(/ends|no COMM/)
  })
})

test('a WAV file tells its place on the timeline, where its bext chunk does', async () => {
  const info = { format: 'wav16' as const, channels: 1 as const, sampleRate: 48000, frames: 4, seed: null }
  const sound = new WavEncoder(info).encode([new Float32Array(4)])
  const placed = {
    ...info,
    broadcast: { description: 'x', timeReference: 5_000_000_000, writtenAt: new Date(0) },
  }
  expect((await open(Buffer.concat([wavHeader(placed), sound]))).timeReference).toBe(5_000_000_000)
  expect((await open(Buffer.concat([wavHeader(info), sound]))).timeReference).toBeNull()
})

test('what is no such file is left to others', async () => {
  expect(await openSoundFile(bytesOf(Buffer.from('OggS and what follows it')))).toBeNull()
  expect(await openSoundFile(bytesOf(new Uint8Array(0)))).toBeNull()
})
