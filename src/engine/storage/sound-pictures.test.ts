import fc from 'fast-check'
import { baseLevel, coarser, levelsAbove } from '../../core/measure/pyramid'
import { CHUNK_FRAMES, COARSE_FRAMES } from './audio-store'
import { Pictures, type Columns } from './sound-pictures'

/** A sound of a chunk and a half, with a click in each. */
const FRAMES = CHUNK_FRAMES + 30_000
const mockSound = Float32Array.from({ length: FRAMES }, (_, n) =>
  n === 40_000 ? 1 : n === 80_000 ? -1 : 0.4 * Math.sin(n * 0.013) * Math.sin(n * 0.00021),
)
const mockHeld: { chunk: (() => void)[] } = { chunk: [] }
jest.mock('./audio-store', () => ({
  CHUNK_FRAMES: 65536,
  COARSE_FRAMES: 1024,
  findAudio: async (sha256: string) =>
    sha256 === 'here'
      ? { sha256, storageId: 'x', channels: 1, frames: mockSound.length, createdAt: 0 }
      : null,
  readCoarsePeaks: async () => [levelsAbove(coarser(coarser(baseLevel(mockSound))))],
  readChunk: (_record: unknown, index: number) =>
    new Promise((resolve) =>
      mockHeld.chunk.push(() => resolve([mockSound.slice(index * 65536, (index + 1) * 65536)])),
    ),
}))

const settled = () => new Promise((resolve) => setTimeout(resolve, 0))
const columnsOf = (count: number): Columns => ({ min: new Float32Array(count), max: new Float32Array(count) })

/** Smallest and largest frame from `from` up to `to`. */
function extent(from: number, to: number): [number, number] {
  const part = mockSound.subarray(Math.max(0, from), Math.max(0, to))
  return [part.reduce((m, x) => Math.min(m, x), Infinity), part.reduce((m, x) => Math.max(m, x), -Infinity)]
}

/** Pictures with the coarse levels here, and both chunks if wanted. */
async function ready(withChunks: boolean): Promise<Pictures> {
  mockHeld.chunk = []
  const pictures = new Pictures(() => undefined)
  pictures.ready('here')
  await settled()
  if (!withChunks) return pictures
  for (const at of [0, CHUNK_FRAMES]) pictures.samples('here', 0, at, new Float32Array(1))
  mockHeld.chunk.forEach((go) => go())
  await settled()
  return pictures
}

test('nothing is shown of a sound before its coarse picture is here; one that is missing has an empty one; what came is told', async () => {
  let told = 0
  const pictures = new Pictures(() => void told++)
  expect(pictures.columns('here', 0, 0, 2048, 4, columnsOf(4))).toBe(false)
  await settled()
  expect([told, pictures.columns('here', 0, 0, 2048, 4, columnsOf(4))]).toEqual([1, true])
  expect(pictures.ready('elsewhere')).toBe(false)
  await settled()
  expect([told, pictures.ready('elsewhere')]).toEqual([2, true])
  expect([pictures.meanSquare('elsewhere', 0, 100), pictures.peak('elsewhere', 0, 100)]).toEqual([0, 0])
})

test('every column reaches over all of its frames, and no further than an entry of its picture beside them', async () => {
  const pictures = await ready(true)
  fc.assert(
    fc.property(
      fc.double({ min: 1, max: 9000, noNaN: true }),
      fc.double({ min: 0, max: FRAMES, noNaN: true }),
      fc.integer({ min: 1, max: 20 }),
      (framesPerColumn, from, count) => {
        const columns = columnsOf(count)
        expect(pictures.columns('here', 0, from, framesPerColumn, count, columns)).toBe(true)
        for (let i = 0; i < count; i++) {
          const [a, b] = [from + i * framesPerColumn, from + (i + 1) * framesPerColumn]
          // One across the end of a chunk is read from the frames before it.
          if (b > FRAMES || Math.floor(a / CHUNK_FRAMES) !== Math.floor((b - 1e-9) / CHUNK_FRAMES)) continue
          const [min, max] = extent(Math.ceil(a), Math.ceil(b))
          // Entries are as long as a column at most; without them the next sample is taken along.
          const reach = framesPerColumn < 64 ? 1 : framesPerColumn
          const [lowest, highest] = extent(Math.floor(a - reach), Math.ceil(b + reach) + 1)
          expect([
            columns.min[i]! <= min,
            columns.max[i]! >= max,
            columns.min[i]! >= lowest,
            columns.max[i]! <= highest,
          ]).toEqual([true, true, true, true])
        }
      },
    ),
  )
})

test('close up, the coarse picture stands in until the chunk is here', async () => {
  const pictures = await ready(false)
  const columns = columnsOf(2)
  expect(pictures.columns('here', 0, 40_000, 100, 2, columns)).toBe(true)
  const entry = Math.floor(40_000 / COARSE_FRAMES) * COARSE_FRAMES
  expect([columns.min[0], columns.max[0]]).toEqual(extent(entry, entry + COARSE_FRAMES))
  mockHeld.chunk.forEach((go) => go())
  await settled()
  pictures.columns('here', 0, 40_100, 100, 1, columns)
  expect(columns.max[0]).toBeLessThan(0.5)
})

test('single samples are there to the bit; those of a chunk that is not here yet are none', async () => {
  const pictures = await ready(false)
  const out = new Float32Array(4)
  expect(pictures.samples('here', 0, CHUNK_FRAMES - 2, out)).toBe(true)
  expect([...out]).toEqual([NaN, NaN, NaN, NaN])
  mockHeld.chunk.forEach((go) => go())
  await settled()
  pictures.samples('here', 0, CHUNK_FRAMES - 2, out)
  expect([...out]).toEqual([...mockSound.subarray(CHUNK_FRAMES - 2, CHUNK_FRAMES + 2)])
})

test('peaks and mean squares of a stretch, from the coarse picture', async () => {
  const pictures = await ready(false)
  expect(pictures.peak('here', 39 * COARSE_FRAMES, 40 * COARSE_FRAMES)).toBe(1)
  const part = mockSound.subarray(8 * COARSE_FRAMES, 12 * COARSE_FRAMES)
  // Kept as 32-bit floats.
  expect(pictures.meanSquare('here', 8 * COARSE_FRAMES, 12 * COARSE_FRAMES)).toBeCloseTo(
    part.reduce((sum, x) => sum + x * x, 0) / part.length,
    7,
  )
  expect([pictures.peak('elsewhere', 0, 10), pictures.meanSquare('elsewhere', 0, 10)]).toEqual([null, 0])
})
