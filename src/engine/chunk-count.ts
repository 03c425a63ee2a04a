import { CHUNK_FRAMES } from '../core/render'
import { chunksDb, EPOCH_KEY, withStorageErrors, type AudioRecord } from './storage'

/** The object store in which localForage keeps a database's records. */
const RECORDS = 'keyvaluepairs'

/** How many chunks a sound has when it is whole. */
const chunksOf = ({ frames }: AudioRecord) => Math.ceil(frames / CHUNK_FRAMES)

/** Opens the database of chunks beside localForage, which cannot count without reading every key. */
async function openChunks(): Promise<IDBDatabase> {
  // It is localForage that makes the database.
  await chunksDb.getItem(EPOCH_KEY)
  return new Promise((resolve, reject) => {
    const request = indexedDB.open('oaken-thread-chunks')
    request.onsuccess = () => resolve(request.result)
    request.onerror = () => reject(request.error!)
  })
}

const counted = (chunks: IDBObjectStore, storageId: string) =>
  new Promise<number>((resolve, reject) => {
    // "0" follows "/": the range holds every key of this sound and no other.
    const request = chunks.count(IDBKeyRange.bound(`${storageId}/`, `${storageId}0`, false, true))
    request.onsuccess = () => resolve(request.result)
    request.onerror = () => reject(request.error!)
  })

/** Which of some sounds have lost chunks, by their hashes. */
export async function findIncomplete(records: readonly AudioRecord[]): Promise<Set<string>> {
  if (records.length === 0) return new Set()
  return withStorageErrors(async () => {
    const database = await openChunks()
    try {
      if (!database.objectStoreNames.contains(RECORDS)) return new Set(records.map((r) => r.sha256))
      const chunks = database.transaction(RECORDS).objectStore(RECORDS)
      const counts = await Promise.all(records.map((r) => counted(chunks, r.storageId)))
      return new Set(records.filter((r, i) => counts[i]! < chunksOf(r)).map((r) => r.sha256))
    } finally {
      database.close()
    }
  })
}
