import { scratchDb, withStorageErrors } from './storage'

/*
 * Chromium keeps all databases of an address in one LevelDB, which appends every write to a log file. When the
 * disk is full, a record of that file stays torn, and later writes are appended after it: everything reads back
 * well until the browser starts again, finds the log damaged, and throws all databases away. A log file is given
 * up as soon as some megabytes were written: what it held is then in files of another kind, which are whole. So
 * after a write that failed nothing is safe before that much was written.
 */

/** A record that is stored in the log itself; larger ones are stored as files of their own. */
const RECORD_BYTES = 60 * 1024
/** The log is given up after 4 MB at most; this is three times as much. */
const RECORDS = 208
/** Records that are written at the same time. */
const AT_ONCE = 16

/** Makes the browser begin a new log file. Throws `StorageError` while there is no room for it. */
export const beginFreshLog = (): Promise<void> =>
  withStorageErrors(async () => {
    try {
      for (let n = 0; n < RECORDS; n += AT_ONCE)
        await Promise.all(
          Array.from({ length: AT_ONCE }, (_, i) =>
            scratchDb.setItem(String(n + i), new ArrayBuffer(RECORD_BYTES)),
          ),
        )
    } finally {
      await scratchDb.clear().catch(() => undefined)
    }
  })
