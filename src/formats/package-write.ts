import { configure, ZipWriter } from '@zip.js/zip.js/index-native.js'
import type { Session, Source } from '../core/model/session'
import { ExactFormat, sessionBytes } from './package'
import { packagedSources } from './packaged-sources'
import { WavEncoder, wavHeader } from './wav-write'

// Everything runs in the worker that packs: no workers of the library's own, which the content policy would
// refuse.
configure({ useWebWorkers: false })

/** One fixed date, so that the same session gives the same bytes. */
const DATE = new Date(2000, 0, 2)

/** Where a package takes its sound from: a source's samples in order, in blocks of any size, one array per channel. */
export type SoundBlocks = (source: Source) => AsyncIterable<readonly Float32Array[]>

export interface PackageOptions {
  /** Receives the package piece by piece. */
  write(bytes: Uint8Array): void | Promise<void>
  sound: SoundBlocks
  /** The sources whose sound goes into the package: all of them unless it is given. */
  sources?: readonly Source[]
  /** Called with the frames written so far, of all that are to be written, and the source that is being written. */
  onProgress?(done: number, total: number, source: Source): void
  /** Called between blocks; throws to stop. */
  check?(): void | Promise<void>
}

/** The bytes of a source as the smallest WAV that keeps every bit; its sound is read twice. */
async function* wavBytes(source: Source, { sound, check }: PackageOptions, told: (frames: number) => void) {
  const exact = new ExactFormat()
  for await (const block of sound(source)) {
    exact.add(block)
    await check?.()
    if (exact.format === 'wav32f') break
  }
  const info = { ...source, format: exact.format, seed: null }
  const encoder = new WavEncoder(info)
  yield wavHeader(info)
  for await (const block of sound(source)) {
    yield encoder.encode(block)
    told(block[0]!.length)
    await check?.()
  }
  const pad = encoder.finish()
  if (pad.length) yield pad
}

const streamOf = (bytes: AsyncGenerator<Uint8Array>): ReadableStream<Uint8Array> =>
  new ReadableStream({
    async pull(controller) {
      const { done, value } = await bytes.next()
      if (done) controller.close()
      else if (value.length) controller.enqueue(value)
    },
    async cancel() {
      await bytes.return(undefined)
    },
  })

/**
 * Writes a session with all its sound as a package (`.oaken`, a plain ZIP, with 64-bit sizes where they are
 * needed), piece by piece: memory does not grow with its length. Rejects with what `sound`, `write` or
 * `check` throw.
 */
export async function writePackageTo(session: Session, options: PackageOptions): Promise<void> {
  // Before anything is written.
  const text = sessionBytes(session)
  const zip = new ZipWriter(new WritableStream<Uint8Array>({ write: (bytes) => options.write(bytes) }), {
    lastModDate: DATE,
    extendedTimestamp: false,
    useUnicodeFileNames: true,
  })
  await zip.add('session.json', new Blob([text]).stream(), { level: 9 })
  const sources = options.sources ?? packagedSources(session)
  const total = sources.reduce((sum, s) => sum + s.frames, 0)
  let done = 0
  for (const source of sources) {
    const bytes = wavBytes(source, options, (frames) => options.onProgress?.((done += frames), total, source))
    await zip.add(`audio/${source.sha256}.wav`, streamOf(bytes), { level: 0 })
  }
  await zip.close()
}
