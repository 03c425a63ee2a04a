import { createHash } from 'node:crypto'
import fc from 'fast-check'
import { extentOf } from '../../core/measure/pyramid'
import {
  AudioWriter,
  CHUNK_FRAMES,
  storeCache,
  type SoundCache,
  COARSE_FRAMES,
  findAudio,
  readCoarsePeaks,
  soundsOf,
  removeAudio,
} from './audio-store'

/** A database in memory, which can be made to fail from the so-manieth writing on. */
class MockDb {
  readonly items = new Map<string, unknown>()
  written = 0
  failsFrom = Infinity
  getItem = async (key: string) => structuredClone(this.items.get(key) ?? null)
  removeItem = async (key: string) => void this.items.delete(key)
  setItem = async (key: string, value: unknown) => {
    // A writing takes its time; what comes next must not overtake it.
    await new Promise((resolve) => setTimeout(resolve, 1))
    if (++this.written >= this.failsFrom) throw new DOMException('no space', 'QuotaExceededError')
    this.items.set(key, structuredClone(value))
  }
  reset() {
    this.items.clear()
    this.written = 0
    this.failsFrom = Infinity
  }
}

const mockAudio = new MockDb()
const mockChunks = new MockDb()
const mockPeaks = new MockDb()
jest.mock('./storage', () => ({
  get audioDb() {
    return mockAudio
  },
  get chunksDb() {
    return mockChunks
  },
  get peaksDb() {
    return mockPeaks
  },
  withStorageErrors: (operation: () => Promise<unknown>) => operation(),
}))
// Counting needs the browser's own database; here it goes through the keys.
jest.mock('./chunk-count', () => ({
  findIncomplete: (records: { sha256: string; storageId: string; frames: number }[]) => {
    const whole = (r: (typeof records)[0]) =>
      [...mockChunks.items.keys()].filter((key) => key.startsWith(`${r.storageId}/`)).length >=
      Math.ceil(r.frames / 65536)
    return Promise.resolve(new Set(records.filter((r) => !whole(r)).map((r) => r.sha256)))
  },
}))
beforeEach(() => [mockAudio, mockChunks, mockPeaks].forEach((db) => db.reset()))

const wave = (frames: number, step: number) =>
  Float32Array.from({ length: frames }, (_, n) => Math.sin(n * step) * ((n % 997) / 997))
const mono = [wave(150_000, 0.01)]
const stereo = [wave(70_000, 0.02), wave(70_000, 0.03)]

/** SHA-256 of the samples as interleaved little-endian floats, by Node's own. */
function shaOf(channels: readonly Float32Array[]): string {
  const bytes = Buffer.alloc(channels.length * channels[0]!.length * 4)
  channels.forEach((samples, c) =>
    samples.forEach((x, n) => bytes.writeFloatLE(x, (n * channels.length + c) * 4)),
  )
  return createHash('sha256').update(bytes).digest('hex')
}

/** Takes sound in, block by block. */
async function write(channels: readonly Float32Array[], blockFrames: number, sha256: string | null = null) {
  const writer = new AudioWriter(channels.length as 1 | 2, sha256)
  for (let at = 0; at < channels[0]!.length; at += blockFrames)
    await writer.add(channels.map((c) => c.subarray(at, at + blockFrames)))
  return writer.finish()
}

/** What a cache reads of a channel. */
async function read(cache: SoundCache, channel: number, frame: number, count: number): Promise<Float32Array> {
  const out = new Float32Array(count)
  await cache.using([{ sourceId: 's', from: frame, count }], () =>
    cache.read('s', channel, frame, count, out),
  )
  return out
}

async function cacheOf(sha256: string, limit?: number): Promise<SoundCache> {
  const cache = storeCache(limit)
  cache.setSources(await soundsOf({ s: { id: 's', sha256, channels: 2, frames: 1 } }))
  return cache
}

test.each([
  ['mono', mono, 4096],
  ['mono in one block', mono, 1e6],
  ['stereo', stereo, 10_000],
])(
  '%s sound is read back as it was written, from any frame, and goes by the hash of its samples',
  async (_name, channels, blockFrames) => {
    const record = await write(channels, blockFrames)
    expect(record).toMatchObject({
      sha256: shaOf(channels),
      channels: channels.length,
      frames: channels[0]!.length,
    })
    expect(mockChunks.items.size).toBe(Math.ceil(record.frames / CHUNK_FRAMES))
    const cache = await cacheOf(record.sha256)
    await fc.assert(
      fc.asyncProperty(
        fc.nat(record.frames - 1),
        fc.integer({ min: 1, max: 70_000 }),
        fc.nat(channels.length - 1),
        async (frame, most, channel) => {
          const count = Math.min(most, record.frames - frame)
          expect(
            Buffer.compare(
              Buffer.from((await read(cache, channel, frame, count)).buffer),
              Buffer.from(channels[channel]!.slice(frame, frame + count).buffer),
            ),
          ).toBe(0)
        },
      ),
      { numRuns: 20 },
    )
  },
)

test('its coarse picture holds the smallest and the largest sample of every stretch', async () => {
  const record = await write(mono, 8192)
  const [levels] = await readCoarsePeaks(record)
  for (const entry of [0, 63, 64, 146]) {
    const part = mono[0]!.subarray(entry * COARSE_FRAMES, (entry + 1) * COARSE_FRAMES)
    const extent = { min: 0, max: 0 }
    extentOf(levels![0]!, entry * COARSE_FRAMES, (entry + 1) * COARSE_FRAMES, extent)
    expect(extent).toEqual({ min: Math.min(...part), max: Math.max(...part) })
  }
})

test('the same sound is kept once', async () => {
  const first = await write(mono, 4096)
  const again = await write(mono, 9999)
  expect(again).toEqual(first)
  expect(mockChunks.items.size).toBe(3)
  await removeAudio(first)
  expect([mockAudio, mockChunks, mockPeaks].map((db) => db.items.size)).toEqual([0, 0, 0])
})

test('a hash that whoever reads the sound has checked is taken as it is', async () => {
  expect((await write(stereo, 4096, 'f'.repeat(64))).sha256).toBe('f'.repeat(64))
  expect((await findAudio('f'.repeat(64)))?.frames).toBe(70_000)
})

test.each([1, 2, 3])(
  'when writing chunk %p fails it is said, nothing can be found, and giving up leaves nothing behind',
  async (failsFrom) => {
    mockChunks.failsFrom = failsFrom
    const writer = new AudioWriter(1)
    const taken = (async () => {
      for (let at = 0; at < mono[0]!.length; at += 4096) await writer.add([mono[0]!.subarray(at, at + 4096)])
      await writer.finish()
    })()
    await expect(taken).rejects.toThrow('no space')
    await writer.abort()
    expect([mockAudio, mockChunks, mockPeaks].map((db) => db.items.size)).toEqual([0, 0, 0])
  },
)

test('a sound that is not in the store is silent, as long as its source says', async () => {
  const sounds = await soundsOf({ s: { id: 's', sha256: '0'.repeat(64), channels: 2, frames: 70_000 } })
  const cache = storeCache()
  cache.setSources(sounds)
  expect(await read(cache, 1, 69_000, 1000)).toEqual(new Float32Array(1000))
})

test('a sound that has lost a chunk is silent there, and is whole again when it is taken in anew', async () => {
  const record = await write(mono, 4096)
  mockChunks.items.delete(`${record.storageId}/1`)
  const cache = await cacheOf(record.sha256)
  const [before, gone] = [await read(cache, 0, 65_000, 536), await read(cache, 0, 65_536, 1000)]
  expect(before).toEqual(mono[0]!.subarray(65_000, 65_536))
  expect(gone).toEqual(new Float32Array(1000))
  const again = await write(mono, 4096)
  expect(again.storageId).not.toBe(record.storageId)
  expect(await read(await cacheOf(record.sha256), 0, 65_536, 1000)).toEqual(mono[0]!.subarray(65_536, 66_536))
})
