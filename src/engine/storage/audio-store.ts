import { baseLevel, coarser, levelsAbove, type PyramidLevel } from '../../core/measure/pyramid'
import type { Source } from '../../core/model/session'
import { CHUNK_FRAMES, ChunkCache, type ChunkedSound } from '../../core/render'
import { SamplesHash } from '../../formats/samples-hash'
import { findIncomplete } from './chunk-count'
import { audioDb, chunksDb, peaksDb, withStorageErrors, type AudioRecord } from './storage'

export { CHUNK_FRAMES }

/** Frames per entry from which on the levels of a picture are kept for the whole source. */
export const COARSE_FRAMES = 1024

const chunkKey = (storageId: string, index: number) => `${storageId}/${index}`
const coarseKey = (storageId: string) => `${storageId}/coarse`

/** The coarse levels of a source's picture, for each channel. */
export type CoarsePeaks = PyramidLevel[][]

const silentChunk = ({ channels, frames }: { channels: number; frames: number }, index: number) =>
  Array.from(
    { length: channels },
    () => new Float32Array(Math.min(CHUNK_FRAMES, frames - index * CHUNK_FRAMES)),
  )

/**
 * Reads one chunk of a sound, as one array per channel. A chunk that is gone is silent: whether a sound is
 * whole is found out and said when its session is opened (see sound-check.ts).
 */
export async function readChunk(record: AudioRecord, index: number): Promise<Float32Array[]> {
  const buffer = await withStorageErrors(() =>
    chunksDb.getItem<ArrayBuffer>(chunkKey(record.storageId, index)),
  )
  if (!buffer) return silentChunk(record, index)
  const frames = buffer.byteLength / 4 / record.channels
  return Array.from({ length: record.channels }, (_, c) => new Float32Array(buffer, c * frames * 4, frames))
}

/** The picture of one chunk at 64 frames an entry, for each channel. */
export async function readFinePeaks(record: AudioRecord, index: number): Promise<PyramidLevel[]> {
  const channels = await readChunk(record, index)
  return channels.map(baseLevel)
}

/** The picture of a whole source from `COARSE_FRAMES` frames an entry up. */
export async function readCoarsePeaks(record: AudioRecord): Promise<CoarsePeaks> {
  return (await withStorageErrors(() => peaksDb.getItem<CoarsePeaks>(coarseKey(record.storageId)))) ?? []
}

/** The record of a sound, null when it is not in the store. */
export const findAudio = (sha256: string) => withStorageErrors(() => audioDb.getItem<AudioRecord>(sha256))

async function removeChunks(storageId: string, count: number): Promise<void> {
  for (let i = 0; i < count; i++) await chunksDb.removeItem(chunkKey(storageId, i))
  await peaksDb.removeItem(coarseKey(storageId))
}

/** Removes a sound and its picture. */
export async function removeAudio(record: AudioRecord): Promise<void> {
  await audioDb.removeItem(record.sha256)
  await removeChunks(record.storageId, Math.ceil(record.frames / CHUNK_FRAMES))
}

/**
 * Writes sound into the store block by block. It cannot be found before `finish`; `abort` removes what was
 * written. Identical sound is stored once, whatever file it came from.
 */
export class AudioWriter {
  private readonly storageId = crypto.randomUUID()
  private readonly hash: Promise<SamplesHash> | null
  private readonly pending: Float32Array[]
  private held = 0
  private chunks = 0
  private frames = 0
  private readonly coarse: { min: number[]; max: number[]; meanSquare: number[] }[]
  /** The pending write of the last chunk, which overlaps with filling the next one. */
  private writing: Promise<unknown> = Promise.resolve()

  /** `sha256` is the hash of the samples, where whoever reads them checks that; else it is made here. */
  constructor(
    private readonly channels: 1 | 2,
    private readonly sha256: string | null = null,
  ) {
    this.hash = sha256 === null ? SamplesHash.begin() : null
    this.pending = Array.from({ length: channels }, () => new Float32Array(CHUNK_FRAMES))
    this.coarse = Array.from({ length: channels }, () => ({ min: [], max: [], meanSquare: [] }))
  }

  async add(block: readonly Float32Array[]): Promise<void> {
    const hash = await this.hash
    hash?.add(block)
    const length = block[0]!.length
    for (let done = 0; done < length;) {
      const take = Math.min(length - done, CHUNK_FRAMES - this.held)
      for (let c = 0; c < this.channels; c++)
        this.pending[c]!.set(block[c]!.subarray(done, done + take), this.held)
      this.held += take
      done += take
      if (this.held === CHUNK_FRAMES) await this.flush()
    }
    this.frames += length
  }

  async finish(): Promise<AudioRecord> {
    if (this.held) await this.flush()
    await this.writing
    const record: AudioRecord = {
      sha256: this.sha256 ?? (await this.hash!).hex(),
      storageId: this.storageId,
      channels: this.channels,
      frames: this.frames,
      createdAt: Date.now(),
    }
    const known = await findAudio(record.sha256)
    if (known && (await findIncomplete([known])).size === 0) {
      await this.abort()
      return known
    }
    const levels = this.coarse.map((c) =>
      levelsAbove({
        framesPerEntry: COARSE_FRAMES,
        min: Float32Array.from(c.min),
        max: Float32Array.from(c.max),
        meanSquare: Float32Array.from(c.meanSquare),
      }),
    )
    await withStorageErrors(() => peaksDb.setItem(coarseKey(this.storageId), levels))
    await withStorageErrors(() => audioDb.setItem(record.sha256, record))
    return record
  }

  async abort(): Promise<void> {
    await this.writing.catch(() => undefined)
    await removeChunks(this.storageId, this.chunks).catch(() => undefined)
  }

  private async flush(): Promise<void> {
    const buffer = new ArrayBuffer(this.held * this.channels * 4)
    for (let c = 0; c < this.channels; c++) {
      const samples = this.pending[c]!.subarray(0, this.held)
      new Float32Array(buffer, c * this.held * 4, this.held).set(samples)
      const level = coarser(coarser(baseLevel(samples)))
      for (const part of ['min', 'max', 'meanSquare'] as const) this.coarse[c]![part].push(...level[part])
    }
    const index = this.chunks++
    this.held = 0
    await this.writing
    this.writing = withStorageErrors(() => chunksDb.setItem(chunkKey(this.storageId, index), buffer))
    // What goes wrong is met by whoever waits for it next.
    this.writing.catch(() => undefined)
  }
}

/** A sound of the store as the cache of chunks knows it; one that is missing has no record and is silent. */
export interface StoredSound extends ChunkedSound {
  readonly record: AudioRecord | null
}

/**
 * Gives memory back at once. Left to itself it would stay until the engine looks for what nobody needs any more, which for
 * sound comes late: dozens of megabytes more would be held.
 */
function releaseMemory(samples: readonly Float32Array[]): void {
  for (const { buffer } of samples)
    if (buffer.byteLength > 0) structuredClone(null, { transfer: [buffer as ArrayBuffer] })
}

/** A cache of the store's chunks for a renderer, of at most `limitBytes` (see `ChunkCache`). */
export const storeCache = (limitBytes?: number): SoundCache =>
  new ChunkCache<StoredSound>(
    async (sound, index) => (sound.record ? readChunk(sound.record, index) : silentChunk(sound, index)),
    limitBytes,
    releaseMemory,
  )

export type SoundCache = ChunkCache<StoredSound>

/** The sounds of all sources of a session, by source id; those that are missing in the store are silent. */
export async function soundsOf(
  sources: Readonly<Record<string, Pick<Source, 'id' | 'sha256' | 'channels' | 'frames'>>>,
): Promise<Map<string, StoredSound>> {
  const sounds = new Map<string, StoredSound>()
  await Promise.all(
    Object.values(sources).map(async ({ id, sha256, channels, frames }) => {
      const record = await findAudio(sha256)
      sounds.set(id, { key: record?.storageId ?? `silence/${sha256}`, channels, frames, record })
    }),
  )
  return sounds
}
