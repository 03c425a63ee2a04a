import fs from 'node:fs/promises'
import { fileURLToPath } from 'node:url'
import type { Session } from '../src/core/model/session'
import type { SourceReader } from '../src/core/render'
import { bytesOf } from '../src/formats/bytes'
import { readPackage, sourceSamples } from '../src/formats/package'
import { tideMillPackage } from './tide-mill'

/** The sample session with its sound. */
export interface Sample {
  session: Session
  sounds: Map<string, Float32Array[]>
  reader: SourceReader
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
    sounds.set(source.id, await sourceSamples(source, await audio(source.sha256)))
  return {
    session,
    sounds,
    reader: {
      read: (id, c, frame, count, out) => void out.set(sounds.get(id)![c]!.subarray(frame, frame + count)),
    },
  }
}
