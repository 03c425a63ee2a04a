import fc from 'fast-check'
import { testRegion, testSession } from '../core/model/fixture.test-util'
import { bytesOf } from './bytes'
import { decodeFlac } from './flac-decode.test-util'
import { FlacEncoder, flacFile } from './flac-encode.test-util'
import { FLAC_MD5_AT } from './flac-write'
import { exactFormat, exactWav, readPackage, sourceSamples } from './package'
import { writePackage } from './package.test-util'
import { samplesHash } from './samples-hash.test-util'
import { decodeWav, readWavHeader } from './wav-read'
import { WavEncoder, wavHeader, type WavInfo } from './wav-write'

async function read(bytes: Uint8Array) {
  const header = await readWavHeader(bytesOf(bytes))
  return {
    header,
    channels: decodeWav(
      header,
      bytes.subarray(header.dataFrom, header.dataFrom + header.frames * header.bytesPerFrame),
      0,
    ),
  }
}

function write(info: WavInfo, channels: Float32Array[]): Uint8Array {
  const encoder = new WavEncoder(info)
  return Buffer.concat([wavHeader(info), encoder.encode(channels), encoder.finish()])
}

const info = (more: Partial<WavInfo> = {}): WavInfo => ({
  format: 'wav32f',
  channels: 1,
  sampleRate: 48000,
  frames: 3,
  seed: 1,
  ...more,
})

/** A WAV file by hand: a format chunk and a data chunk as given. */
function wav(fmt: number[], data: number[], sizes: { riff?: number; data?: number } = {}): Uint8Array {
  const b = Buffer.alloc(44)
  b.write('RIFF')
  b.writeUInt32LE(sizes.riff ?? 36 + data.length, 4)
  b.write('WAVEfmt ', 8)
  b.writeUInt32LE(16, 16)
  const [code, channels, rate, bits] = fmt as [number, number, number, number]
  b.writeUInt16LE(code, 20)
  b.writeUInt16LE(channels, 22)
  b.writeUInt32LE(rate, 24)
  b.writeUInt32LE((rate * channels * bits) / 8, 28)
  b.writeUInt16LE((channels * bits) / 8, 32)
  b.writeUInt16LE(bits, 34)
  b.write('data', 36)
  b.writeUInt32LE(sizes.data ?? data.length, 40)
  return Buffer.concat([b, Uint8Array.from(data)])
}

describe('WAV', () => {
  test('float files come back bit for bit, any length, mono and stereo', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.float32Array({ minLength: 1, maxLength: 200, noNaN: true, noDefaultInfinity: true }),
        fc.boolean(),
        async (samples, stereo) => {
          const channels = stereo ? [samples, samples.map((x) => -x)] : [samples]
          const back = await read(
            write(info({ channels: channels.length as 1 | 2, frames: samples.length }), channels),
          )
          expect(back.channels.map((c) => Buffer.from(c.buffer).toString('hex'))).toEqual(
            channels.map((c) => Buffer.from(c.buffer, c.byteOffset, c.byteLength).toString('hex')),
          )
        },
      ),
    )
  })
  test.each([
    ['8 bit', [1, 1, 48000, 8], [0, 128, 255], [-1, 0, 127 / 128]],
    ['16 bit', [1, 1, 48000, 16], [0, 128, 0, 0, 255, 127], [-1, 0, 32767 / 32768]],
    [
      '24 bit',
      [1, 1, 48000, 24],
      [0, 0, 128, 255, 255, 255, 255, 255, 127],
      [-1, -1 / 8388608, 8388607 / 8388608],
    ],
    ['32 bit', [1, 1, 48000, 32], [0, 0, 0, 128, 0, 0, 0, 64], [-1, 0.5]],
    ['64-bit float', [3, 1, 48000, 64], [0, 0, 0, 0, 0, 0, 0xe0, 0x3f], [0.5]],
  ])('%s samples', async (_name, fmt, data, expected) =>
    expect([...(await read(wav(fmt, data))).channels[0]!]).toEqual(expected),
  )
  test('bext and cue points are written, and cues read back with their names', async () => {
    const bytes = write(
      info({
        broadcast: {
          description: 'The Tide Mill',
          timeReference: 5_000_000_000,
          writtenAt: new Date(2026, 1, 3, 4, 5, 6),
        },
        cues: [
          { frame: 1, name: 'gate' },
          { frame: 2, name: 'wheel pit' },
        ],
      }),
      [new Float32Array(3)],
    )
    expect((await readWavHeader(bytesOf(bytes))).cues).toEqual([
      { frame: 1, name: 'gate' },
      { frame: 2, name: 'wheel pit' },
    ])
    const bext = Buffer.from(bytes).indexOf('bext')
    // EBU Tech 3285: the time reference stands 338 bytes into the chunk's body.
    expect(Buffer.from(bytes).readBigUInt64LE(bext + 8 + 338)).toBe(5_000_000_000n)
    expect(Buffer.from(bytes).toString('latin1', bext + 8 + 320, bext + 8 + 338)).toBe('2026-02-0304:05:06')
  })
  test('over 4 GiB the header is RF64 with 64-bit sizes', async () => {
    const header = wavHeader(info({ channels: 2, frames: 2 ** 30 }))
    const there = {
      size: header.length + 2 ** 33,
      read: async (from: number, to: number) => header.subarray(from, to),
    }
    expect(await readWavHeader(there)).toMatchObject({ frames: 2 ** 30, dataFrom: header.length })
  })
  test('a file that its recorder never closed is taken to its end', async () => {
    expect((await read(wav([1, 1, 48000, 16], [1, 0, 2, 0], { riff: 0, data: 0 }))).header.frames).toBe(2)
  })

  const good = wav([1, 1, 48000, 16], [1, 0, 2, 0, 3, 0])
  test.each([
    ['an empty file', new Uint8Array(0), /is empty/],
    ['text', Buffer.from('just some words, named .wav'), /not a WAV file/],
    ['cut in the header', good.subarray(0, 30), /in the middle of its header/],
    ['cut before the data', good.subarray(0, 38), /before its sound begins/],
    [
      'cut in the data',
      good.subarray(0, 47),
      /cut off: its header announces 6 bytes of sound, and 3 are there/,
    ],
    ['sizes that lie', wav([1, 1, 48000, 16], [1, 0], { data: 1_000_000 }), /announces 1000000 bytes/],
    ['0 frames', wav([1, 1, 48000, 16], []), /0 frames/],
    ['0 channels', wav([1, 0, 48000, 16], [1, 0]), /0 channels/],
    ['6 channels', wav([1, 6, 48000, 16], Array<number>(12).fill(0)), /6 channels/],
    ['a rate of 0', wav([1, 1, 0, 16], [1, 0]), /sample rate is 0 Hz/],
    ['a rate of 10 MHz', wav([1, 1, 10_000_000, 16], [1, 0]), /10000000 Hz/],
    ['12 bit', wav([1, 1, 48000, 12], [1, 0]), /12-bit/],
    ['compressed', wav([85, 1, 48000, 16], [1, 0]), /compressed/],
    ['not a number', wav([3, 1, 48000, 32], [0, 0, 0, 0, 0, 0, 0xc0, 0x7f]), /frame 1 is NaN/],
    ['infinity', wav([3, 1, 48000, 32], [0, 0, 0x80, 0x7f]), /Infinity/],
  ])('%s is refused with a sentence', async (_name, bytes, words) => {
    await expect(read(bytes)).rejects.toMatchObject({
      name: 'FileError',
      message: expect.stringMatching(words),
    })
  })
  test('no bytes whatever make it fail in another way', async () => {
    await fc.assert(
      fc.asyncProperty(fc.uint8Array({ maxLength: 80 }), fc.nat(43), async (junk, at) => {
        const bytes = Uint8Array.from(good)
        bytes.set(junk.subarray(0, bytes.length - at), at)
        await read(bytes).catch((error: Error) => expect(error.name).toBe('FileError'))
      }),
      { numRuns: 300 },
    )
  })
})

describe('WAV files that recorders and programs write', () => {
  const sound = wav([1, 1, 48000, 16], [1, 0, 2, 0])
  test('with thousands of empty chunks before the sound are read', async () => {
    const empty = Buffer.alloc(8)
    empty.write('junk')
    const bytes = Buffer.concat([
      sound.subarray(0, 36),
      ...Array<Buffer>(2000).fill(empty),
      sound.subarray(36),
    ])
    expect([...(await read(bytes)).channels[0]!]).toEqual([1 / 32768, 2 / 32768])
  })
  test('that contradict themselves about the size of a frame are refused', async () => {
    const bytes = Buffer.from(sound)
    bytes.writeUInt16LE(3, 32)
    await expect(readWavHeader(bytesOf(bytes))).rejects.toThrow(
      'contradicts itself: a frame of 1 × 16 bit takes 2 bytes, and it says 3.',
    )
  })
  test('have a description that ends with a whole character', () => {
    const header = wavHeader(
      info({
        broadcast: { description: `${'x'.repeat(254)}é😀`, timeReference: 0, writtenAt: new Date() },
      }),
    )
    const at = Buffer.from(header).indexOf('bext') + 8
    expect(Buffer.from(header).toString('utf8', at, at + 256)).toBe(`${'x'.repeat(254)}é`)
    const cut = wavHeader(
      info({ broadcast: { description: `${'x'.repeat(253)}😀`, timeReference: 0, writtenAt: new Date() } }),
    )
    expect(
      Buffer.from(cut)
        .toString('utf8', at, at + 256)
        .replaceAll('\0', ''),
    ).toBe('x'.repeat(253))
  })
})

test('FLAC carries its title, its place in the session and its markers', async () => {
  const samples = [Int32Array.from({ length: 96_000 }, (_, n) => (n * 37) % 1000)]
  const encoder = await FlacEncoder.create({
    channels: 1,
    sampleRate: 48000,
    bitsPerSample: 24,
    frames: 96_000,
    comments: [
      ['TITLE', 'The Tide Mill — é'],
      ['TIMEREFERENCE', '48000'],
    ],
    cues: [
      { frame: 1, name: 'gate' },
      { frame: 72_000, name: 'wheel pit' },
    ],
  })
  // In pieces that do not fit its blocks.
  const parts = [encoder.header()]
  for (let at = 0; at < 96_000; at += 7001) parts.push(encoder.encode([samples[0]!.subarray(at, at + 7001)]))
  parts.push(encoder.finish())
  const bytes = Buffer.concat(parts)
  bytes.set(encoder.md5(), FLAC_MD5_AT)
  expect(decodeFlac(bytes)).toEqual({
    sampleRate: 48000,
    bits: 24,
    channels: samples,
    comments: [
      'TITLE=The Tide Mill — é',
      'TIMEREFERENCE=48000',
      'CHAPTER001=00:00:00.000',
      'CHAPTER001NAME=gate',
      'CHAPTER002=00:00:01.500',
      'CHAPTER002NAME=wheel pit',
    ],
    cues: [1, 72_000, 96_000],
  })
})

test('FLAC decodes to the same integers, 16 and 24 bit, with right checksums', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.constantFrom(16 as const, 24 as const),
      fc.integer({ min: 1, max: 9000 }),
      fc.integer(),
      async (bits, frames, seed) => {
        const peak = 2 ** (bits - 1)
        const channels = [0.9, 0.01].map((level) =>
          Int32Array.from(
            { length: frames },
            (_, n) => Math.floor(Math.sin(n * 0.05 + seed) * level * (peak - 1)) ^ (n % 7 === 0 ? 3 : 0),
          ),
        )
        channels.push(new Int32Array(frames).fill(-peak))
        expect(decodeFlac(await flacFile(channels.slice(0, 2), 48000, bits))).toEqual({
          sampleRate: 48000,
          bits,
          channels: channels.slice(0, 2),
          comments: [],
          cues: [],
        })
        expect(decodeFlac(await flacFile(channels.slice(2), 44100, bits)).channels).toEqual(channels.slice(2))
      },
    ),
    { numRuns: 25 },
  )
})

describe('packages', () => {
  const samples = Float32Array.from({ length: 480000 }, (_, n) => Math.fround(Math.sin(n * 0.01) * 0.3))
  const base = testSession([testRegion('a')])
  const session = { ...base, sources: { s: { ...base.sources.s!, sha256: samplesHash([samples]) } } }
  const audio = new Map([[session.sources.s.sha256, exactWav([samples], 48000)]])

  test('the smallest format that changes no bit is chosen', () => {
    expect(exactFormat([Float32Array.of(0.5, -1, 3 / 32768)])).toBe('wav16')
    expect(exactFormat([Float32Array.of(3 / 8388608)])).toBe('wav24')
    expect(exactFormat([Float32Array.of(0.1)])).toBe('wav32f')
    expect(exactFormat([Float32Array.of(1)])).toBe('wav32f')
    expect(exactFormat([Float32Array.of(-0)])).toBe('wav32f')
  })
  test('opened again, session and samples are the same; the same session gives the same bytes', async () => {
    const bytes = writePackage(session, audio)
    const back = await readPackage(bytesOf(bytes))
    expect(back.session).toEqual(session)
    const [again] = await sourceSamples(back.session.sources.s!, await back.audio(session.sources.s.sha256))
    expect(Buffer.from(again!.buffer).equals(Buffer.from(samples.buffer))).toBe(true)
    expect(Buffer.from(writePackage(session, audio)).equals(Buffer.from(bytes))).toBe(true)
  })
  test('a package with other sound than it says, or without, is refused', async () => {
    const other = exactWav([samples.map((x) => x / 2)], 48000)
    await expect(sourceSamples(session.sources.s, bytesOf(other))).rejects.toThrow(/other sound/)
    await expect(sourceSamples(session.sources.s, undefined)).rejects.toThrow(/is missing/)
    await expect(readPackage(bytesOf(new Uint8Array([80, 75, 3, 4, 0])))).rejects.toThrow(/damaged package/)
    const wrong = writePackage({ ...session, title: 7 as unknown as string }, audio)
    await expect(readPackage(bytesOf(wrong))).rejects.toThrow(/title/)
  })
})
