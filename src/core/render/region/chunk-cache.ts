import type { SourceSpan } from '../plan/spans'
import type { SourceReader } from './source-reader'

/** Frames of a chunk, the unit in which sound is kept and read. */
export const CHUNK_FRAMES = 65536

/** Sound that can be fetched chunk by chunk; equal keys are the same sound. */
export interface ChunkedSound {
  readonly key: string
  readonly channels: 1 | 2
  readonly frames: number
}

/** Fetches a chunk of a sound, one array a channel; the last chunk may be shorter. */
export type LoadChunk<Sound extends ChunkedSound> = (sound: Sound, index: number) => Promise<Float32Array[]>

interface Chunk {
  samples: Float32Array[]
  bytes: number
  /** The request that used it last. */
  usedBy: number
}

interface Shelf<Sound> {
  sound: Sound
  chunks: Map<number, Chunk>
  loading: Map<number, Promise<void>>
}

/** Chunks that are fetched ahead at the same time unless said otherwise, so that what is needed now never waits behind many others. */
export const MOST_AHEAD = 4

const DEFAULT_BYTES = 64 * 1024 ** 2

/**
 * A cache of chunks that the renderer reads from. `ensure` brings in what a render needs, `read` then copies
 * from it.
 *
 * It holds at most `limitBytes`, or what the last request names where that is more: a request is never
 * refused, and what it names stays until the next one. Beyond that the chunks used longest ago give way.
 */
export class ChunkCache<Sound extends ChunkedSound = ChunkedSound> implements SourceReader {
  private readonly shelves = new Map<string, Shelf<Sound>>()
  private readonly sources = new Map<string, Shelf<Sound>>()
  private request = 0
  private ahead = 0
  private held = 0
  /** Chunks that are fetched ahead at the same time. */
  mostAhead = MOST_AHEAD

  constructor(
    private readonly load: LoadChunk<Sound>,
    private readonly limitBytes = DEFAULT_BYTES,
    /** Is given the samples of chunks that are dropped, which nobody reads any more. */
    private readonly onDropped: (samples: readonly Float32Array[]) => void = () => undefined,
  ) {}

  /** Bytes of samples held now. */
  get bytes(): number {
    return this.held
  }

  /**
   * Tells which sound every source id stands for; what is held of other sounds is dropped. Ids that are not named keep the sound that they
   * had: a render of the plan before may still wait for it.
   */
  setSources(sounds: ReadonlyMap<string, Sound>): void {
    for (const [id, sound] of sounds) {
      const shelf = this.shelves.get(sound.key) ?? { sound, chunks: new Map(), loading: new Map() }
      this.shelves.set(sound.key, shelf)
      this.sources.set(id, shelf)
    }
    const used = new Set([...sounds.keys()].map((id) => this.sources.get(id)))
    const known = new Set(this.sources.values())
    for (const [key, shelf] of this.shelves) {
      if (used.has(shelf)) continue
      this.empty(shelf)
      if (!known.has(shelf)) this.shelves.delete(key)
    }
  }

  private shelfOf(sourceId: string): Shelf<Sound> {
    const shelf = this.sources.get(sourceId)
    if (!shelf) throw new Error(`The sound of source ${sourceId} is missing from the storage.`)
    return shelf
  }

  /**
   * Brings in all chunks that the spans touch: null when they are all here already, else a promise after
   * which it has to be asked again, since another request may come in between. `soon` is fetched ahead and
   * kept as well, without waiting for it. Throws for a source without sound; rejects when the sound cannot be
   * fetched.
   */
  ensure(spans: readonly SourceSpan[], soon: readonly SourceSpan[] = []): Promise<unknown> | null {
    const request = ++this.request
    const waits: Promise<void>[] = []
    for (const { sourceId, from, count } of spans) {
      if (count <= 0) continue
      const shelf = this.shelfOf(sourceId)
      const last = Math.floor((from + count - 1) / CHUNK_FRAMES)
      for (let index = Math.floor(from / CHUNK_FRAMES); index <= last; index++) {
        const known = shelf.chunks.get(index)
        if (known) known.usedBy = request
        else waits.push(this.fetch(shelf, index))
      }
    }
    if (waits.length) return Promise.all(waits)
    this.fetchAhead(soon, request)
    this.trim(request)
    return null
  }

  /**
   * Brings in what the spans touch and then calls `read`, which must read at once and not wait for anything itself. `soon` is
   * fetched ahead.
   */
  async using<T>(spans: readonly SourceSpan[], read: () => T, soon: readonly SourceSpan[] = []): Promise<T> {
    for (let wait = this.ensure(spans, soon); wait; wait = this.ensure(spans, soon)) await wait
    return read()
  }

  private fetch(shelf: Shelf<Sound>, index: number): Promise<void> {
    const known = shelf.loading.get(index)
    if (known) return known
    const wait = this.load(shelf.sound, index)
      .then((samples) => {
        // Its sound may have been dropped meanwhile.
        if (this.shelves.get(shelf.sound.key) !== shelf) return
        const bytes = samples.reduce((sum, channel) => sum + channel.byteLength, 0)
        shelf.chunks.set(index, { samples, bytes, usedBy: this.request })
        this.held += bytes
      })
      .finally(() => shelf.loading.delete(index))
    shelf.loading.set(index, wait)
    return wait
  }

  private fetchAhead(spans: readonly SourceSpan[], request: number): void {
    for (const { sourceId, from, count } of spans) {
      const shelf = this.sources.get(sourceId)
      if (!shelf || count <= 0) continue
      const last = Math.floor((from + count - 1) / CHUNK_FRAMES)
      for (let index = Math.floor(from / CHUNK_FRAMES); index <= last; index++) {
        const known = shelf.chunks.get(index)
        if (known) known.usedBy = request
        else if (this.ahead < this.mostAhead && !shelf.loading.has(index)) {
          this.ahead++
          // A failure is met by the request that needs the chunk; that one fetches it again.
          this.fetch(shelf, index)
            .catch(() => undefined)
            .finally(() => this.ahead--)
        }
      }
    }
  }

  private trim(request: number): void {
    if (this.held <= this.limitBytes) return
    const idle: { chunks: Map<number, Chunk>; index: number; usedBy: number }[] = []
    for (const { chunks } of this.shelves.values())
      for (const [index, { usedBy }] of chunks) if (usedBy < request) idle.push({ chunks, index, usedBy })
    idle.sort((a, b) => a.usedBy - b.usedBy)
    for (const { chunks, index } of idle) {
      if (this.held <= this.limitBytes) return
      this.drop(chunks, index)
    }
  }

  /** Gives back all that it holds; it is fetched again when it is needed. */
  letGo(): void {
    for (const shelf of this.shelves.values()) this.empty(shelf)
  }

  private empty({ chunks }: Shelf<Sound>): void {
    for (const index of [...chunks.keys()]) this.drop(chunks, index)
  }

  private drop(chunks: Map<number, Chunk>, index: number): void {
    const { samples, bytes } = chunks.get(index)!
    chunks.delete(index)
    this.held -= bytes
    this.onDropped(samples)
  }

  view(sourceId: string, channel: number, frame: number, count: number): Float32Array | null {
    const index = Math.floor(frame / CHUNK_FRAMES)
    const within = frame - index * CHUNK_FRAMES
    const chunk = within + count <= CHUNK_FRAMES ? this.shelfOf(sourceId).chunks.get(index) : undefined
    return chunk ? chunk.samples[channel]!.subarray(within, within + count) : null
  }

  read(sourceId: string, channel: number, frame: number, count: number, out: Float32Array): void {
    const shelf = this.shelfOf(sourceId)
    for (let done = 0; done < count;) {
      const index = Math.floor((frame + done) / CHUNK_FRAMES)
      const within = frame + done - index * CHUNK_FRAMES
      const take = Math.min(count - done, CHUNK_FRAMES - within)
      const chunk = shelf.chunks.get(index)
      if (!chunk) throw new RangeError(`chunk ${index} of source ${sourceId} is read and was not asked for`)
      out.set(chunk.samples[channel]!.subarray(within, within + take), done)
      done += take
    }
  }
}
