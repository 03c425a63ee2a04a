import { createRequire } from 'node:module'
import { framesBy, type FlacLibrary } from '../src/formats/flac-library'
import type { FlacInfo } from '../src/formats/flac-write'
import type { FlacFrames } from '../src/formats/sound-write'

let made: Promise<(info: FlacInfo) => FlacFrames> | null = null

/** Loads the encoder of FLAC, where one is needed. */
export function flacLibrary(): Promise<(info: FlacInfo) => FlacFrames> {
  made ??= load()
  return made
}

function load(): Promise<(info: FlacInfo) => FlacFrames> {
  const { fetch } = globalThis
  // It fetches its WebAssembly where there is `fetch`, and that takes no paths; without, it reads the file.
  Object.assign(globalThis, { fetch: undefined })
  try {
    const library = createRequire(import.meta.url)('libflacjs/dist/libflac.min.wasm.js') as FlacLibrary
    return framesBy(library)
  } finally {
    Object.assign(globalThis, { fetch })
  }
}
