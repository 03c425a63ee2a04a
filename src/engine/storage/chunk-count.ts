import { CHUNK_FRAMES } from '../../core/render'
import { countKeys } from './database'
import { CHUNKS_NAME, withStorageErrors, type AudioRecord } from './storage'

/** How many chunks a sound has when it is whole. */
const chunksOf = ({ frames }: AudioRecord) => Math.ceil(frames / CHUNK_FRAMES)

/** Which of some sounds have lost chunks, by their hashes. */
export const findIncomplete = (records: readonly AudioRecord[]): Promise<Set<string>> =>
  withStorageErrors(async () => {
    const counts = await Promise.all(records.map((r) => countKeys(CHUNKS_NAME, `${r.storageId}/`)))
    return new Set(records.filter((r, i) => counts[i]! < chunksOf(r)).map((r) => r.sha256))
  })
