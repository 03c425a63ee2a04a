import { zipSync } from 'fflate'
import type { Session } from '../core/model/session'
import { sessionBytes } from './package'

/** A package as bytes, with any audio, fitting or not; the audio is stored uncompressed so that single files can be read without unpacking. */
export function writePackage(
  session: Session,
  audio: ReadonlyMap<string, Uint8Array>,
): Uint8Array<ArrayBuffer> {
  const files: Record<string, [Uint8Array, { level: 0 | 9; mtime: number }]> = {}
  // One fixed date, so that the same session gives the same bytes.
  const mtime = Date.UTC(2000, 0, 2)
  files['session.json'] = [sessionBytes(session), { level: 9, mtime }]
  for (const [hash, bytes] of audio) files[`audio/${hash}.wav`] = [bytes, { level: 0, mtime }]
  return zipSync(files) as Uint8Array<ArrayBuffer>
}
