import { proxy, transfer, type Remote } from 'comlink'
import { blobBytes } from '../../formats/bytes'
import { shownText } from '../../core/model/check/shown'
import { changedFile } from '../../formats/failure'
import type { ImportedSound, PackageContents } from './import-sound'
import type { ImportWorker } from './import.worker'
import { Cancelled, type OnProgress } from '../worker'
import { withSharedLock } from '../storage'
import { WorkerLost } from '../worker'
import { inWorker } from '../worker'
import { assertUsableFile } from './usable-file'

/** A file that could not be taken in, and why, as one sentence. */
export interface Refused {
  name: string
  message: string
  /** The file itself, where it can be taken all the same: only its checksum is wrong. */
  file?: File
}

/** What became of the files of one drop. */
export interface ImportOutcome {
  sounds: ImportedSound[]
  refused: Refused[]
}

/** A name as messages show it. */
const short = (name: string) => shownText(name, 60)

const startWorker = () => new Worker(new URL('./import.worker.ts', import.meta.url), { type: 'module' })

function sentence(error: unknown): string {
  const changed = changedFile(error)
  if (changed !== null) return changed
  const message = error instanceof Error ? error.message : String(error)
  return message.endsWith('.') ? message : `could not be read: ${message}.`
}

/** A signal to stop, as the page gives it. */
const throwIfStopped = (signal: AbortSignal) => {
  if (signal.aborted) throw new Cancelled()
}

/** What can be told of a file before it is imported; nulls for what only decoding would tell. */
export interface FileFacts {
  name: string
  sampleRate: number | null
  format: string | null
  /** Its place on a timeline, in seconds since midnight. */
  stampSeconds: number | null
}

/** Reads the heads of files; of those that cannot be read nothing is told here, and the import refuses them. */
export async function factsOf(files: readonly File[]): Promise<FileFacts[]> {
  // Where that cannot be loaded nothing is told; the import says so.
  const formats = await import('../../formats/sound-file').catch(() => null)
  return Promise.all(
    files.map(async (file): Promise<FileFacts> => {
      const nothing = { name: file.name, sampleRate: null, format: null, stampSeconds: null }
      const head = await formats?.openSoundHead(blobBytes(file)).catch(() => null)
      if (!head) return nothing
      const { sampleRate, format, timeReference } = head
      const stampSeconds = timeReference === null ? null : timeReference / sampleRate
      return { name: file.name, sampleRate, format, stampSeconds }
    }),
  )
}

/** The rates that a new session can have. */
export const SESSION_RATES = [44100, 48000, 88200, 96000, 176400, 192000] as const

/** The rate that is proposed for a session of some files: that of the first which says one. */
export const proposedRate = (facts: readonly FileFacts[]): number =>
  facts.find((f) => SESSION_RATES.some((rate) => rate === f.sampleRate))?.sampleRate ?? 48000

/**
 * Takes files in one after another at the session's rate. A file that cannot be used is refused with a
 * sentence, and the others go on. `onSound` is called with each as soon as it is stored. With `takesWrongSum` files whose
 * checksum is wrong are taken. Rejects with `Cancelled` when the signal stops it.
 */
export function importFiles(
  files: readonly File[],
  sampleRate: number,
  onProgress: OnProgress,
  signal: AbortSignal,
  onSound: (sound: ImportedSound) => void | Promise<void> = () => undefined,
  takesWrongSum = false,
): Promise<ImportOutcome> {
  return withSharedLock(() =>
    inWorker<ImportWorker, ImportOutcome>(
      startWorker,
      (worker, report) => importAll(worker, files, { sampleRate, takesWrongSum }, report, signal, onSound),
      onProgress,
      signal,
    ),
  )
}

interface HowToRead {
  sampleRate: number
  takesWrongSum: boolean
}

async function importAll(
  worker: Remote<ImportWorker>,
  files: readonly File[],
  how: HowToRead,
  onProgress: OnProgress,
  signal: AbortSignal,
  onSound: (sound: ImportedSound) => void | Promise<void>,
): Promise<ImportOutcome> {
  const outcome: ImportOutcome = { sounds: [], refused: [] }
  for (const [n, file] of files.entries()) {
    throwIfStopped(signal)
    const report = proxy<OnProgress>((p) => onProgress({ done: (n + p.done) / files.length, doing: p.doing }))
    onProgress({ done: n / files.length, doing: `Reading “${short(file.name)}”` })
    let sound: ImportedSound
    try {
      assertUsableFile(file)
      sound = await importOne(worker, file, how, report, signal)
    } catch (error) {
      throwIfStopped(signal)
      // It is not the file's fault.
      if (error instanceof WorkerLost) throw error
      const mayBeTaken = (error as Error).name === 'WrongChecksum'
      outcome.refused.push({
        name: short(file.name),
        message: sentence(error),
        ...(mayBeTaken ? { file } : {}),
      })
      continue
    }
    outcome.sounds.push(sound)
    await onSound(sound)
  }
  return outcome
}

/** Most files are read in the worker; some compressed ones are decoded by the browser, which only the page can ask. */
async function importOne(
  worker: Remote<ImportWorker>,
  file: File,
  { sampleRate, takesWrongSum }: HowToRead,
  report: OnProgress,
  signal: AbortSignal,
): Promise<ImportedSound> {
  const read = await worker.file(file, sampleRate, takesWrongSum, report)
  if (read) return read
  throwIfStopped(signal)
  const { decodeCompressed } = await import('./decode')
  const sound = await decodeCompressed(file, sampleRate)
  throwIfStopped(signal)
  const buffers = sound.channels.map((c) => c.buffer)
  return worker.decoded(file.name, transfer(sound, buffers), sampleRate, report)
}

/** Takes the sound of a package into the store and returns its session, and what it lacks. */
export const importPackageFile = (
  file: Blob,
  onProgress: OnProgress,
  signal: AbortSignal,
): Promise<PackageContents> =>
  withSharedLock(() =>
    inWorker<ImportWorker, PackageContents>(
      startWorker,
      (worker, report) => worker.package(file, report),
      onProgress,
      signal,
    ),
  )
