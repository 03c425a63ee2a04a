import { importDecoded, importFile, importPackage, type DecodedSound } from './import-sound'
import type { OnProgress } from '../worker'
import { exposeJobs, seldomly } from '../worker'

/** What the import worker does for the page. */
export const worker = exposeJobs(({ stopped }) => ({
  file: (file: File, sampleRate: number, takesWrongSum: boolean, onProgress: OnProgress) =>
    importFile(file, { sampleRate, takesWrongSum }, seldomly(onProgress), stopped),
  decoded: (name: string, sound: DecodedSound, sampleRate: number, onProgress: OnProgress) =>
    importDecoded(name, sound, sampleRate, seldomly(onProgress), stopped),
  package: (file: Blob, onProgress: OnProgress) => importPackage(file, seldomly(onProgress), stopped),
}))

export type ImportWorker = typeof worker
