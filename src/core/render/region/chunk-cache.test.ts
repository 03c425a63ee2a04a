import fc from 'fast-check'
import { CHUNK_FRAMES, ChunkCache, type ChunkedSound } from './chunk-cache'
import type { SourceSpan } from '../plan/spans'

/**
 * Mono sounds whose samples say their sound and chunk (sound · 10 + chunk), fetched after some turns of the
 * event loop.
 */
class Shop {
  fetched: string[] = []
  fails = new Set<string>()
  constructor(private readonly delay: () => Promise<unknown> = async () => undefined) {}
  readonly load = async (sound: ChunkedSound, index: number): Promise<Float32Array[]> => {
    this.fetched.push(`${sound.key}/${index}`)
    await this.delay()
    if (this.fails.has(sound.key)) throw new Error('the storage fails')
    const length = Math.min(CHUNK_FRAMES, sound.frames - index * CHUNK_FRAMES)
    return [new Float32Array(length).fill(Number(sound.key) * 10 + index)]
  }
}

const sounds = (count: number, frames = 4 * CHUNK_FRAMES) =>
  new Map(
    Array.from({ length: count }, (_, i) => [`s${i}`, { key: String(i), channels: 1 as const, frames }]),
  )

const CHUNK_BYTES = CHUNK_FRAMES * 4

function value(cache: ChunkCache, span: SourceSpan): number {
  const out = new Float32Array(span.count)
  cache.read(span.sourceId, 0, span.from, span.count, out)
  return out[0]!
}

test('what one request names is never dropped, however much more it is than the cache holds', async () => {
  const cache = new ChunkCache(new Shop().load, 10 * CHUNK_BYTES)
  cache.setSources(sounds(200))
  // Every span lies across the end of a chunk, so 400 chunks are needed at once.
  const spans = (from: number) => [...sounds(200).keys()].map((sourceId) => ({ sourceId, from, count: 1024 }))
  for (const from of [CHUNK_FRAMES - 500, 2 * CHUNK_FRAMES - 500, CHUNK_FRAMES - 500]) {
    const values = await cache.using(spans(from), () => spans(from).map((span) => value(cache, span)))
    expect(values).toEqual(values.map((_, i) => i * 10 + Math.floor(from / CHUNK_FRAMES)))
  }
  expect(cache.bytes).toBe(400 * CHUNK_BYTES)
  await cache.using(spans(0).slice(0, 3), () => undefined)
  expect(cache.bytes).toBe(10 * CHUNK_BYTES)
})

test('requests that come between each other all get what they need', async () => {
  const cache = new ChunkCache(
    new Shop(() => new Promise((resolve) => setTimeout(resolve, 1))).load,
    CHUNK_BYTES,
  )
  cache.setSources(sounds(6))
  await fc.assert(
    fc.asyncProperty(
      fc.array(fc.array(fc.tuple(fc.nat(5), fc.nat(3 * CHUNK_FRAMES)), { minLength: 1, maxLength: 5 }), {
        maxLength: 8,
      }),
      async (requests) => {
        await Promise.all(
          requests.map((list) => {
            const spans = list.map(([s, from]) => ({ sourceId: `s${s}`, from, count: 70_000 }))
            return cache.using(spans, () =>
              spans.forEach((span, i) =>
                expect(value(cache, span)).toBe(list[i]![0] * 10 + Math.floor(span.from / CHUNK_FRAMES)),
              ),
            )
          }),
        )
      },
    ),
    { numRuns: 30 },
  )
})

test('what is needed soon is fetched a few chunks at a time, and kept', async () => {
  const shop = new Shop(() => new Promise((resolve) => setTimeout(resolve, 1)))
  const cache = new ChunkCache(shop.load, 2 * CHUNK_BYTES)
  cache.setSources(sounds(20))
  const at = (from: number) => [...sounds(20).keys()].map((sourceId) => ({ sourceId, from, count: 10 }))
  await cache.using(at(0), () => undefined)
  shop.fetched = []
  expect(cache.ensure(at(0), at(CHUNK_FRAMES))).toBeNull()
  expect(shop.fetched).toHaveLength(4)
  while (shop.fetched.length < 20) {
    await new Promise((resolve) => setTimeout(resolve, 3))
    expect(cache.ensure(at(0), at(CHUNK_FRAMES))).toBeNull()
  }
  await new Promise((resolve) => setTimeout(resolve, 5))
  // Nothing is waited for any more, and nothing was fetched twice.
  expect(cache.ensure(at(CHUNK_FRAMES))).toBeNull()
  expect(new Set(shop.fetched).size).toBe(20)
})

test('a sound that cannot be fetched rejects, and is fetched again by the next who asks', async () => {
  const shop = new Shop()
  const cache = new ChunkCache(shop.load)
  cache.setSources(sounds(1))
  shop.fails.add('0')
  await expect(cache.using([{ sourceId: 's0', from: 0, count: 1 }], () => 1)).rejects.toThrow(
    'the storage fails',
  )
  shop.fails.clear()
  await expect(cache.using([{ sourceId: 's0', from: 0, count: 1 }], () => 1)).resolves.toBe(1)
  expect(() => cache.ensure([{ sourceId: 'nobody', from: 0, count: 1 }])).toThrow('missing from the storage')
  expect(() => cache.read('s0', 0, 2 * CHUNK_FRAMES, 1, new Float32Array(1))).toThrow(RangeError)
})

test('what is dropped is handed over once, and nothing that the last request named', async () => {
  const dropped: (readonly Float32Array[])[] = []
  const cache = new ChunkCache(new Shop().load, 2 * CHUNK_BYTES, (samples) => void dropped.push(samples))
  cache.setSources(sounds(4))
  const at = (sourceId: string) => ({ sourceId, from: 0, count: 1 })
  for (const id of ['s0', 's1', 's2']) await cache.using([at(id)], () => undefined)
  expect(dropped).toHaveLength(1)
  await cache.using(['s1', 's2', 's3'].map(at), () => undefined)
  expect(dropped).toHaveLength(1)
  cache.setSources(sounds(1))
  expect(new Set(dropped).size).toBe(4)
  expect(cache.bytes).toBe(0)
})

test('sounds that are no longer used are let go', async () => {
  const cache = new ChunkCache(new Shop().load)
  cache.setSources(sounds(3))
  await cache.using(
    [...sounds(3).keys()].map((sourceId) => ({ sourceId, from: 0, count: 1 })),
    () => undefined,
  )
  expect(cache.bytes).toBe(3 * CHUNK_BYTES)
  cache.setSources(sounds(1))
  expect(cache.bytes).toBe(CHUNK_BYTES)
})

test('a render that waits for a sound gets it, though the session that has it is no longer the current one', async () => {
  let arrive = () => undefined as void
  const shop = new Shop(() => new Promise<void>((resolve) => (arrive = resolve)))
  const cache = new ChunkCache(shop.load)
  cache.setSources(sounds(2))
  const span = { sourceId: 's1', from: 0, count: 1 }
  const waiting = cache.using([span], () => value(cache, span))
  cache.setSources(sounds(1))
  arrive()
  await expect(waiting).resolves.toBe(10)
  // It is held as long as there is room, and no longer than until the sources are set again.
  cache.setSources(sounds(1))
  expect(cache.bytes).toBe(0)
})

test('a cache that lets go gives all back, and fetches anew what is asked for then', async () => {
  const [shop, dropped] = [new Shop(), [] as unknown[]]
  const cache = new ChunkCache(shop.load, undefined, (samples) => dropped.push(...samples))
  cache.setSources(sounds(3))
  const spans = [...sounds(3).keys()].map((sourceId) => ({ sourceId, from: CHUNK_FRAMES, count: 1 }))
  await cache.using(spans, () => undefined)
  cache.letGo()
  expect(cache.bytes).toBe(0)
  expect(dropped).toHaveLength(3)
  const values = await cache.using(spans, () => spans.map((span) => value(cache, span)))
  expect(values).toEqual([1, 11, 21])
  expect(shop.fetched).toHaveLength(6)
})
