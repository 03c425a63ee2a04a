import { proxy, wrap, transfer, type Remote } from 'comlink'
import { LIMITS, type Session } from '../core/model/session'
import { FileError } from '../formats/failure'
import { checkFile, looksLikeWav, type DecodedSound, type ImportedSound } from './import'
import type { ImportWorker } from './import.worker'
import { Cancelled, type OnProgress } from './jobs'
import { together } from './storage'

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

function start(): { worker: Worker; remote: Remote<ImportWorker> } {
  const worker = new Worker(new URL('./import.worker.ts', import.meta.url), { type: 'module' })
  return { worker, remote: wrap<ImportWorker>(worker) }
}

/** The sample rate that a compressed file says it has, where its head is simple to read (FLAC, Ogg Opus and Vorbis, MP3). */
export function statedRate(head: Uint8Array): number | null {
  const v = new DataView(head.buffer, head.byteOffset, head.byteLength)
  const text = (at: number, length: number) => String.fromCharCode(...head.subarray(at, at + length))
  if (text(0, 4) === 'fLaC' && head.length > 21)
    return (v.getUint8(18) << 12) | (v.getUint8(19) << 4) | (v.getUint8(20) >> 4)
  if (text(0, 4) === 'OggS') {
    const packet = 27 + head[26]!
    if (text(packet, 8) === 'OpusHead') return 48000
    if (text(packet + 1, 6) === 'vorbis') return v.getUint32(packet + 12, true)
  }
  let at = 0
  if (text(0, 3) === 'ID3') at = 10 + ((head[6]! << 21) | (head[7]! << 14) | (head[8]! << 7) | head[9]!)
  if (at + 4 <= head.length && head[at] === 0xff && (head[at + 1]! & 0xe0) === 0xe0) {
    const version = (head[at + 1]! >> 3) & 3
    const base = [44100, 48000, 32000][(head[at + 2]! >> 2) & 3]
    if (base && version !== 1) return version === 3 ? base : version === 2 ? base / 2 : base / 4
  }
  return null
}

/** Largest compressed file that is decoded: the browser holds all of its samples at once. */
const MAX_COMPRESSED = 300e6

async function decode(file: File, sampleRate: number): Promise<DecodedSound> {
  if (file.size > MAX_COMPRESSED)
    throw new FileError(
      `is a compressed file of ${Math.round(file.size / 1e6)} MB; up to 300 MB are decoded at once, so save it as WAV and import that.`,
    )
  const stated = statedRate(new Uint8Array(await file.slice(0, 65536).arrayBuffer()))
  const rate =
    stated && stated >= LIMITS.sampleRate.min && stated <= LIMITS.sampleRate.max ? stated : sampleRate
  try {
    const decoded = await new OfflineAudioContext(1, 1, rate).decodeAudioData(await file.arrayBuffer())
    return {
      channels: Array.from({ length: decoded.numberOfChannels }, (_, c) => decoded.getChannelData(c).slice()),
      sampleRate: decoded.sampleRate,
      format: (file.name.split('.').pop() ?? 'compressed').slice(0, 12),
    }
  } catch {
    throw new FileError(
      /\.(wav|wave|bwf)$/i.test(file.name)
        ? 'is not a WAV file: it does not begin with RIFF and WAVE.'
        : 'is no sound that this browser can decode. Save it as WAV and import that.',
    )
  }
}

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
 * Takes files in one after another at the session's rate. A file that cannot be used is refused with a sentence, and the others go
 * on. Rejects with `Cancelled` when the signal stops it.
 */
export function importFiles(
  files: readonly File[],
  sampleRate: number,
  onProgress: OnProgress,
  signal: AbortSignal,
): Promise<ImportOutcome> {
  return together(() => takeInAll(files, sampleRate, onProgress, signal))
}

async function takeInAll(
  files: readonly File[],
  sampleRate: number,
  onProgress: OnProgress,
  signal: AbortSignal,
): Promise<ImportOutcome> {
  const { worker, remote } = start()
  const stop = () => void remote.cancel()
  signal.addEventListener('abort', stop)
  const outcome: ImportOutcome = { sounds: [], refused: [] }
  try {
    for (const [n, file] of files.entries()) {
      throwIfStopped(signal)
      const report = proxy<OnProgress>((p) =>
        onProgress({ done: (n + p.done) / files.length, doing: p.doing }),
      )
      onProgress({ done: n / files.length, doing: `Reading “${short(file.name)}”` })
      try {
        checkFile(file)
        if (await looksLikeWav(file)) outcome.sounds.push(await remote.wav(file, sampleRate, report))
        else {
          const sound = await decode(file, sampleRate)
          throwIfStopped(signal)
          outcome.sounds.push(
            await remote.decoded(
              file.name,
              transfer(
                sound,
                sound.channels.map((c) => c.buffer),
              ),
              sampleRate,
              report,
            ),
          )
        }
      } catch (error) {
        throwIfStopped(signal)
        outcome.refused.push({ name: short(file.name), message: sentence(error) })
      }
    }
    return outcome
  } finally {
    signal.removeEventListener('abort', stop)
    worker.terminate()
  }
}

/** Takes a package into the store and returns its session. */
export async function importPackageFile(
  file: Blob,
  onProgress: OnProgress,
  signal: AbortSignal,
): Promise<Session> {
  const { worker, remote } = start()
  const stop = () => void remote.cancel()
  signal.addEventListener('abort', stop)
  try {
    return await together(() => remote.package(file, proxy(onProgress)))
  } finally {
    signal.removeEventListener('abort', stop)
    worker.terminate()
  }
}
