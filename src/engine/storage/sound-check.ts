import type { Session } from '../../core/model/session'
import { findAudio } from './audio-store'
import { findIncomplete } from './chunk-count'
import type { AudioRecord } from './storage'

/** Ids of the sources of a session whose sound is not in the store, or not whole. */
export async function findMissingSounds(session: Session): Promise<string[]> {
  const sources = Object.values(session.sources)
  const found = new Map<string, AudioRecord>()
  for (const sha256 of new Set(sources.map((s) => s.sha256))) {
    const record = await findAudio(sha256)
    if (record) found.set(sha256, record)
  }
  const incomplete = await findIncomplete([...found.values()])
  return sources.filter((s) => !found.has(s.sha256) || incomplete.has(s.sha256)).map((s) => s.id)
}
