import fs from 'node:fs/promises'
import { fileURLToPath } from 'node:url'
import type { Session, Source } from '../src/core/model/session'
import type { SourceReader } from '../src/core/render'
import { bytesOf, type ByteSource } from '../src/formats/bytes'
import { readPackage, readSourceHeader } from '../src/formats/package'
import { readFrames } from '../src/formats/wav-read'
import { tideMillPackage } from './tide-mill'

/** The sample session with its sound. */
export interface Sample {
  session: Session
  sounds: Map<string, Float32Array[]>
  reader: SourceReader
}

/** The sound of a source, without its hash: the tests of packages see to that. */
async function decoded(source: Source, file: ByteSource): Promise<Float32Array[]> {
  return readFrames(file, await readSourceHeader(source, file), 0, source.frames)
}

/** The sample session as the build has packed it, or made anew where it has not. */
export async function openSample(): Promise<Sample> {
  const built = await fs
    .readFile(fileURLToPath(new URL('../public/sample/tide-mill.oaken.zip', import.meta.url)))
    .catch(() => null)
  const { session, audio } = await readPackage(
    bytesOf(built ? new Uint8Array(built) : await tideMillPackage()),
  )
  const sounds = new Map<string, Float32Array[]>()
  for (const source of Object.values(session.sources))
    sounds.set(source.id, await decoded(source, (await audio(source.sha256))!))
  return {
    session,
    sounds,
    reader: {
      read: (id, c, frame, count, out) => void out.set(sounds.get(id)![c]!.subarray(frame, frame + count)),
    },
  }
}
