import { expose } from 'comlink'
import { importDecoded, importPackage, importWav, type DecodedSound } from './import-sound'
import type { OnProgress } from './jobs'

let stop = false
const cancelled = () => stop

/** What the import worker does for the page; one job at a time. */
const worker = {
  cancel(): void {
    stop = true
  },
  wav(file: File, sampleRate: number, onProgress: OnProgress) {
    stop = false
    return importWav(file, sampleRate, onProgress, cancelled)
  },
  decoded(name: string, sound: DecodedSound, sampleRate: number, onProgress: OnProgress) {
    stop = false
    return importDecoded(name, sound, sampleRate, onProgress, cancelled)
  },
  package(file: Blob, onProgress: OnProgress) {
    stop = false
    return importPackage(file, onProgress, cancelled)
  },
}

export type ImportWorker = typeof worker
expose(worker)
