import type { Session, Source } from '../../core/model/session'
import { writePackageTo } from '../../formats/package-write'
import { packagedSources } from '../../formats/packaged-sources'
import { CHUNK_FRAMES, findAudio, readChunk } from '../storage'
import type { OnProgress } from '../worker'
import { openSpool } from './spool'
import { StorageError, storageFailure, type AudioRecord } from '../storage'
import { exposeJobs, seldomly } from '../worker'

/** Where the bytes of a copy go. */
interface Sink {
  write(bytes: Uint8Array<ArrayBuffer>): void | Promise<void>
  /** Ends the file; resolves to it where it still has to be handed over. */
  finish(): Promise<Blob | null>
  discard(): Promise<void>
}

/** A file that the person chose. What was there stays until the copy is whole. */
async function chosenFile(handle: FileSystemFileHandle): Promise<Sink> {
  const file = await handle.createWritable()
  return {
    write: (bytes) => file.write(bytes),
    async finish() {
      await file.close()
      return null
    },
    discard: () => file.abort().catch(() => undefined),
  }
}

/** A file of the browser's own, for a download. */
async function spooled(name: string): Promise<Sink> {
  const spool = await openSpool(name)
  return {
    write: (bytes) => spool.write(bytes),
    finish: () => spool.finish('application/zip'),
    discard: () => spool.discard(),
  }
}

/** Where the sound of every source is. Throws a `StorageError` that names what is missing. */
async function recordsOf(sources: readonly Source[]): Promise<Map<string, AudioRecord>> {
  const records = new Map<string, AudioRecord>()
  for (const { sha256, name } of sources) {
    const record = await findAudio(sha256)
    if (!record)
      throw new StorageError(
        'denied',
        `The sound of “${name}” is no longer in this browser, so no copy can be made of the session. ` +
          'Its other sounds and all of its steps are still here.',
      )
    records.set(sha256, record)
  }
  return records
}

export const worker = exposeJobs(({ breathe }) => ({
  async save(
    session: Session,
    missing: readonly string[],
    target: { handle: FileSystemFileHandle } | { spoolName: string },
    onProgress: OnProgress,
  ): Promise<Blob | null> {
    const report = seldomly(onProgress)
    const silent = new Set(missing.map((id) => session.sources[id]!.sha256))
    const sources = packagedSources(session).filter((s) => !silent.has(s.sha256))
    const records = await recordsOf(sources)
    const sink = await ('handle' in target ? chosenFile(target.handle) : spooled(target.spoolName))
    try {
      await writePackageTo(session, {
        sources,
        write: (bytes) => sink.write(bytes as Uint8Array<ArrayBuffer>),
        async *sound({ sha256, frames }) {
          const record = records.get(sha256)!
          for (let i = 0; i * CHUNK_FRAMES < frames; i++) yield readChunk(record, i)
        },
        onProgress: (done, total, { name }) =>
          report({ done: done / Math.max(1, total), doing: `Saving “${name}”` }),
        check: breathe,
      })
      return await sink.finish()
    } catch (error) {
      await sink.discard()
      throw storageFailure(error)
    }
  },
}))

export type SaveCopyWorker = typeof worker
