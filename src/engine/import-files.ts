import { proxy, transfer, type Remote } from 'comlink'
import { decodeCompressed } from './decode'
import { checkFile, looksLikeWav, type ImportedSound, type PackageContents } from './import-sound'
import type { ImportWorker } from './import.worker'
import { Cancelled, type OnProgress } from './progress'
import { withSharedLock } from './storage'
import { inWorker } from './worker-job'

/** A file that could not be taken in, and why, as one sentence. */
export interface Refused {
  name: string
  message: string
}

/** What became of the files of one drop. */
export interface ImportOutcome {
  sounds: ImportedSound[]
  refused: Refused[]
}

const short = (name: string) => (name.length > 60 ? `${name.slice(0, 57)}…` : name)

const startWorker = () => new Worker(new URL('./import.worker.ts', import.meta.url), { type: 'module' })

function sentence(error: unknown): string {
  const message = error instanceof Error ? error.message : String(error)
  return message.endsWith('.') ? message : `could not be read: ${message}.`
}

/** A signal to stop, as the page gives it. */
const throwIfStopped = (signal: AbortSignal) => {
  if (signal.aborted) throw new Cancelled()
}

/** The rate of the first file that says one; what a new session made of these files runs at. */
export async function rateOf(files: readonly File[]): Promise<number> {
  for (const file of files) {
    const head = new Uint8Array(await file.slice(0, 64).arrayBuffer())
    if (!(await looksLikeWav(file)) || head.length < 28) continue
    const rate = new DataView(head.buffer).getUint32(24, true)
    if ([44100, 48000, 88200, 96000].includes(rate)) return rate
  }
  return 48000
}

/**
 * Takes files in one after another at the session's rate. A file that cannot be used is refused with a
 * sentence, and the others go on. Rejects with `Cancelled` when the signal stops it.
 */
export function importFiles(
  files: readonly File[],
  sampleRate: number,
  onProgress: OnProgress,
  signal: AbortSignal,
): Promise<ImportOutcome> {
  return withSharedLock(() =>
    inWorker<ImportWorker, ImportOutcome>(
      startWorker,
      (worker, report) => importAll(worker, files, sampleRate, report, signal),
      onProgress,
      signal,
    ),
  )
}

async function importAll(
  worker: Remote<ImportWorker>,
  files: readonly File[],
  sampleRate: number,
  onProgress: OnProgress,
  signal: AbortSignal,
): Promise<ImportOutcome> {
  const outcome: ImportOutcome = { sounds: [], refused: [] }
  for (const [n, file] of files.entries()) {
    throwIfStopped(signal)
    const report = proxy<OnProgress>((p) => onProgress({ done: (n + p.done) / files.length, doing: p.doing }))
    onProgress({ done: n / files.length, doing: `Reading “${short(file.name)}”` })
    try {
      checkFile(file)
      outcome.sounds.push(await importOne(worker, file, sampleRate, report, signal))
    } catch (error) {
      throwIfStopped(signal)
      outcome.refused.push({ name: short(file.name), message: sentence(error) })
    }
  }
  return outcome
}

/** WAV files are read in the worker; what is compressed is decoded by the browser, which only the page can ask. */
async function importOne(
  worker: Remote<ImportWorker>,
  file: File,
  sampleRate: number,
  report: OnProgress,
  signal: AbortSignal,
): Promise<ImportedSound> {
  if (await looksLikeWav(file)) return worker.wav(file, sampleRate, report)
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
