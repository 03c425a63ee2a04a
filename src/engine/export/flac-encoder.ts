import flacWasm from 'libflacjs/dist/libflac.min.wasm.wasm?url'
import { framesBy, type FlacLibrary } from '../../formats/flac-library'
import type { FlacInfo } from '../../formats/flac-write'
import type { FlacFrames } from '../../formats/sound-write'

/** Loads the encoder; it is some 240 kB, and only fetched where FLAC is written. */
export async function flacLibrary(): Promise<(info: FlacInfo) => FlacFrames> {
  Object.assign(globalThis, { FLAC_SCRIPT_LOCATION: { 'libflac.min.wasm.wasm': flacWasm } })
  const module = (await import('libflacjs/dist/libflac.min.wasm.js')) as unknown as { default: FlacLibrary }
  return framesBy(module.default)
}
